import { sql } from "kysely";
import { InputFault, MEASURES, type Measure, type ReagentUse } from "#core";
import type { FirmScope } from "./connection";

/** Reagent bottles, and what the visits took out of them. */
export interface StoredBottle {
  id: string;
  reagent: string;
  measure: Measure;
  /** Drops, scoops, tablets, mL or strips when it was full. */
  full: number;
  used: number;
  lot: string;
  /** Calendar days, as 2026-04-01. */
  openedOn: string | null;
  expiresOn: string | null;
  emptiedAt: Date | null;
}

/** Every bottle that is not empty, in the order they are used: the one opened first, first. */
export async function bottlesOf(scope: FirmScope): Promise<StoredBottle[]> {
  const rows = await scope
    .selectFrom("bottle")
    .leftJoin("reagent_use", (join) =>
      join
        .onRef("reagent_use.firm_id", "=", "bottle.firm_id")
        .onRef("reagent_use.bottle_id", "=", "bottle.id"),
    )
    .select((row) => [
      "bottle.id",
      "bottle.reagent",
      "bottle.measure",
      "bottle.full",
      "bottle.lot",
      sql<string | null>`bottle.opened_on::text`.as("openedOn"),
      sql<string | null>`bottle.expires_on::text`.as("expiresOn"),
      "bottle.emptied_at as emptiedAt",
      row.fn.coalesce(row.fn.sum<number>("reagent_use.amount"), sql<number>`0`).as("used"),
    ])
    .where("bottle.emptied_at", "is", null)
    .groupBy("bottle.id")
    .orderBy("bottle.reagent")
    .orderBy(sql`bottle.opened_on nulls last`)
    .orderBy("bottle.added_at")
    .execute();
  return rows.map((row) => ({ ...row, measure: measureOf(row.measure), used: Number(row.used) }));
}

const measureOf = (name: string): Measure => MEASURES.find((known) => known === name) ?? "drops";

/** Puts a bottle on the shelf, or corrects what is written on it. The same again changes nothing. */
export async function saveBottle(
  scope: FirmScope,
  firmId: string,
  now: Date,
  bottle: Pick<StoredBottle, "id" | "reagent" | "measure" | "full" | "lot" | "openedOn" | "expiresOn">,
): Promise<void> {
  const row = {
    reagent: bottle.reagent,
    measure: bottle.measure,
    full: bottle.full,
    lot: bottle.lot,
    opened_on: bottle.openedOn,
    expires_on: bottle.expiresOn,
  };
  await scope
    .insertInto("bottle")
    .values({ id: bottle.id, firm_id: firmId, added_at: now, ...row })
    .onConflict((conflict) => conflict.column("id").doUpdateSet(row))
    .execute();
}

/** Takes a bottle off the shelf; what it gave stays in the book. */
export async function emptyBottle(scope: FirmScope, id: string, now: Date): Promise<void> {
  const emptied = await scope
    .updateTable("bottle")
    .set({ emptied_at: now })
    .where("id", "=", id)
    .returning("id")
    .executeTakeFirst();
  if (!emptied) throw new InputFault("unknown", "bottle", id);
}

/** Books what a reading used up, each reagent on its bottle in use. */
export async function drawDown(
  scope: FirmScope,
  firmId: string,
  readingId: string,
  used: ReagentUse[],
): Promise<void> {
  if (used.length === 0) return;
  const bottles = await bottlesOf(scope);
  const together = new Map<string, number>();
  for (const { reagent, amount } of used) together.set(reagent, (together.get(reagent) ?? 0) + amount);
  await scope
    .insertInto("reagent_use")
    .values(
      [...together].map(([reagent, amount]) => {
        const open = bottles.filter((bottle) => bottle.reagent === reagent && bottle.openedOn !== null);
        const bottle = open.find((one) => one.used < one.full) ?? open.at(-1);
        return { firm_id: firmId, reading_id: readingId, reagent, bottle_id: bottle?.id ?? null, amount };
      }),
    )
    .onConflict((conflict) => conflict.doNothing())
    .execute();
}
