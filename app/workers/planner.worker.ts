import { expose } from "comlink";
import loadHighs from "highs";
import wasmUrl from "highs/runtime?url";
import {
  type Highs,
  type NoRecipe,
  type PlanProblem,
  type Recipe,
  type RecipeId,
  type RecipeInput,
  recipeFor,
  type ShownPlans,
  shownPlans,
  solverOf,
} from "#core";

/** Plans and recipes, away from the page: the solver is loaded here, once. */
const loading = loadHighs({ locateFile: () => wasmUrl }).then((highs) => solverOf(highs as unknown as Highs));

const worker = {
  async plans(problem: PlanProblem): Promise<ShownPlans> {
    return shownPlans(problem, await loading);
  },
  async recipe(id: RecipeId, given: RecipeInput): Promise<Recipe | NoRecipe> {
    return recipeFor(id, given, await loading);
  },
};

export type PlannerWorker = typeof worker;

expose(worker);
