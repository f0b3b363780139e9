import type { CountState } from "#core";
import type { FirmScope } from "./connection";

/** Counts under way, one for each titration of a visit. */
export async function countsOf(scope: FirmScope, visitId: string): Promise<Record<string, CountState>> {
  const rows = await scope
    .selectFrom("drop_count")
    .select(["method_id", "drops", "sample", "sequence"])
    .where("visit_id", "=", visitId)
    .execute();
  return Object.fromEntries(rows.map(({ method_id, ...state }) => [method_id, state]));
}

/** Keeps a count unless a later one is already there; returns the one that stands. */
export async function keepCount(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  methodId: string,
  state: CountState,
): Promise<CountState> {
  await scope
    .insertInto("drop_count")
    .values({ firm_id: firmId, visit_id: visitId, method_id: methodId, ...state })
    .onConflict((conflict) =>
      conflict
        .columns(["firm_id", "visit_id", "method_id"])
        .doUpdateSet((update) => ({
          drops: update.ref("excluded.drops"),
          sample: update.ref("excluded.sample"),
          sequence: update.ref("excluded.sequence"),
          updated_at: new Date(),
        }))
        .whereRef("drop_count.sequence", "<", "excluded.sequence"),
    )
    .execute();
  return scope
    .selectFrom("drop_count")
    .select(["drops", "sample", "sequence"])
    .where("visit_id", "=", visitId)
    .where("method_id", "=", methodId)
    .executeTakeFirstOrThrow();
}
