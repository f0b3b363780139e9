import { FRESH_SHOCK } from "../dosing/labelled";
import { solvePlan } from "../dosing/plan/solve";
import { doseStep, type PlanStep } from "../dosing/plan/steps";
import { stepsOf } from "../dosing/plan/way";
import { gramsForChange } from "../dosing/single";
import { freeChlorineFor, HELD_BY_HOCL } from "../water/chlorine";
import { pick, recipeOf, task } from "./parts";
import type { Make, RecipeInput } from "./recipe";

/** Free chlorine of a shock, mg/L: at least, and at most, more so where a liner or an acrylic shell would bleach. */
const SHOCK = { least: FRESH_SHOCK, most: 10, mostOnLiner: 5 } as const;

/** The free chlorine of a shock in this water: what holds the shock's acid, within those. */
function shockTo({ input, surface }: RecipeInput): number {
  const held = Math.max(SHOCK.least, freeChlorineFor(HELD_BY_HOCL.shock, input.water));
  return Math.min(held, surface === "vinyl" || surface === "acrylic" ? SHOCK.mostOnLiner : SHOCK.most);
}

/** Steps that bring all readings home, without their retest: the season's own comes at the end. */
function balanceSteps(given: RecipeInput, solver: Parameters<Make>[1], chlorine: boolean): PlanStep[] {
  const solved = solvePlan(given.input, solver);
  return stepsOf(given.input, solved.amounts, { ...given.setting, sanitiserFirst: false }).filter(
    (step) => step.kind !== "retest" && (chlorine || step.kind !== "dose" || !isChlorine(step.compound)),
  );
}

const isChlorine = (compound: string): boolean =>
  compound.endsWith("hypochlorite") || compound === "dichlor" || compound === "trichlor";

/** A shock after everything else, as its own step; none without a plain chlorine on the shelf. */
function shockStep(given: RecipeInput): PlanStep[] {
  const { input, setting } = given;
  const product = pick(input.products, ["sodium-hypochlorite", "calcium-hypochlorite"]);
  const raise = shockTo(given) - input.water.freeChlorine;
  if (!product || raise <= 0) return [];
  const grams = gramsForChange(product, "freeChlorine", raise, input.litres);
  return [doseStep(product, grams, input.litres, { ...setting, sanitiserFirst: true })];
}

/** The season begins: uncovered, filled, run and tested; balanced; then a shock in the evening. */
export const opening: Make = (given, solver) =>
  recipeOf("opening", given, [
    task("uncover"),
    task("fill-to-line"),
    task("check-equipment"),
    task("circulate-a-day", 24 * 60),
    ...balanceSteps(given, solver, false),
    ...(given.indoors ? [] : [task("evening")]),
    ...shockStep(given),
    task("brush", 0, ["closed-until"]),
    {
      kind: "retest",
      quantities: ["freeChlorine", "ph", "totalAlkalinity", "calciumHardness"],
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    },
  ]);

/** The season ends: balanced, shocked, lowered and drained where it would freeze, covered. */
export const closing: Make = (given, solver) => {
  const balanced = balanceSteps(given, solver, false);
  return recipeOf("closing", given, [
    ...balanced,
    ...shockStep(given),
    task("brush", 24 * 60, ["nobody-in"]),
    task("algaecide-by-label", 0, ["label-outranks"]),
    task("sequestrant-by-label", 0, ["label-outranks"]),
    {
      kind: "retest",
      quantities: ["freeChlorine", "ph", "totalAlkalinity"],
      waitMinutes: 0,
      cautions: ["label-outranks"],
    },
    task("lower-below-returns", 0, ["hydrostatic-lift", "dechlorinate-drain"]),
    task("drain-lines", 0, ["licensed-trades"]),
    task("cover-on"),
  ]);
};
