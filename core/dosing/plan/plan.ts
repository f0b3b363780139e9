import { effectPerGram } from "../../products/products";
import { readingsOf } from "../../water/equilibrium";
import { waterAfter } from "./amounts";
import { choosable } from "./choosable";
import { type Fetch, fullShelf, lacking } from "./fetch";
import type { Steered } from "./goals";
import { type PlanInput, WEIGHTS } from "./input";
import type { Solver } from "./programme";
import { solvePlan } from "./solve";
import type { PlanStep, StepSetting } from "./steps";
import { safelyReplaced, type Way, type WayWater, wayOf } from "./way";
import { chlorineGoal, judged, MOLES, MOVED_BY, type Solved } from "./weighing";

/** How an alternative was weighed. */
export const ALTERNATIVES = ["balanced", "cheapest", "fewest-products", "no-drain"] as const;
export type AlternativeName = (typeof ALTERNATIVES)[number];

/**
 * What stands in the way of a reading that a plan cannot bring home: nothing on the shelf moves it, or not
 * enough; the share of water, or the water that would come; two readings that pull against one another;
 * a reading that falls by itself; a little of what another reading's dose does; no safe way there.
 */
export type Obstacle =
  | "no-product"
  | "stock"
  | "replacement-limit"
  | "fill-water"
  | "conflict"
  | "falls-by-itself"
  | "side-effect"
  | "unsafe-way"
  | "chosen";

export interface Missed {
  quantity: Steered;
  value: number;
  limit: number;
  obstacle: Obstacle;
}

export interface Plan {
  name: AlternativeName;
  solved: Solved;
  steps: PlanStep[];
  /** Every water on the way, in the order of the steps. */
  way: WayWater[];
  missed: Missed[];
  /** The saturation index, where it ends outside the set's window. */
  indexOutside: { value: number; limit: number } | null;
  fetch: Fetch[];
}

const WEIGHING: Record<AlternativeName, (input: PlanInput) => PlanInput> = {
  balanced: (input) => input,
  cheapest: (input) => ({
    ...input,
    weights: { ...input.weights, product: 0.0025, offAim: 0.005 },
  }),
  "fewest-products": (input) => ({
    ...input,
    weights: { ...input.weights, product: 0.75, offAim: 0.1 },
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
    // Where no water is replaced, doing without is the same plan.
    if (name === "no-drain" && plans[0]?.solved.amounts.replaced === 0) continue;
    const weighed = WEIGHING[name]({ ...input, weights: { ...WEIGHTS, ...input.weights } });
    const { solved, way } = safely(weighed, setting, solver);
    if (plans.some((other) => sameAmounts(other.solved, solved))) continue;
    const missed = missedBy(weighed, solved, way);
    plans.push({
      name,
      solved,
      steps: way.steps,
      way: way.waters,
      missed,
      indexOutside: outsideWindow(input.goals.saturation, solved.saturation),
      fetch: missed.some(({ obstacle }) => MENDED_BY_FETCHING.includes(obstacle))
        ? toFetch(weighed, solved, solver)
        : [],
    });
  }
  return plans;
}

/** The plan of least cost, and its way; cut down to what can be given safely where not all of it can. */
export function safely(input: PlanInput, setting: StepSetting, solver: Solver): { solved: Solved; way: Way } {
  let solved = solvePlan(input, solver);
  const share = safelyReplaced(input, solved.amounts.replaced);
  if (share < solved.amounts.replaced) solved = solvePlan({ ...input, mostReplaced: share }, solver);
  const way = wayOf(input, solved.amounts, setting);
  if (way.complete) return { solved, way };
  const { passes, settled } = solved;
  const after = readingsOf(waterAfter(input, way.given));
  return { solved: { ...judged(input, way.given, after), passes, settled }, way };
}

function missedBy(input: PlanInput, solved: Solved, way: Way): Missed[] {
  const { water, goals } = input;
  const missed = solved.missed.map((miss) => ({
    ...miss,
    obstacle: way.complete ? obstacleTo(input, solved, miss) : ("unsafe-way" as const),
  }));
  const { high } = chlorineGoal({ goals, water: { ...water, freeChlorine: 0 } }, solved.after);
  return high !== null && solved.after.freeChlorine > high && water.freeChlorine > high
    ? [
        ...missed,
        {
          quantity: "freeChlorine",
          value: solved.after.freeChlorine,
          limit: high,
          obstacle: "falls-by-itself",
        },
      ]
    : missed;
}

const outsideWindow = (window: { low: number; high: number }, value: number): Plan["indexOutside"] =>
  !Number.isFinite(value) || (value >= window.low && value <= window.high)
    ? null
    : { value, limit: value < window.low ? window.low : window.high };

const MENDED_BY_FETCHING: readonly Obstacle[] = ["no-product", "stock", "conflict"];

/** The plan with a full shelf, as far as it brings more readings home: what of it is not there. */
function toFetch(input: PlanInput, solved: Solved, solver: Solver): Fetch[] {
  const full = fullShelf(input);
  const better = solvePlan({ ...input, products: full }, solver);
  return better.score < solved.score ? lacking(input, full, better.amounts.grams) : [];
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

export function obstacleTo(
  input: PlanInput,
  solved: Solved,
  { quantity, value, limit }: { quantity: Steered; value: number; limit: number },
): Obstacle {
  const wanted = Math.sign(limit - value);
  if (quantity !== "ph" && !input.goals[quantity].steer && quantity !== "freeChlorine") return "side-effect";
  const movers = choosable(input).filter(
    (product) => Math.sign(effectPerGram(product)[MOVED_BY[quantity]]) === wanted,
  );
  const short = movers.some((product) => {
    if (product.stock === null) return false;
    const used = solved.amounts.grams.get(product.key) ?? 0;
    // What is left may be too little to be worth giving at all.
    const moved = Math.abs(effectPerGram(product)[MOVED_BY[quantity]]) * (product.stock - used);
    return (
      used > 0.999 * product.stock ||
      (quantity !== "ph" && moved < MOLES[quantity](Math.abs(limit - value)) * input.litres)
    );
  });
  if (short) return "stock";
  if (wanted < 0 && (quantity === "calciumHardness" || quantity === "cyanuricAcid")) {
    if (!input.fill) return "replacement-limit";
    if (input.fill[quantity] > limit) return "fill-water";
    return "replacement-limit";
  }
  return movers.length === 0 ? "no-product" : "conflict";
}
