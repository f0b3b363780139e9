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
  visitId: string,
  methodId: string,
  sent: CountState,
  now: Date,
): Promise<CountState | null> {
  const known = await scope
    .selectFrom("drop_count")
    .select(COLUMNS)
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .forUpdate()
    .executeTakeFirst();
  if (!known) return firstOf(scope, visitId, methodId, sent, now);
  const { methodId: _, keptAt: __, ...stands } = known;
  if (laterCount(stands, sent) === stands) return stands;
  await scope
    .updateTable("drop_count")
    .set({ ...sent, updated_at: now })
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .execute();
  return sent;
}

/** Makes the row of a count, where its visit is there; another screen may have made it at the same moment. */
async function firstOf(
  scope: FirmScope,
  visitId: string,
  methodId: string,
  sent: CountState,
  now: Date,
): Promise<CountState | null> {
  const made = await scope
    .insertInto("drop_count")
    .columns(["firm_id", "visit_id", "method_id", ...STATE, "updated_at"])
    .expression((from) =>
      from
        .selectFrom("visit")
        .select((of) => [
          "visit.firm_id",
          "visit.id as visit_id",
          of.val(methodId).$castTo<string>().as("method_id"),
          sql<number>`${sent.drops}::integer`.as("drops"),
          sql<number>`${sent.ahead}::integer`.as("ahead"),
          sql<number>`${sent.idle}::integer`.as("idle"),
          sql<number>`${sent.sample}::double precision`.as("sample"),
          of.val(sent.holder).$castTo<string>().as("holder"),
          sql<number>`${sent.term}::integer`.as("term"),
          sql<number>`${sent.sequence}::integer`.as("sequence"),
          sql<Date>`${now}::timestamptz`.as("updated_at"),
        ])
        .where("visit.id", "=", visitId),
    )
    .onConflict((conflict) => conflict.columns(["visit_id", "firm_id", "method_id"]).doNothing())
    .returning("sequence")
    .executeTakeFirst();
  if (made) return sent;
  const there = await scope.selectFrom("visit").select("id").where("id", "=", visitId).executeTakeFirst();
  return there ? keepCount(scope, visitId, methodId, sent, now) : null;
}
