import { expose } from "comlink";
import loadHighs from "highs";
import wasmUrl from "highs/runtime?url";
import {
  type Fan,
  fanOf,
  type Highs,
  type HorizonPlan,
  type HorizonProblem,
  horizonPlan,
  horizonPlans,
  type NoRecipe,
  type PlanInput,
  type Recipe,
  type RecipeId,
  type RecipeInput,
  recipeFor,
  solvePlan,
  solverOf,
} from "#core";

/** Plans and recipes, away from the page: the solver is loaded here, once. */
const loading = loadHighs({ locateFile: () => wasmUrl }).then((highs) => solverOf(highs as unknown as Highs));

/** A plan over the next calls, and the water until the first of them. */
export interface PlanAhead {
  plan: HorizonPlan;
  fan: Fan;
}

const worker = {
  async ahead(problem: HorizonProblem): Promise<PlanAhead> {
    const plan = horizonPlan(problem, await loading);
    return { plan, fan: fanOf(problem, plan) };
  },
  /** The ways beside the first one that differ from it. */
  async others(problem: HorizonProblem): Promise<HorizonPlan[]> {
    return horizonPlans(problem, await loading).slice(1);
  },
  /** One plan for a still water. */
  async still(input: PlanInput): Promise<ReturnType<typeof solvePlan>> {
    return solvePlan(input, await loading);
  },
  async recipe(id: RecipeId, given: RecipeInput): Promise<Recipe | NoRecipe> {
    return recipeFor(id, given, await loading);
  },
};

export type PlannerWorker = typeof worker;

expose(worker);
