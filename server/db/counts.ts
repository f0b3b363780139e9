import { sql } from "kysely";
import { type CountState, laterCount } from "#core";
import type { FirmScope } from "./connection";

/** A count under way, and when it was last heard of. */
export type KeptCount = CountState & { keptAt: Date };

const STATE = ["drops", "ahead", "idle", "sample", "holder", "term", "sequence"] as const;
const COLUMNS = ["method_id as methodId", ...STATE, "updated_at as keptAt"] as const;

/** Counts under way, one for each titration of a visit. */
export async function countsOf(scope: FirmScope, visitId: string): Promise<Record<string, KeptCount>> {
  const rows = await scope.selectFrom("drop_count").select(COLUMNS).where("visit_id", "=", visitId).execute();
  return Object.fromEntries(rows.map(({ methodId, ...state }) => [methodId, state]));
}

/** Keeps a count if it is the later one by `laterCount`; returns the one that stands, null without a visit. */
export async function keepCount(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  methodId: string,
  sent: CountState,
  now: Date,
): Promise<CountState | null> {
  const row = { ...sent, updated_at: now };
  // The row is made where the visit is there: one statement for the first drop, and none past the wall.
  const first = await scope
    .insertInto("drop_count")
    .columns(["firm_id", "visit_id", "method_id", ...STATE, "updated_at"])
    .expression((from) =>
      from
        .selectFrom("visit")
        .select((of) => [
          "visit.firm_id",
          "visit.id as visit_id",
          of.val(methodId).$castTo<string>().as("method_id"),
          sql<number>`${row.drops}::integer`.as("drops"),
          sql<number>`${row.ahead}::integer`.as("ahead"),
          sql<number>`${row.idle}::integer`.as("idle"),
          sql<number>`${row.sample}::double precision`.as("sample"),
          of.val(row.holder).$castTo<string>().as("holder"),
          sql<number>`${row.term}::integer`.as("term"),
          sql<number>`${row.sequence}::integer`.as("sequence"),
          sql<Date>`${now}::timestamptz`.as("updated_at"),
        ])
        .where("visit.id", "=", visitId)
        .where("visit.firm_id", "=", firmId),
    )
    .onConflict((conflict) => conflict.columns(["visit_id", "firm_id", "method_id"]).doNothing())
    .returning("sequence")
    .executeTakeFirst();
  if (first) return sent;
  const known = await scope
    .selectFrom("drop_count")
    .select(COLUMNS)
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .forUpdate()
    .executeTakeFirst();
  if (!known) return null;
  const { methodId: _, keptAt: __, ...stands } = known;
  if (laterCount(stands, sent) === stands) return stands;
  await scope
    .updateTable("drop_count")
    .set(row)
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .execute();
  return sent;
}
