import type { Sample } from "../../water/sample";
import { effectPerGram } from "../products";
import type { Steered } from "./goals";
import { type PlanInput, WEIGHTS } from "./input";
import type { Solver } from "./programme";
import { type Solved, solvePlan } from "./solve";
import { type PlanStep, type StepSetting, stepsOf } from "./steps";

/** How an alternative was weighed. */
export const ALTERNATIVES = ["balanced", "cheapest", "fewest-products", "no-drain"] as const;
export type AlternativeName = (typeof ALTERNATIVES)[number];

/** What stands in the way of a reading that a plan cannot bring home. */
export type Obstacle = "no-product" | "stock" | "replacement-limit" | "fill-water" | "conflict" | "chosen";

export interface Plan {
  name: AlternativeName;
  solved: Solved;
  steps: PlanStep[];
  missed: { quantity: Steered; value: number; limit: number; obstacle: Obstacle }[];
}

const WEIGHING: Record<AlternativeName, (input: PlanInput) => PlanInput> = {
  balanced: (input) => input,
  cheapest: (input) => ({
    ...input,
    weights: { ...input.weights, product: 0.1, offAim: 0.005, offAimInside: 0.0005 },
  }),
  "fewest-products": (input) => ({
    ...input,
    weights: { ...input.weights, product: 30, offAim: 0.1, offAimInside: 0.002 },
  }),
  "no-drain": (input) => ({ ...input, mostReplaced: 0 }),
};

/**
 * One safe plan for all readings at once, and up to three others weighed differently; those that
 * come to the same amounts are left out. Deterministic: the same input gives the same plans.
 *
 * @throws InputFault for a water, a volume or a product off its limits
 */
export function plansFor(input: PlanInput, setting: StepSetting, solver: Solver): Plan[] {
  const plans: Plan[] = [];
  for (const name of ALTERNATIVES) {
    const weighed = WEIGHING[name]({ ...input, weights: { ...WEIGHTS, ...input.weights } });
    const solved = solvePlan(weighed, solver);
    if (plans.some((other) => sameAmounts(other.solved, solved))) continue;
    plans.push({
      name,
      solved,
      steps: stepsOf(weighed, solved.amounts, setting),
      missed: solved.missed.map((miss) => ({ ...miss, obstacle: obstacleTo(weighed, solved, miss) })),
    });
  }
  return plans;
}

/** Two plans are one when no amount differs by more than a hundredth. */
function sameAmounts(a: Solved, b: Solved): boolean {
  const near = (x: number, y: number) => Math.abs(x - y) <= 0.01 * Math.max(x, y, 1e-9);
  const keys = new Set([...a.amounts.grams.keys(), ...b.amounts.grams.keys()]);
  return (
    near(a.amounts.replaced, b.amounts.replaced) &&
    near(a.amounts.aerated, b.amounts.aerated) &&
    [...keys].every((key) => near(a.amounts.grams.get(key) ?? 0, b.amounts.grams.get(key) ?? 0))
  );
}

/** The total that stands for a reading, and the readings that nothing but other water brings down. */
const MOVED_BY: Record<Steered, "alkalinity" | "calcium" | "cyanurate" | "chlorine"> = {
  ph: "alkalinity",
  totalAlkalinity: "alkalinity",
  calciumHardness: "calcium",
  cyanuricAcid: "cyanurate",
  freeChlorine: "chlorine",
};

export function obstacleTo(
  input: PlanInput,
  solved: Solved,
  { quantity, value, limit }: { quantity: Steered; value: number; limit: number },
): Obstacle {
  const wanted = Math.sign(limit - value);
  const movers = input.products.filter(
    (product) => Math.sign(effectPerGram(product)[MOVED_BY[quantity]]) === wanted,
  );
  const spent = movers.some(
    (product) =>
      product.stock !== null && (solved.amounts.grams.get(product.key) ?? 0) > 0.999 * product.stock,
  );
  if (spent) return "stock";
  if (wanted < 0 && (quantity === "calciumHardness" || quantity === "cyanuricAcid")) {
    if (!input.fill) return "replacement-limit";
    if (input.fill[quantity] > limit) return "fill-water";
    return "replacement-limit";
  }
  return movers.length === 0 ? "no-product" : "conflict";
}

/** The readings that plans are told by. */
export const told = (sample: Sample) => ({
  ph: sample.ph,
  totalAlkalinity: sample.totalAlkalinity,
  calciumHardness: sample.calciumHardness,
  cyanuricAcid: sample.cyanuricAcid,
  freeChlorine: sample.freeChlorine,
});
