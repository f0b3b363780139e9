import { type CountState, type KeptCount, laterCount, type VisitCommands } from "#core";
import type { FirmScope } from "./connection";

/** Counts under way: one row each, read and written by itself. */

/**
 * Keeps a count's copy where it is the later one, see `laterCount`. Whoever calls holds the visit's lock.
 * @returns the copy that stands, which may be another screen's; null where this firm has no such visit
 */
export async function keepCount(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  { methodId, ...sent }: VisitCommands["count"],
  now: Date,
): Promise<KeptCount | null> {
  const found = await scope
    .selectFrom("visit")
    .leftJoin("drop_count", (join) =>
      join
        .onRef("drop_count.firm_id", "=", "visit.firm_id")
        .onRef("drop_count.visit_id", "=", "visit.id")
        .on("drop_count.method_id", "=", methodId),
    )
    .select(["drops", "ahead", "idle", "sample", "holder", "term", "sequence", "updated_at as keptAt"])
    .where("visit.id", "=", visitId)
    .executeTakeFirst();
  if (!found) return null;
  // Without a row each column of it is null.
  const stands = found.sequence === null ? null : (found as KeptCount);
  if (stands && laterCount(stands, sent) === stands) return stands;
  const row = { ...sent, updated_at: now } satisfies CountState & { updated_at: Date };
  await scope
    .insertInto("drop_count")
    .values({ firm_id: firmId, visit_id: visitId, method_id: methodId, ...row })
    .onConflict((conflict) => conflict.columns(["visit_id", "firm_id", "method_id"]).doUpdateSet(row))
    .execute();
  return { ...sent, keptAt: now };
}
