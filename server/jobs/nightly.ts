import { subDays } from "date-fns";
import { addDays, dayIn, type Firm } from "#core";
import { bottlesOf } from "../db/bottles";
import { clearBrakes } from "../db/brakes";
import { asFirm, type Database, type FirmScope } from "../db/connection";
import { endExpiredSessions, withdrawExpired } from "../db/expiry";
import { withdrawFeedsOfLeavers } from "../db/feeds";
import { firmIds, firmOf } from "../db/firms";
import { clearOldFiles } from "../db/import-files";
import { emptyOldPhotos } from "../db/keeping";
import { productsOf } from "../db/products";
import { type Reminder, saveReminder } from "../db/reminders";
import { trucksOf } from "../db/trucks";
import type { LearnSoon } from "../learning/learn-firm";
import { callsAhead } from "../round/ahead";
import { roundOn } from "../round/day";
import { lowProducts } from "../shelf/low";

/**
 * What is done in the night, for every firm in turn, and for one of them whenever its owner asks. Each may run twice
 * with the same effect.
 */

const EXPIRES_WITHIN = 14;

/** How many firms a job was done for, and what went wrong in others. */
export interface Night {
  count: number;
  failed: unknown[];
}

/** Every firm in turn, each in a transaction of its own: one that goes wrong takes nothing from the others. */
async function eachFirm(
  db: Database,
  only: string | null,
  work: (scope: FirmScope, firm: Firm) => Promise<void>,
): Promise<Night> {
  const firms = only === null ? await firmIds(db) : [only];
  const night: Night = { count: 0, failed: [] };
  for (const id of firms)
    try {
      await asFirm(db, id, async (scope) => work(scope, await firmOf(scope)));
      night.count++;
    } catch (fault) {
      night.failed.push(fault);
    }
  return night;
}

/** The due list of the day in each firm's own time zone. */
export const dueLists = (db: Database, now: Date, only: string | null = null): Promise<Night> =>
  eachFirm(db, only, async (scope, firm) => {
    const day = dayIn(now, firm.timeZone);
    await saveReminder(scope, firm.id, day, await reminderOf(scope, firm, day, now), now);
  });

async function reminderOf(scope: FirmScope, firm: Firm, day: string, now: Date): Promise<Reminder> {
  const { calls } = await roundOn(scope, firm, day, now);
  const products = await productsOf(scope);
  const trucks = await trucksOf(scope);
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
    reorder: lowProducts(products, trucks).map(({ name }) => name),
  };
}

/** What is past its day opens nothing; it is closed for good only when no clock can be wrong by so much. */
const GRACE_DAYS = 30;

/** Closes sessions, links and invitations that have been past their day for long, and forgets what nobody waits for. */
export async function expire(db: Database, now: Date, only: string | null = null): Promise<Night> {
  const before = subDays(now, GRACE_DAYS);
  await endExpiredSessions(db, before, now);
  await clearBrakes(db, now);
  return eachFirm(db, only, async (scope) => {
    await withdrawExpired(scope, before, now);
    await clearOldFiles(scope, now);
    await emptyOldPhotos(scope, now);
  });
}

/** Withdraws calendar addresses of people who may no longer sign in, and sees that each firm's round can be told. */
export const tendFeeds = (db: Database, now: Date, only: string | null = null): Promise<Night> =>
  eachFirm(db, only, async (scope, firm) => {
    await withdrawFeedsOfLeavers(scope, now);
    const today = dayIn(now, firm.timeZone);
    await callsAhead(scope, today, addDays(today, 60));
  });

/** Has every firm learned, each by whichever server has a hand free. */
export async function learnFirms(
  db: Database,
  _: Date,
  only: string | null,
  jobs: LearnSoon,
): Promise<Night> {
  const night: Night = { count: 0, failed: [] };
  for (const id of only === null ? await firmIds(db) : [only]) {
    await jobs.learnSoon(id);
    night.count++;
  }
  return night;
}

export const JOBS = { "due-list": dueLists, expiry: expire, feeds: tendFeeds, learning: learnFirms } as const;
export type JobName = keyof typeof JOBS;
export const JOB_NAMES = Object.keys(JOBS) as JobName[];
