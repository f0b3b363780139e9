import {
  type Outcome,
  type PlanContent,
  type PlanOrigin,
  QUANTITY_NAMES,
  type VisitPlan,
  type VisitStep,
} from "#core";
import type { FirmScope } from "./connection";

/** Plans that were begun, how each step ended, and what came of what they promised. */

/** The plans of a visit in the order they were begun. */
export async function plansOf(scope: FirmScope, visitId: string): Promise<VisitPlan[]> {
  const plans = await scope
    .selectFrom("plan")
    .select([
      "id",
      "visit_id as visitId",
      "round",
      "origin",
      "name",
      "content",
      "begun_at as begunAt",
      "ended_at as endedAt",
      "why_ended as whyEnded",
    ])
    .where("visit_id", "=", visitId)
    .orderBy("round")
    .execute();
  if (plans.length === 0) return [];
  const ids = plans.map((plan) => plan.id);
  const steps = await scope
    .selectFrom("plan_step")
    .select(["plan_id", "position", "state", "why", "at"])
    .where("plan_id", "in", ids)
    .where("superseded_at", "is", null)
    .orderBy("position")
    .execute();
  const outcomes = await scope.selectFrom("plan_outcome").selectAll().where("plan_id", "in", ids).execute();
  return plans.map((plan) => ({
    ...plan,
    origin: plan.origin as PlanOrigin,
    content: plan.content as unknown as PlanContent,
    settled: steps
      .filter((step) => step.plan_id === plan.id)
      .map(({ plan_id: _, state, ...step }) => ({ ...step, state: state as VisitStep["state"] })),
    outcomes: outcomes
      .filter((outcome) => outcome.plan_id === plan.id)
      .flatMap(({ quantity, before, promised, low, high, measured, ratio, verdict }) => {
        const known = QUANTITY_NAMES.find((name) => name === quantity);
        return known
          ? [
              {
                quantity: known,
                before,
                promised,
                low,
                high,
                measured,
                ratio,
                verdict: verdict as Outcome["verdict"],
              },
            ]
          : [];
      }),
  }));
}

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
