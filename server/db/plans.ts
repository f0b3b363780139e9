import type { FirmScope } from "./connection";

/** Plans that were begun, how each step ended, and what came of what they promised. */

/** What came of the promises at a basin, the newest first: what its habits are learnt from. */
export const outcomesAt = (scope: FirmScope, basinId: string, limit: number) =>
  scope
    .selectFrom("plan_outcome")
    .innerJoin("plan", (join) =>
      join.onRef("plan.firm_id", "=", "plan_outcome.firm_id").onRef("plan.id", "=", "plan_outcome.plan_id"),
    )
    .innerJoin("visit", (join) =>
      join.onRef("visit.firm_id", "=", "plan.firm_id").onRef("visit.id", "=", "plan.visit_id"),
    )
    .select([
      "plan_outcome.quantity",
      "plan_outcome.ratio",
      "plan_outcome.verdict",
      "plan_outcome.before",
      "plan_outcome.promised",
      "plan_outcome.measured",
      "plan.begun_at as begunAt",
      "plan.visit_id as visitId",
    ])
    .where("visit.basin_id", "=", basinId)
    .orderBy("plan.begun_at", "desc")
    .limit(limit)
    .execute();

/** Plans that were begun at a basin, the newest first. */
export const newestPlansAt = (scope: FirmScope, basinId: string, limit: number) =>
  scope
    .selectFrom("plan")
    .innerJoin("visit", (join) =>
      join.onRef("visit.firm_id", "=", "plan.firm_id").onRef("visit.id", "=", "plan.visit_id"),
    )
    .select(["plan.id", "plan.visit_id as visitId", "plan.round", "plan.begun_at as at"])
    .where("visit.basin_id", "=", basinId)
    .orderBy("plan.begun_at", "desc")
    .limit(limit)
    .execute();
