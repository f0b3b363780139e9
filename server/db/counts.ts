import { type CountState, laterCount } from "#core";
import type { FirmScope } from "./connection";

/** A count under way, and when it was last heard of. */
export type KeptCount = CountState & { keptAt: Date };

const COLUMNS = [
  "method_id as methodId",
  "drops",
  "ahead",
  "idle",
  "sample",
  "holder",
  "term",
  "sequence",
  "updated_at as keptAt",
] as const;

/** Counts under way, one for each titration of a visit. */
export async function countsOf(scope: FirmScope, visitId: string): Promise<Record<string, KeptCount>> {
  const rows = await scope.selectFrom("drop_count").select(COLUMNS).where("visit_id", "=", visitId).execute();
  return Object.fromEntries(rows.map(({ methodId, ...state }) => [methodId, state]));
}

/** Keeps a count if it is the later one by `laterCount`; returns the one that stands. */
export async function keepCount(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  methodId: string,
  sent: CountState,
  now: Date,
): Promise<CountState> {
  const row = { ...sent, updated_at: now };
  const first = await scope
    .insertInto("drop_count")
    .values({ firm_id: firmId, visit_id: visitId, method_id: methodId, ...row })
    .onConflict((conflict) => conflict.columns(["firm_id", "visit_id", "method_id"]).doNothing())
    .returning("sequence")
    .executeTakeFirst();
  if (first) return sent;
  const {
    methodId: _,
    keptAt: __,
    ...stands
  } = await scope
    .selectFrom("drop_count")
    .select(COLUMNS)
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .forUpdate()
    .executeTakeFirstOrThrow();
  if (laterCount(stands, sent) === stands) return stands;
  await scope
    .updateTable("drop_count")
    .set(row)
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .execute();
  return sent;
}
