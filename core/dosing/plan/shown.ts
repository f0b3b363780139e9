import type { RangeSet, Surface } from "../../ranges/range-set";
import { chlorineShares } from "../../water/chlorine";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { Amounts } from "./amounts";
import { type HeldBack, sureAmounts } from "./hold-back";
import type { PlanInput } from "./input";
import { type AlternativeName, type Plan, plansFor } from "./plan";
import { type PredictOptions, predicted } from "./predict";
import type { LeftAlone } from "./problem";
import type { Solver } from "./programme";
import { withPromises } from "./promises";
import type { PlanStep, StepSetting } from "./steps";
import { type TableWay, tableWay } from "./table-way";
import { stepsOf } from "./way";

/** A plan with what it promises, as a page shows it and a visit keeps it. */
export interface ShownPlan {
  name: AlternativeName;
  cost: number;
  before: Sample;
  /** After all of it, what is held back included. */
  after: Sample;
  saturation: number;
  hypochlorousAcid: number;
  intervals: ReturnType<typeof predicted>;
  steps: PlanStep[];
  missed: Plan["missed"];
  indexOutside: Plan["indexOutside"];
  fetch: Plan["fetch"];
  /** Whether the search came to rest; the best it found is given where it did not. */
  settled: boolean;
  heldBack: HeldBack[];
}

export interface ShownPlans {
  plans: ShownPlan[];
  /** What giving every reading its own dose would have come to. */
  table: TableWay;
}

/** What a plan is asked for: the programme's input, and the setting of its steps. Crosses into a worker. */
export interface PlanProblem {
  input: PlanInput;
  setting: StepSetting;
  set: RangeSet;
  surface: Surface;
  spreads: PredictOptions["spreads"];
  /** Readings that nothing is dosed for: not read, too old, off their scale. */
  leftAlone: LeftAlone[];
}

/**
 * The plans for a problem with their promises, and the table way beside them.
 * @throws InputFault for a water, a volume or a product off its limits
 * @example shownPlans(problem, solver).plans[0].name // "balanced"
 */
export function shownPlans(problem: PlanProblem, solver: Solver): ShownPlans {
  const { input, setting, set, surface } = problem;
  return {
    plans: plansFor(input, setting, solver).map((plan) => shown(problem, plan)),
    table: tableWay(input, set, surface),
  };
}

/** A plan that brings all that it can and names nothing besides; its water's index and acid are told here. */
export const shownOf = (
  plan: Pick<ShownPlan, "name" | "cost" | "before" | "after" | "intervals" | "steps" | "settled">,
): ShownPlan => ({
  ...plan,
  saturation: saturation(plan.after).full.corrected,
  hypochlorousAcid: chlorineShares(plan.after).hypochlorousAcid,
  missed: [],
  indexOutside: null,
  fetch: [],
  heldBack: [],
});

function shown({ input, setting, spreads }: PlanProblem, plan: Plan): ShownPlan {
  const { name, solved, missed, indexOutside, fetch } = plan;
  const options = spreads ? { spreads } : {};
  const { sure, heldBack } = sureAmounts(input, solved.amounts, options);
  return {
    name,
    cost: solved.cost,
    before: input.water,
    after: solved.after,
    saturation: solved.saturation,
    hypochlorousAcid: chlorineShares(solved.after).hypochlorousAcid,
    intervals: predicted(input, solved.amounts, options),
    steps: promisedSteps(input, sure, heldBack, setting, options),
    missed,
    indexOutside,
    fetch,
    settled: solved.settled,
    heldBack,
  };
}

/** The steps for the sure amounts, each telling what of it is held back, each retest what it promises. */
export function promisedSteps(
  input: PlanInput,
  sure: Amounts,
  heldBack: readonly HeldBack[],
  setting: StepSetting,
  options: PredictOptions = {},
): PlanStep[] {
  const steps = stepsOf(input, sure, setting);
  // Told once, at the last step of its product.
  const told = steps.map((step, index) => {
    if (step.kind !== "dose") return step;
    const rest = heldBack.find((one) => one.product === step.product);
    const again = steps.some(
      (later, at) => at > index && later.kind === "dose" && later.product === step.product,
    );
    return rest && !again ? { ...step, heldBack: rest } : step;
  });
  return withPromises(input, told, options);
}
