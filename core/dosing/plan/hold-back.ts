import { InputFault } from "../../fault";
import { effectPerGram, type ProductId } from "../../products/products";
import { isAcid, TRAITS } from "../../products/traits";
import { chanceAbove } from "../../uncertainty/propagate";
import type { Amounts } from "./amounts";
import type { Goal, Steered } from "./goals";
import type { PlanInput, PlanProduct } from "./input";
import { type PredictOptions, planDraws } from "./predict";

/** What of a product is kept back until the water has been tested again. */
export interface HeldBack {
  product: string;
  grams: number;
  /** The reading that the whole amount might take past its limit, and the chance of it, 0…1. */
  quantity: Steered;
  limit: number;
  chance: number;
}

/** From this chance of overshooting a limit on, only the sure part goes in at first. */
export const MOST_CHANCE = 0.1;
/** A first part smaller than this share is not worth going back for. */
const LEAST_SHARE = 0.2;
const DRAWS = 2000;

/** Readings a product can push past a limit, the total by which it does, and which limit. */
const PUSHES: {
  quantity: Steered;
  total: "alkalinity" | "calcium" | "cyanurate" | "chlorine";
  side: 1 | -1;
}[] = [
  { quantity: "ph", total: "alkalinity", side: -1 },
  { quantity: "ph", total: "alkalinity", side: 1 },
  { quantity: "freeChlorine", total: "chlorine", side: 1 },
  { quantity: "calciumHardness", total: "calcium", side: 1 },
  { quantity: "cyanuricAcid", total: "cyanurate", side: 1 },
];

/**
 * The part of each product that is safe to give before anything is tested again. Where the chance of
 * passing a limit, from what is known of the readings, the volume and the strengths, is over a tenth,
 * the products that push there are cut until it is not.
 */
export function sureAmounts(
  input: PlanInput,
  amounts: Amounts,
  options: PredictOptions = {},
): { sure: Amounts; heldBack: HeldBack[] } {
  const heldBack: HeldBack[] = [];
  let sure = amounts;
  for (const { quantity, total, side } of PUSHES) {
    const limit = limitOf(input.goals[quantity], side);
    // A reading that the plan itself leaves beyond the limit is no accident.
    if (limit === null || side * (input.water[quantity] - limit) > 0) continue;
    const pushing = input.products.filter(
      (product) =>
        (sure.grams.get(product.key) ?? 0) > 0 &&
        side * effectPerGram(product)[total] > 0 &&
        // Bicarbonate and chlorine barely move the pH: what is dosed for another reading stays.
        (quantity !== "ph" || movesPh(product.product)),
    );
    if (pushing.length === 0) continue;
    const chance = (share: number) =>
      overshoot(input, scaled(sure, pushing, share), quantity, limit, side, options);
    const whole = chance(1);
    if (whole === null || whole <= MOST_CHANCE) continue;
    const share = safeShare((tried) => (chance(tried) ?? 1) <= MOST_CHANCE);
    const cut = scaled(sure, pushing, share);
    for (const { key } of pushing)
      heldBack.push({
        product: key,
        grams: (sure.grams.get(key) ?? 0) - (cut.grams.get(key) ?? 0),
        quantity,
        limit,
        chance: whole,
      });
    sure = cut;
  }
  return { sure, heldBack };
}

const limitOf = (goal: Goal, side: 1 | -1): number | null => (side > 0 ? goal.high : goal.low);

/** Bicarbonate and chlorine barely move the pH. */
const movesPh = (product: ProductId): boolean => {
  const { use } = TRAITS[product];
  return use === "acid" || use === "base";
};

function scaled(
  amounts: Amounts,
  products: readonly Pick<PlanProduct, "key" | "product">[],
  share: number,
): Amounts {
  const grams = new Map(amounts.grams);
  for (const { key } of products) {
    const whole = grams.get(key);
    if (whole !== undefined) grams.set(key, whole * share);
  }
  // Air lifts what acid took down: with less of one goes less of the other.
  const withAcid = products.some(({ product }) => isAcid(product));
  return { ...amounts, grams, aerated: withAcid ? amounts.aerated * share : amounts.aerated };
}

function overshoot(
  input: PlanInput,
  amounts: Amounts,
  quantity: Steered,
  limit: number,
  side: 1 | -1,
  options: PredictOptions,
): number | null {
  try {
    const { draws } = planDraws(input, amounts, { samples: DRAWS, ...options });
    const above = chanceAbove(draws[quantity], limit);
    return side > 0 ? above : 1 - above;
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

/** The largest share that is safe, to a twentieth; the least one worth giving when none is. */
function safeShare(safe: (share: number) => boolean): number {
  let low = LEAST_SHARE;
  let high = 1;
  while (high - low > 0.05) {
    const middle = (low + high) / 2;
    if (safe(middle)) low = middle;
    else high = middle;
  }
  return low;
}
