import { FRESH_SHOCK } from "../dosing/labelled";
import { solvePlan } from "../dosing/plan/solve";
import { doseStep, type PlanStep } from "../dosing/plan/steps";
import { stepsOf } from "../dosing/plan/way";
import { gramsForChange } from "../dosing/single";
import { freeChlorineFor, HELD_BY_HOCL } from "../water/chlorine";
import { mostShock } from "./most-shock";
import { pick, recipeOf, surroundings, task } from "./parts";
import type { Make, RecipeInput } from "./recipe";

/** The free chlorine of a shock in this water: what holds the shock's acid, within those. */
function shockTo({ input, surface }: RecipeInput): number {
  const held = Math.max(FRESH_SHOCK, freeChlorineFor(HELD_BY_HOCL.shock, input.water));
  return Math.min(held, mostShock(surface));
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

/** A shock after everything else, as its own step; what it falls away for is said in its place. */
function shockStep(given: RecipeInput): PlanStep[] {
  const { input, setting } = given;
  // Chlorine that nobody read stands at none: a shock by it could be a double one.
  if (!input.goals.freeChlorine.known) return [task("read-free-first")];
  const product = pick(input.products, ["sodium-hypochlorite", "calcium-hypochlorite"]);
  const raise = shockTo(given) - input.water.freeChlorine;
  if (raise <= 0) return [];
  if (!product) return [task("no-plain-chlorine")];
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
    ...surroundings(given.indoors),
    ...shockStep(given),
    task("brush", 0, ["closed-until"]),
    task("cover-again", 0, ["cover-watched"]),
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
    ...surroundings(given.indoors),
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
