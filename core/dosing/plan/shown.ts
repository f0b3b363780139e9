import type { RangeSet, Surface } from "../../ranges/range-set";
import type { Standing } from "../../reading/from-readings";
import { chlorineShares } from "../../water/chlorine";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { Steered } from "./goals";
import type { PlanInput } from "./input";
import type { PredictOptions, predicted } from "./predict";
import type { PlanStep, StepSetting } from "./steps";

/** A plan with what it promises, as a page shows it and a visit keeps it. */
export interface ShownPlan {
  cost: number;
  before: Sample;
  after: Sample;
  saturation: number;
  hypochlorousAcid: number;
  intervals: ReturnType<typeof predicted>;
  steps: PlanStep[];
  /** Whether the search came to rest; the best it found is given where it did not. */
  settled: boolean;
}

/** A reading that nothing is dosed for, because it was not read, or not lately, or ran off its scale. */
export interface LeftAlone {
  quantity: Steered;
  standing: Exclude<Standing, "read" | "carried">;
  value: number;
  daysAgo: number | null;
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

/** A plan as it is shown: its water's index and acid are told here. */
export const shownOf = (
  plan: Pick<ShownPlan, "cost" | "before" | "after" | "intervals" | "steps" | "settled">,
): ShownPlan => ({
  ...plan,
  saturation: saturation(plan.after).full.corrected,
  hypochlorousAcid: chlorineShares(plan.after).hypochlorousAcid,
});
