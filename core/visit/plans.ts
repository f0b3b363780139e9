import { HORIZON_NAMES, type HorizonPlan } from "../dosing/horizon/plan";
import type { HorizonProblem } from "../dosing/horizon/problem";
import { type Amounts, waterAfter } from "../dosing/plan/amounts";
import { BATHING_CHLORINE } from "../dosing/plan/goals";
import type { PlanInput } from "../dosing/plan/input";
import { ALTERNATIVES } from "../dosing/plan/plan";
import type { NoPlan } from "../dosing/plan/problem";
import { withPromises } from "../dosing/plan/promises";
import type { PlanProblem } from "../dosing/plan/shown";
import type { StepSetting } from "../dosing/plan/steps";
import { SAFE_WAY, safelyReplaced, stepsOf, wayOf } from "../dosing/plan/way";
import { judged } from "../dosing/plan/weighing";
import { amountsOf } from "../dosing/what-if";
import { InputFault } from "../fault";
import { addTo, driveOut, replaceWater } from "../products/effects";
import { mostAtATime } from "../products/traits";
import { RECIPE_IDS, type Recipe } from "../recipes/recipe";
import { readingsOf } from "../water/equilibrium";
import { type Sample, totalsOf } from "../water/sample";
import { saturation } from "../water/saturation";
import type { PlanContent } from "./written";

/** A plan that is begun, as it is kept; and what it is held to, whoever worked it out. */

/** What is asked to be begun: amounts of one's own, or a plan or recipe that a planner found. */
export type PlanAsked =
  | { origin: "alternative" | "recipe"; name: string; content?: PlanContent | undefined }
  | { origin: "what-if"; grams: Record<string, number>; replaced: number; aerated: number };

const basisOf = ({ water, litres, products, fill }: PlanInput): PlanContent["basis"] => ({
  water,
  litres,
  products,
  fill,
});

/**
 * A plan over several calls as it is kept: today's pours, and what was said of the calls to come.
 * @example contentOfHorizon(horizon, horizonPlan(horizon, solver)).basis.litres // 40000
 */
export function contentOfHorizon(
  { still: { input, spreads } }: HorizonProblem,
  { now, leave, calls, projects, promised, opens, leftOut, open }: HorizonPlan,
): PlanContent {
  return {
    basis: basisOf(input),
    spreads: spreads ?? null,
    after: now.after,
    saturation: now.saturation,
    cost: now.cost,
    steps: now.steps,
    missed: [],
    facts: {},
    ahead: { leave, calls, projects, promised, opens, leftOut, open },
  };
}

/**
 * A recipe as it is kept.
 * @example contentOfRecipe(problem, { after: water, cost: 3, steps: [], facts: {} }).cost // 3
 */
export const contentOfRecipe = ({ input, spreads }: PlanProblem, recipe: Recipe): PlanContent => ({
  basis: basisOf(input),
  spreads: spreads ?? null,
  after: recipe.after,
  saturation: saturation(recipe.after).full.corrected,
  cost: recipe.cost,
  steps: recipe.steps,
  missed: [],
  facts: recipe.facts,
});

/** Amounts chosen by hand as they are kept; refused where no order of theirs is safe. */
function contentOfAmounts(
  { input, setting, spreads }: PlanProblem,
  asked: Extract<PlanAsked, { origin: "what-if" }>,
): PlanContent {
  const amounts = amountsOf(asked);
  const keys = input.products.map((product) => product.key);
  for (const key of amounts.grams.keys())
    if (!keys.includes(key)) throw new InputFault("unknown", "grams", key, keys);
  if (amounts.replaced > 0 && !input.fill) throw new InputFault("missing", "fill", undefined);
  refuseUnsafe(input, amounts, setting);
  const after = readingsOf(waterAfter(input, amounts));
  const { saturation, cost, missed } = judged(input, amounts, after);
  const steps = withPromises(input, stepsOf(input, amounts, setting), spreads ? { spreads } : {});
  if (steps.length === 0) throw new InputFault("missing", "grams", 0);
  return {
    basis: basisOf(input),
    spreads: spreads ?? null,
    after,
    saturation,
    cost,
    steps,
    missed: missed.map((miss) => ({ ...miss, obstacle: "chosen" as const })),
    facts: {},
  };
}

/** Amounts chosen by hand that no order makes safe are not begun: the fault says how much would be. */
function refuseUnsafe(input: PlanInput, amounts: Amounts, setting: StepSetting): void {
  const { given, complete } = wayOf(input, amounts, setting);
  if (complete) return;
  if (given.replaced < amounts.replaced)
    throw new InputFault("too-high", "replaced", amounts.replaced, safelyReplaced(input, amounts.replaced));
  for (const [key, grams] of amounts.grams) {
    const safe = given.grams.get(key) ?? 0;
    if (safe < grams * (1 - 1e-6))
      throw new InputFault("too-high", "grams", Math.round(grams), Math.floor(safe));
  }
  throw new InputFault("too-high", "aerated", amounts.aerated, given.aerated);
}

/**
 * What is kept of a plan that is asked for, checked against the water of the visit.
 * @param unseen there is something in the visit that whoever asks could not see: a plan that was found for
 *   the water as they knew it is then held to that water
 * @throws InputFault "changed" for a plan found for another water, and what else is wrong with it by name
 */
