import type { Steered } from "../dosing/plan/goals";
import type { CautionCode, PlanStep } from "../dosing/plan/steps";
import { turnsFor } from "../dosing/turns";
import { recipeOf, task } from "./parts";
import type { Make, RecipeId } from "./recipe";

/** Chlorine in water that is drained, at most, mg/L: streams and sewers ask for next to none. */
const DRAIN_CHLORINE = 0.1;
/**
 * More than this of the water at one time is not drained: the shell must not stand empty. A third where a liner
 * slips or a fibreglass shell bulges once the water no longer holds it (usual advice of makers of either).
 */
const mostAtOnce = (surface: string): number =>
  surface === "vinyl" || surface === "fibreglass" ? 1 / 3 : 1 / 2;

/**
 * Stabiliser and calcium come down only with the water they are in. The share follows from the fill
 * water: f = (now − aim) / (now − fill); above what a shell stands it goes in several turns, each of
 * which leaves (1 − f) of what is above the fill.
 */
const lower =
  (id: RecipeId, quantity: Extract<Steered, "cyanuricAcid" | "calciumHardness">): Make =>
  (given) => {
    const { input, setting, fillRate } = given;
    const { fill, goals, water, litres } = input;
    if (!fill) return "fill-unknown";
    const limit = goals[quantity].high;
    if (limit === null || water[quantity] <= limit) return "nothing-to-do";
    if (fill[quantity] >= limit) return "fill-no-better";
    const fraction = (water[quantity] - limit) / (water[quantity] - fill[quantity]);
    const { turns, each } = turnsFor(fraction, mostAtOnce(given.surface));
    const cautions: CautionCode[] = [
      "hydrostatic-lift",
      ...(setting.surface === "vinyl" ? (["liner-shrinks"] as const) : []),
      "dechlorinate-drain",
      ...(given.surface === "fibreglass" ? (["cracks-when-dry"] as const) : []),
      "pump-off",
      "electric-off",
      "nobody-in",
      "closed-until",
    ];
    const steps: PlanStep[] = [];
    if (water.freeChlorine > DRAIN_CHLORINE)
      steps.push(task("chlorine-gone-before-drain", 0, ["dechlorinate-drain"]));
    steps.push(task("plant-off", 0, ["pump-off", "electric-off", "nobody-in"]));
    for (let turn = 1; turn <= turns; turn++)
      steps.push({
        kind: "replace-water",
        fraction: each,
        litres: each * litres,
        waitMinutes: 240,
        cautions,
      });
    steps.push(task("plant-on", 0, ["licensed-trades"]));
    steps.push({
      kind: "retest",
      quantities: ["freeChlorine", "ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid"],
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    });
    return recipeOf(id, given, steps, {
      fraction: each,
      litres: turns * each * litres,
      hours: (turns * each * litres) / fillRate,
    });
  };

export const lowerStabiliser = lower("lower-stabiliser", "cyanuricAcid");
export const lowerCalcium = lower("lower-calcium", "calciumHardness");
