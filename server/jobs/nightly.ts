import { subDays } from "date-fns";
import { sql } from "kysely";
import { addDays, dayIn, type Firm } from "#core";
import { bottlesOf } from "../db/bottles";
import { asFirm, asGate, type Database, type FirmScope } from "../db/connection";
import { firmOf } from "../db/firms";
import { productsOf } from "../db/products";
import { trucksOf } from "../db/trucks";
import { callsAhead } from "../round/ahead";
import { roundOn } from "../round/day";

/** What is done in the night, for every firm in turn. Each may run twice with the same effect. */

/** What a firm is reminded of on a day. */
export interface Reminder {
  calls: number;
  tests: number;
  tasks: number;
  events: { basin: string; name: string; day: string }[];
  /** Reagents past their day, or at it within two weeks. */
  expiring: { reagent: string; day: string }[];
  /** Products at or under the point of ordering again. */
  reorder: string[];
}

const EXPIRES_WITHIN = 14;

/** How many firms a job was done for, and what went wrong in others. */
export interface Night {
  count: number;
  failed: unknown[];
}

/** Every firm in turn, each in a transaction of its own: one that goes wrong takes nothing from the others. */
async function eachFirm(db: Database, work: (scope: FirmScope, firm: Firm) => Promise<void>): Promise<Night> {
  const firms = await asGate(db, (scope) => scope.selectFrom("firm").select("id").execute());
  const night: Night = { count: 0, failed: [] };
  for (const { id } of firms)
    try {
      await asFirm(db, id, async (scope) => work(scope, await firmOf(scope)));
      night.count++;
    } catch (fault) {
      night.failed.push(fault);
    }
  return night;
}

/** The due list of the day in each firm's own time zone. */
export const dueLists = (db: Database, now: Date): Promise<Night> =>
  eachFirm(db, async (scope, firm) => {
    const day = dayIn(now, firm.timeZone);
    const content = JSON.stringify(await reminderOf(scope, firm, day, now));
    await scope
      .insertInto("reminder")
      .values({ firm_id: firm.id, day: sql<Date>`${day}::date`, content, made_at: now })
      .onConflict((conflict) => conflict.columns(["firm_id", "day"]).doUpdateSet({ content, made_at: now }))
      .execute();
  });

async function reminderOf(scope: FirmScope, firm: Firm, day: string, now: Date): Promise<Reminder> {
  const { calls } = await roundOn(scope, firm, day, now);
  const products = await productsOf(scope);
  const trucks = await trucksOf(scope);
  const loaded = (id: string) =>
    trucks
      .flatMap((truck) => truck.stock)
      .reduce((sum, one) => sum + (one.productId === id ? one.left : 0), 0);
  return {
    calls: calls.length,
    tests: calls.reduce((sum, call) => sum + call.due.filter((due) => due.due).length, 0),
    tasks: calls.reduce((sum, call) => sum + call.tasks.length, 0),
    events: calls.flatMap(({ basin, events }) =>
      events.map((event) => ({ basin: basin.name, name: event.name, day: event.day })),
    ),
    expiring: (await bottlesOf(scope)).flatMap(({ reagent, expiresOn }) =>
      expiresOn && expiresOn <= addDays(day, EXPIRES_WITHIN) ? [{ reagent, day: expiresOn }] : [],
    ),
    reorder: products
      .filter(({ id, left, reorder }) => reorder !== null && left !== null && left + loaded(id) <= reorder)
      .map((product) => product.name),
  };
}

/** The reminder of a day, or null before the night has made it. */
export async function reminderOn(scope: FirmScope, day: string): Promise<Reminder | null> {
  const row = await scope
    .selectFrom("reminder")
    .select("content")
    .where("day", "=", sql<Date>`${day}::date`)
    .executeTakeFirst();
  return (row?.content as Reminder | undefined) ?? null;
}

/** What is past its day opens nothing; it is closed for good only when no clock can be wrong by so much. */
const GRACE_DAYS = 30;

/** Closes sessions, links and invitations that have been past their day for long. */
export async function expire(db: Database, now: Date): Promise<Night> {
  const before = subDays(now, GRACE_DAYS);
  await asGate(db, (scope) =>
    scope
      .updateTable("session")
      .set({ revoked_at: now })
      .where("revoked_at", "is", null)
      .where("expires_at", "<=", before)
      .execute(),
  );
  return eachFirm(db, async (scope) => {
    for (const table of ["share", "invite", "password_reset"] as const)
      await scope
        .updateTable(table)
        .set({ withdrawn_at: now })
        .where("withdrawn_at", "is", null)
        .where("expires_at", "<=", before)
        .execute();
  });
}

/** Withdraws calendar addresses of people who may no longer sign in, and sees that each firm's round can be told. */
export const tendFeeds = (db: Database, now: Date): Promise<Night> =>
  eachFirm(db, async (scope, firm) => {
    await scope
      .updateTable("feed")
      .set({ withdrawn_at: now })
      .where("withdrawn_at", "is", null)
      .where("member_id", "in", scope.selectFrom("member").select("id").where("disabled_at", "is not", null))
      .execute();
    const today = dayIn(now, firm.timeZone);
    await callsAhead(scope, today, addDays(today, 60));
  });

export const JOBS = { "due-list": dueLists, expiry: expire, feeds: tendFeeds } as const;
export type JobName = keyof typeof JOBS;
export const JOB_NAMES = Object.keys(JOBS) as JobName[];
