import type {
  HeldBack,
  Outcome,
  Plan,
  PlanInput,
  PlanStep,
  Quantity,
  RecipeFacts,
  Sample,
  SampleSpread,
  SettledStep,
} from "#core";
import { QUANTITY_NAMES } from "#core";
import type { FirmScope } from "./connection";

/** Plans that were begun, how each step ended, and what came of what they promised. */

export type PlanOrigin = "alternative" | "recipe" | "what-if";

/** A plan as it was when it was begun; what is needed to work its promises out again rides along. */
export interface PlanContent {
  basis: Pick<PlanInput, "water" | "litres" | "products" | "fill">;
  spreads: SampleSpread | null;
  after: Sample;
  saturation: number;
  cost: number;
  steps: PlanStep[];
  heldBack: HeldBack[];
  missed: Plan["missed"];
  facts: RecipeFacts;
}

export interface StoredStep extends SettledStep {
  why: string;
}

export interface StoredOutcome extends Outcome {
  quantity: Quantity;
}

export interface StoredPlan {
  id: string;
  visitId: string;
  round: number;
  origin: PlanOrigin;
  name: string;
  content: PlanContent;
  begunAt: Date;
  endedAt: Date | null;
  whyEnded: string;
  settled: StoredStep[];
  outcomes: StoredOutcome[];
}

/** The plans of a visit in the order they were begun. */
export async function plansOf(scope: FirmScope, visitId: string): Promise<StoredPlan[]> {
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
      .map(({ plan_id: _, state, ...step }) => ({ ...step, state: state as StoredStep["state"] })),
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

/** Keeps a plan that is begun, under a key that the client made. */
export async function insertPlan(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  plan: Pick<StoredPlan, "id" | "visitId" | "round" | "origin" | "name" | "content">,
): Promise<void> {
  await scope
    .insertInto("plan")
    .values({
      id: plan.id,
      firm_id: author.firmId,
      visit_id: plan.visitId,
      member_id: author.memberId,
      round: plan.round,
      origin: plan.origin,
      name: plan.name,
      content: JSON.stringify(plan.content),
      begun_at: author.now,
    })
    .execute();
}

/** Ends the plan that is under way, if any. */
export async function endPlan(scope: FirmScope, visitId: string, why: string, now: Date): Promise<void> {
  await scope
    .updateTable("plan")
    .set({ ended_at: now, why_ended: why })
    .where("visit_id", "=", visitId)
    .where("ended_at", "is", null)
    .execute();
}

/** Keeps how a step ended; how it had ended before is superseded, never changed. */
export async function saveStep(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  planId: string,
  step: StoredStep,
): Promise<void> {
  await reopenStep(scope, planId, step.position, author.now);
  await scope
    .insertInto("plan_step")
    .values({
      firm_id: author.firmId,
      plan_id: planId,
      position: step.position,
      member_id: author.memberId,
      state: step.state,
      why: step.why,
      at: step.at,
    })
    .execute();
}

/** Takes a step back: it is to do again. */
export async function reopenStep(
  scope: FirmScope,
  planId: string,
  position: number,
  now: Date,
): Promise<void> {
  await scope
    .updateTable("plan_step")
    .set({ superseded_at: now })
    .where("plan_id", "=", planId)
    .where("position", "=", position)
    .where("superseded_at", "is", null)
    .execute();
}

/** Keeps what a retest said of a promise; a retest made again replaces it. */
export async function saveOutcome(
  scope: FirmScope,
  firmId: string,
  planId: string,
  readingId: string,
  { quantity, before, promised, low, high, measured, ratio, verdict }: StoredOutcome,
): Promise<void> {
  const values = { before, promised, low, high, measured, ratio, verdict, reading_id: readingId };
  await scope
    .insertInto("plan_outcome")
    .values({ firm_id: firmId, plan_id: planId, quantity, ...values })
    .onConflict((conflict) => conflict.columns(["plan_id", "firm_id", "quantity"]).doUpdateSet(values))
    .execute();
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
