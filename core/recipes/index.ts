import type { Solver } from "../dosing/plan/programme";
import { InputFault } from "../fault";
import { chlorineTooHigh } from "./chlorine-too-high";
import { freshFill } from "./fresh-fill";
import { greenPool } from "./green-pool";
import { type Make, type NoRecipe, RECIPE_IDS, type Recipe, type RecipeId, type RecipeInput } from "./recipe";
import { lowerCalcium, lowerStabiliser } from "./replacement";
import { closing, opening } from "./season";
import { breakpoint, persulfate } from "./shock";

export * from "./recipe";

const MAKERS: Record<RecipeId, Make> = {
  "fresh-fill": freshFill,
  opening,
  breakpoint,
  persulfate,
  "green-pool": greenPool,
  "lower-stabiliser": lowerStabiliser,
  "lower-calcium": lowerCalcium,
  "chlorine-too-high": chlorineTooHigh,
  closing,
};

/**
 * A recipe for this water, or why there is none.
 * @example recipeFor("lower-calcium", recipeInputOf(opened), solver) // "fill-unknown"
 */
export function recipeFor(id: RecipeId, given: RecipeInput, solver: Solver): Recipe | NoRecipe {
  try {
    return MAKERS[id](given, solver);
  } catch (fault) {
    if (fault instanceof InputFault) return "needs-readings";
    throw fault;
  }
}

/** Every recipe for this water, in their order, those that cannot be made with their reason. */
export const recipesFor = (
  given: RecipeInput,
  solver: Solver,
): { id: RecipeId; recipe: Recipe | NoRecipe }[] =>
  RECIPE_IDS.map((id) => ({ id, recipe: recipeFor(id, given, solver) }));
