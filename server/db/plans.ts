import { sql } from "kysely";
import type { HorizonPlan } from "#core";
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

/** What the last plan of each basin's last finished visit thought of for its next calls. */
export async function plannedCalls(
  scope: FirmScope,
  basinIds: readonly string[],
): Promise<Map<string, HorizonPlan["calls"]>> {
  if (basinIds.length === 0) return new Map();
  const { rows } = await sql<{ basinId: string; calls: HorizonPlan["calls"] | null }>`
    select last.basin_id as "basinId",
      (select plan.content->'ahead'->'calls' from plan
        where plan.firm_id = last.firm_id and plan.visit_id = last.id
        order by plan.round desc limit 1) as calls
    from (
      select distinct on (visit.basin_id) visit.firm_id, visit.basin_id, visit.id from visit
      where visit.basin_id = any(${sql.val(basinIds)}::uuid[]) and visit.finished_at is not null
        and visit.untested is null
      order by visit.basin_id, visit.started_at desc
    ) as last`.execute(scope);
  return new Map(rows.flatMap(({ basinId, calls }) => (calls ? [[basinId, calls]] : [])));
}
