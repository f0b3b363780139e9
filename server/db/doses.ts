import type { Finding, VisitDose } from "#core";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** Doses that stand, of these visits; one taken back stands with nothing given. */
export async function dosesOfVisits(scope: FirmScope, visitIds: string[]): Promise<VisitDose[]> {
  if (visitIds.length === 0) return [];
  return scope
    .selectFrom("dose")
    .select([
      "id",
      "visit_id as visitId",
      "product_id as productId",
      "code",
      "planned_grams as plannedGrams",
      "given_grams as givenGrams",
      "given_at as givenAt",
    ])
    .where("visit_id", "=", anyOf(visitIds))
    .where("superseded_at", "is", null)
    .orderBy("given_at")
    .execute();
}

/** Findings of these visits, in their order. */
export async function findingsOfVisits(
  scope: FirmScope,
  visitIds: string[],
): Promise<{ visitId: string; finding: Finding }[]> {
  if (visitIds.length === 0) return [];
  const rows = await scope
    .selectFrom("finding")
    .select(["visit_id", "detail"])
    .where("visit_id", "=", anyOf(visitIds))
    .orderBy("position")
    .execute();
  return rows.map((row) => ({ visitId: row.visit_id, finding: row.detail as unknown as Finding }));
}
