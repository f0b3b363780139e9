import type { Steered } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import { type CautionCode, replaceStep } from "../plan/steps";
import { turnsFor } from "../turns";
import type { HorizonProblem } from "./problem";

/** What takes days and is never mixed into a call's pours. */
export interface Project {
  kind: "replace-water";
  quantities: Steered[];
  cautions: CautionCode[];
  /** Share of the water that is other water in the end; null where nobody knows what comes out of the tap. */
  fraction: number | null;
  /** Of all turns together: more than the share, since a later turn drains some of what an earlier one filled. */
  litres: number;
  /** At most so much at a time: so many turns, and the share of each. */
  turns: number;
  each: number | null;
  /** To drain and to fill, by the firm's tap. */
  hours: number | null;
  cost: number;
}

/** Litres an hour out of a garden tap, and money for a cubic metre of water, where nobody said. */
const USUAL_FILL_RATE = 1500;
const USUAL_WATER_PRICE = 3;

/** The projects of a water: other water for what nothing brings down. */
export function projectsOf({ still, fillRate = USUAL_FILL_RATE }: HorizonProblem): Project[] {
  const { input, setting } = still;
  const projects: Project[] = [];
  const over = (["calciumHardness", "cyanuricAcid"] as const).filter((quantity) => {
    const { known, high } = input.goals[quantity];
    return known && high !== null && input.water[quantity] > high;
  });
  if (over.length > 0) {
    const share = shareFor(input, over);
    const { turns, each } = turnsFor(share ?? 0, Math.max(0.1, input.mostReplaced));
    const litres = turns * each * input.litres;
    projects.push({
      kind: "replace-water",
      quantities: over,
      cautions: replaceStep(each, input.litres, setting).cautions,
      fraction: share,
      litres,
      turns,
      each: share === null ? null : each,
      hours: share === null ? null : (2 * litres) / fillRate,
      cost: (litres / 1000) * USUAL_WATER_PRICE,
    });
  }
  return projects;
}

/** Well inside the limit, so that it holds for months: a share of the way from the limit to the aim. */
const INSIDE = 0.25;

/** The share that brings every one of them inside its limit; null where the tap is unknown or no better. */
function shareFor({ goals, water, fill }: PlanInput, over: readonly Steered[]): number | null {
  if (!fill) return null;
  const shares = over.map((quantity) => {
    const { aim, high } = goals[quantity];
    const wanted = high === null ? aim : high - INSIDE * Math.max(0, high - aim);
    const to = Math.max(wanted, fill[quantity] + 1e-6);
    return high !== null && fill[quantity] < high && to < water[quantity]
      ? (water[quantity] - to) / (water[quantity] - fill[quantity])
      : 1;
  });
  const share = Math.max(...shares);
  return share < 1 ? share : null;
}
