import { type Amounts, waterAfter } from "../dosing/plan/amounts";
import type { PlanProduct } from "../dosing/plan/input";
import { withPromises } from "../dosing/plan/promises";
import { keptApart, type PlanStep, type TaskCode } from "../dosing/plan/steps";
import { judged } from "../dosing/plan/weighing";
import type { ProductId } from "../products/products";
import { readingsOf } from "../water/equilibrium";
import type { Recipe, RecipeFacts, RecipeId, RecipeInput } from "./recipe";

/** Something to be done that nothing is poured for. */
export const task = (code: TaskCode, waitMinutes = 0, cautions: PlanStep["cautions"] = []): PlanStep => ({
  kind: "task",
  task: code,
  waitMinutes,
  cautions,
});

/** Where chlorine comes off the water: outdoors in the evening, indoors with fresh air; the cover open, and watched. */
export const surroundings = (indoors: boolean): PlanStep[] => [
  indoors ? task("hall-empty", 0, ["ventilate", "nobody-in"]) : task("evening", 0, ["nobody-in"]),
  task("cover-watched", 0, ["cover-watched"]),
];

/** The first of these compounds that is on the shelf with some of it left. */
export function pick(
  products: readonly PlanProduct[],
  wanted: readonly ProductId[],
): PlanProduct | undefined {
  return wanted
    .map((id) => products.find((product) => product.product === id && product.stock !== 0))
    .find((product) => product !== undefined);
}

/** What a recipe's steps put in, all together. */
function amountsIn(steps: readonly PlanStep[]): Amounts {
  const grams = new Map<string, number>();
  let replaced = 0;
  let aerated = 0;
  for (const step of steps) {
    if (step.kind === "dose") grams.set(step.product, (grams.get(step.product) ?? 0) + step.grams);
    if (step.kind === "replace-water") replaced = 1 - (1 - replaced) * (1 - step.fraction);
    if (step.kind === "aerate") aerated += step.millimoles;
  }
  return { grams, replaced, aerated };
}

/** A recipe from its steps: what it costs, and what it comes to. */
export function recipeOf(
  id: RecipeId,
  given: RecipeInput,
  steps: readonly PlanStep[],
  facts: RecipeFacts = {},
): Recipe {
  const { input, spreads } = given;
  const amounts = amountsIn(steps);
  const after = readingsOf(waterAfter(input, amounts));
  return {
    id,
    steps: withPromises(input, keptApart(steps), spreads ? { spreads } : {}),
    cost: judged(input, amounts, after).cost,
    before: input.water,
    after,
    facts,
  };
}
