import type { MolarEffect } from "../../products/products";
import { chlorineBand } from "../../ranges/bathing-limits";
import { freeChlorineFor } from "../../water/chlorine";
import { molar } from "../../water/molar";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { Amounts } from "./amounts";
import { type Goal, STEERED, type Steered } from "./goals";
import type { PlanInput } from "./input";

/** What a plan's water is worth: how far it lies from its goals, and what that weighs against money. */

export interface Solved {
  amounts: Amounts;
  /** The readings after it, by the full equilibrium. */
  after: Sample;
  saturation: number;
  /** Money for what goes in. */
  cost: number;
  /** Cost with everything that is weighed against it; what the search made least. */
  score: number;
  /** Readings that end outside their limits: as near as these products can bring them. */
  missed: { quantity: Steered; limit: number; value: number }[];
  passes: number;
  /** Whether the passes agreed; the best of them is given where they did not. */
  settled: boolean;
}

/** The total that stands for a reading. */
export const MOVED_BY = {
  ph: "alkalinity",
  totalAlkalinity: "alkalinity",
  calciumHardness: "calcium",
  cyanuricAcid: "cyanurate",
  freeChlorine: "chlorine",
} as const satisfies Record<Steered, keyof MolarEffect>;

/** mg/L of a reading → mol/L. */
export const MOLES = {
  totalAlkalinity: molar.alkalinity,
  calciumHardness: molar.calcium,
  cyanuricAcid: molar.cyanurate,
  freeChlorine: molar.chlorine,
} as const;

const USUAL_HALF_WIDTH: Record<Steered, number> = {
  ph: 0.3,
  totalAlkalinity: 20,
  calciumHardness: 75,
  cyanuricAcid: 10,
  freeChlorine: 1.5,
};

/** Half the width of a goal, by which distances are measured. */
export function halfWidth(quantity: Steered, { low, high, aim }: Goal): number {
  if (low !== null && high !== null) return high > low ? (high - low) / 2 : USUAL_HALF_WIDTH[quantity];
  if (low !== null || high !== null)
    return Math.max(1e-6, Math.abs((low ?? high ?? 0) - aim), 0.25 * Math.abs(aim));
  return USUAL_HALF_WIDTH[quantity];
}

/**
 * Money and everything that is weighed against it, of amounts and the water they come to.
 * @example judged(input, { grams: new Map(), replaced: 0, aerated: 0 }, water).cost // 0
 */
export function judged(
  input: PlanInput,
  amounts: Amounts,
  after: Sample,
): Omit<Solved, "passes" | "settled"> {
  const { goals, weights, products, litres } = input;
  let cost = 0;
  let score = 0;
  for (const product of products) {
    const grams = amounts.grams.get(product.key) ?? 0;
    if (grams === 0) continue;
    cost += (grams / 1000) * product.pricePerKg;
    score += weights.product;
  }
  if (amounts.replaced > 0) score += weights.replacing + weights.replaced * amounts.replaced;
  if (amounts.aerated > 0) score += weights.aerating + weights.aeratedMillimole * amounts.aerated;
  score += (cost * 1000) / litres;
  const missed: Solved["missed"] = [];
  for (const quantity of STEERED) {
    const goal = quantity === "freeChlorine" ? chlorineGoal(input, after) : goals[quantity];
    const half = halfWidth(quantity, goal);
    const value = after[quantity];
    const under = goal.low === null ? 0 : Math.max(0, goal.low - value);
    const over = goal.high === null ? 0 : Math.max(0, value - goal.high);
    if (under + over > 1e-4 * half)
      missed.push({ quantity, limit: under > 0 ? (goal.low ?? 0) : (goal.high ?? 0), value });
    score +=
      priceOutside(weights, quantity) * (Math.max(0, under + over - slackOf(quantity, goal)) / half) +
      aimWeight(weights, goal) * (Math.abs(value - goal.aim) / half);
  }
  return { amounts, after, saturation: saturation(after).full.corrected, cost, score, missed };
}

/** pH and chlorine outside their limits hurt people: no other reading is worth either. */
const priceOutside = (weights: PlanInput["weights"], quantity: Steered): number =>
  quantity === "ph" || quantity === "freeChlorine" ? weights.outsideUnsafe : weights.outside;

/** What is steered goes to its aim; what lies inside its limits is left where it is. */
export const aimWeight = ({ offAim }: PlanInput["weights"], { steer }: Goal): number => (steer ? offAim : 0);

/** A step of the usual test: a drop, half a gap of colours. */
export const TEST_STEP: Record<Steered, number> = {
  ph: 0.1,
  totalAlkalinity: 10,
  calciumHardness: 10,
  cyanuricAcid: 5,
  freeChlorine: 0.2,
};

/**
 * How far the doses for other readings may take one that was inside beyond its limit before something
 * is given against it: half a drop, which no test would see; of pH and chlorine hardly anything.
 */
export const slackOf = (quantity: Steered, { steer }: Goal): number => {
  if (steer || quantity === "freeChlorine") return 0;
  return quantity === "ph" ? TEST_STEP.ph / 10 : TEST_STEP[quantity] / 2;
};

/**
 * Where free chlorine is to end, mg/L, in a water of this pH and stabiliser: its band, or what holds
 * the acid that kills. Chlorine that is over already falls by itself: it is kept from rising.
 * @example chlorineGoal(input, water).low // 1
 */
export function chlorineGoal(
  { goals, water }: Pick<PlanInput, "goals" | "water">,
  holding: Pick<Sample, "ph" | "cyanuricAcid" | "temperature" | "totalDissolvedSolids">,
): Goal {
  const acid = goals.hypochlorousAcid;
  const most = goals.mostChlorine;
  const capped = (limit: number | null) => (limit === null ? null : Math.min(most, limit));
  const { steer, known, ...band } = goals.freeChlorine;
  const told = acid ? heldBand(goals, acid, holding) : band;
  const over = band.high !== null && water.freeChlorine > band.high;
  return over
    ? { low: capped(told.low), high: water.freeChlorine, aim: water.freeChlorine, steer: false, known }
    : { low: capped(told.low), high: capped(told.high), aim: Math.min(most, told.aim), steer, known };
}

/** The band that holds this much of the acid, no limit of it where nobody may bathe. */
function heldBand(
  { chlorineCloses: { place, ...closes } }: PlanInput["goals"],
  { low, high, aim }: Pick<Goal, "low" | "high" | "aim">,
  holding: Parameters<typeof freeChlorineFor>[1],
): Pick<Goal, "low" | "high" | "aim"> {
  const free = (limit: number) => freeChlorineFor(limit, holding);
  const band = chlorineBand(
    {
      ...closes,
      aim: free(aim),
      ...(low === null ? {} : { low: free(low) }),
      ...(high === null ? {} : { high: free(high) }),
    },
    place,
  );
  return { low: band.low ?? null, high: band.high ?? null, aim: band.aim ?? free(aim) };
}
