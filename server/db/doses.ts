import { v7 as uuid } from "uuid";
import type { Finding } from "#core";
import type { FirmScope } from "./connection";

export interface StoredDose {
  id: string;
  visitId: string;
  productId: string;
  /** Code of the finding it answers. */
  code: string;
  plannedGrams: number;
  givenGrams: number;
  givenAt: Date;
}

/** Doses that stand, of these visits; one taken back stands with nothing given. */
export async function dosesOfVisits(scope: FirmScope, visitIds: string[]): Promise<StoredDose[]> {
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
    .where("visit_id", "in", visitIds)
    .where("superseded_at", "is", null)
    .orderBy("given_at")
    .execute();
}

/** Saves a dose under a client-made key; what stood for the same finding is superseded. */
export async function saveDose(
  scope: FirmScope,
  firmId: string,
  memberId: string,
  dose: StoredDose,
): Promise<void> {
  const standing = await scope
    .updateTable("dose")
    .set({ superseded_at: dose.givenAt })
    .where("visit_id", "=", dose.visitId)
    .where("code", "=", dose.code)
    .where("superseded_at", "is", null)
    .returning(["id", "truck_id", "product_id"])
    .executeTakeFirst();
  const truck =
    standing?.product_id === dose.productId
      ? standing.truck_id
      : await truckWith(scope, memberId, dose.productId);
  await scope
    .insertInto("dose")
    .values({
      id: dose.id,
      firm_id: firmId,
      visit_id: dose.visitId,
      member_id: memberId,
      product_id: dose.productId,
      code: dose.code,
      planned_grams: dose.plannedGrams,
      given_grams: dose.givenGrams,
      given_at: dose.givenAt,
      supersedes: standing?.id ?? null,
      truck_id: truck,
    })
    .execute();
}

/** The truck that a member drives, when the product is counted on it: doses come out of there. */
async function truckWith(scope: FirmScope, memberId: string, productId: string): Promise<string | null> {
  const row = await scope
    .selectFrom("truck")
    .innerJoin("truck_stock", "truck_stock.truck_id", "truck.id")
    .select("truck.id")
    .where("truck.member_id", "=", memberId)
    .where("truck.retired_at", "is", null)
    .where("truck_stock.product_id", "=", productId)
    .executeTakeFirst();
  return row?.id ?? null;
}

/** What went into a basin since `from`, the newest first, with its compound and the volume of that visit. */
export const dosesAt = (scope: FirmScope, basinId: string, from: Date) =>
  scope
    .selectFrom("visit")
    .innerJoin("dose", (join) =>
      join.onRef("dose.firm_id", "=", "visit.firm_id").onRef("dose.visit_id", "=", "visit.id"),
    )
    .innerJoin("product", "product.id", "dose.product_id")
    .select([
      "product.compound",
      "product.strength",
      "dose.given_grams as grams",
      "dose.given_at as givenAt",
      "visit.litres",
    ])
    .where("visit.basin_id", "=", basinId)
    .where("dose.superseded_at", "is", null)
    .where("dose.given_at", ">", from)
    .where("dose.given_grams", ">", 0)
    .orderBy("dose.given_at", "desc")
    .execute();

/** Writes what was found at the close of a visit. Written once; the same again changes nothing. */
export async function saveFindings(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  found: Finding[],
): Promise<void> {
  if (found.length === 0) return;
  await scope
    .insertInto("finding")
    .values(
      found.map((finding, position) => ({
        id: uuid(),
        firm_id: firmId,
        visit_id: visitId,
        position,
        code: finding.code,
        detail: JSON.stringify(finding),
      })),
    )
    .onConflict((conflict) => conflict.columns(["visit_id", "firm_id", "code"]).doNothing())
    .execute();
}

/** Writes what a corrected reading makes of a finished visit, in place of what was found before. */
export async function replaceFindings(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  found: Finding[],
): Promise<void> {
  await scope.deleteFrom("finding").where("visit_id", "=", visitId).execute();
  await saveFindings(scope, firmId, visitId, found);
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
    .where("visit_id", "in", visitIds)
    .orderBy("position")
    .execute();
  return rows.map((row) => ({ visitId: row.visit_id, finding: row.detail as unknown as Finding }));
}
