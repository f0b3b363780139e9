import { outcomeOf, type Prospect } from "../dosing/outcome";
import { withPromises } from "../dosing/plan/promises";
import type { PlanStep } from "../dosing/plan/steps";
import type { Quantity } from "../measure/quantity";
import type { VisitDose, VisitOutcome, VisitPlan, VisitReading } from "./written";

/** A dose of a plan is kept under the plan and the step's place in it. */
export const doseCode = (planId: string, position: number): string => `plan.${planId}.${position}`;

/** Amounts this close to what was planned change no promise, share of it. */
const AS_PLANNED = 0.01;

/** The steps of a plan with what was really given in place of what was planned, and its promises for that. */
function stepsAsGiven(plan: VisitPlan, doses: readonly VisitDose[]): PlanStep[] {
  const given = plan.content.steps.map((step, position) => {
    if (step.kind !== "dose" || !plan.settled.some((one) => one.position === position)) return step;
    const dose = doses.find((one) => one.code === doseCode(plan.id, position));
    return { ...step, grams: dose?.givenGrams ?? 0 };
  });
  const asPlanned = given.every((step, position) => {
    const planned = plan.content.steps[position];
    return (
      step.kind !== "dose" ||
      planned?.kind !== "dose" ||
      Math.abs(step.grams - planned.grams) <= AS_PLANNED * planned.grams
    );
  });
  if (asPlanned) return plan.content.steps;
  const { basis, spreads } = plan.content;
  return withPromises(basis, given, spreads ? { spreads } : {});
}

/**
 * What the plan promises for a quantity at the retest that comes next, by what was given.
 * @example prospectOf({ settled: [], content: { steps: [] } }, [], "ph") // null
 */
export function prospectOf(
  plan: VisitPlan,
  doses: readonly VisitDose[],
  quantity: Quantity,
): Prospect | null {
  const settledUpTo = Math.max(-1, ...plan.settled.map((one) => one.position));
  const retests = stepsAsGiven(plan, doses).flatMap((step, position) =>
    step.kind === "retest" && step.quantities.some((one) => one === quantity) ? [{ step, position }] : [],
  );
  // A recipe tests in between: the first retest that is not passed yet, or else the last.
  const chosen = retests.find(({ position }) => position > settledUpTo) ?? retests.at(-1);
  const promised = chosen?.step.promised as Record<string, Prospect> | undefined;
  return promised?.[quantity] ?? null;
}

/** A reading held against what the plan under way promised for it; null where it promised nothing. */
export function outcomeFor(
  plan: VisitPlan | null,
  doses: readonly VisitDose[],
  reading: VisitReading,
): VisitOutcome | null {
  if (!plan || reading.round !== plan.round + 1) return null;
  const prospect = prospectOf(plan, doses, reading.quantity);
  return prospect ? { ...outcomeOf(prospect, reading), quantity: reading.quantity } : null;
}