export function planKept(
  problem: PlanProblem | NoPlan,
  asked: PlanAsked,
  unseen = false,
): { name: string; content: PlanContent } {
  if (asked.origin === "what-if")
    return { name: "what-if", content: contentOfAmounts(problemOrThrow(problem), asked) };
  const names: readonly string[] =
    asked.origin === "recipe" ? RECIPE_IDS : [...ALTERNATIVES, ...HORIZON_NAMES];
  if (!names.includes(asked.name)) throw new InputFault("unknown", "name", asked.name, names);
  const { content } = asked;
  if (!content) throw new InputFault("missing", "content", undefined);
  if (!unseen) checkWater(problemOrThrow(problem).input, content);
  const mostChlorine = "reason" in problem ? BATHING_CHLORINE : problem.input.goals.mostChlorine;
  checkSteps(mostChlorine, asked.origin, content);
  return { name: asked.name, content };
}

/** The problem, or the fault that says why there is none. @example problemOrThrow(problem).input.litres // 40000 */
export function problemOrThrow(problem: PlanProblem | NoPlan): PlanProblem {
  if (!("reason" in problem)) return problem;
  const which = "quantity" in problem ? problem.quantity : "";
  throw new InputFault("inconsistent", "readings", problem.reason, which);
}

/** Numbers that crossed from one machine to another agree to this share. */
const EXACT = 1e-9;
const isClose = (a: number, b: number, share = EXACT): boolean =>
  Math.abs(a - b) <= share * Math.max(1, Math.abs(a), Math.abs(b));

function sameSample(a: Sample | null, b: Sample | null): boolean {
  if (!a || !b) return a === b;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]) as Set<keyof Sample>;
  return [...keys].every((key) => isClose(a[key] ?? 0, b[key] ?? 0));
}

/** A plan is good for the water, the volume and the products that it was found for. */
function checkWater(input: PlanInput, { basis, steps }: PlanContent): void {
  if (!sameSample(input.water, basis.water) || !sameSample(input.fill, basis.fill))
    throw new InputFault("changed", "readings", "plan");
  if (!isClose(input.litres, basis.litres))
    throw new InputFault("changed", "litres", basis.litres, input.litres);
  for (const step of steps) {
    if (step.kind !== "dose") continue;
    const here = input.products.find(({ key }) => key === step.product);
    const then = basis.products.find(({ key }) => key === step.product);
    if (!here || !then || here.product !== step.compound || !isClose(here.strength, then.strength))
      throw new InputFault("changed", "product", step.product);
  }
}

/** What a plan's steps come to by the equilibrium may differ from what it says by this much pH. */
const PH_TOLERANCE = 0.02;
/** A portion may be this much larger than the most at a time: amounts are rounded. */
const PORTION_TOLERANCE = 1e-3;

/**
 * Walks through the steps: every portion within what the water takes at once, every water of a plan within
 * the safe way, and the water at the end the one that is promised. Recipes have a way of their own.
 */
function checkSteps(mostChlorine: number, origin: "alternative" | "recipe", content: PlanContent): void {
  const { water, litres, fill, products } = content.basis;
  let totals = totalsOf(water);
  const from = readingsOf(totals);
  const low = Math.min(SAFE_WAY.ph.low, from.ph);
  const high = Math.max(SAFE_WAY.ph.high, from.ph);
  const most = Math.max(mostChlorine, from.freeChlorine);
  const passes = (position: number) => {
    const water = readingsOf(totals);
    if (origin === "recipe") return;
    if (water.ph < low - PH_TOLERANCE) throw new InputFault("too-low", `steps.${position}.ph`, water.ph, low);
    if (water.ph > high + PH_TOLERANCE)
      throw new InputFault("too-high", `steps.${position}.ph`, water.ph, high);
    if (water.freeChlorine > most * 1.001)
      throw new InputFault("too-high", `steps.${position}.freeChlorine`, water.freeChlorine, most);
  };
  content.steps.forEach((step, position) => {
    if (step.kind === "replace-water") {
      if (!fill) throw new InputFault("missing", "fill", undefined);
      totals = replaceWater(totals, totalsOf(fill), step.fraction);
      passes(position);
    }
    if (step.kind === "aerate") {
      totals = driveOut(totals, step.millimoles / 1000);
      passes(position);
    }
    if (step.kind !== "dose") return;
    const product = products.find(({ key }) => key === step.product);
    if (!product) throw new InputFault("unknown", `steps.${position}.product`, step.product);
    const portion = step.grams / Math.max(1, step.portions);
    const largest = mostAtATime(product, litres);
    if (portion > largest * (1 + PORTION_TOLERANCE))
      throw new InputFault("too-high", `steps.${position}.portionGrams`, portion, largest);
    for (let given = 0; given < Math.min(step.portions, 100); given++) {
      totals = addTo(totals, [{ ...product, grams: portion }], litres).totals;
      passes(position);
    }
  });
  checkEnd(origin, content, readingsOf(totals));
}

/** A plan ends where it says. A recipe's chlorine falls by itself, or goes into what is burnt off, besides. */
function checkEnd(origin: "alternative" | "recipe", { after, facts, steps }: PlanContent, end: Sample): void {
  const isLeftToItself = Object.keys(facts).length > 0 || steps.some((step) => step.kind === "task");
  if (origin === "recipe" && isLeftToItself) return;
  if (Math.abs(end.ph - after.ph) > PH_TOLERANCE)
    throw new InputFault("inconsistent", "after.ph", after.ph, end.ph);
  for (const quantity of ["totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const)
    if (Math.abs(end[quantity] - after[quantity]) > 0.1 + 0.005 * end[quantity])
      throw new InputFault("inconsistent", `after.${quantity}`, after[quantity], end[quantity]);
}
