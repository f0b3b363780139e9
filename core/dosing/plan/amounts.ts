import { type Treatment, treat } from "../../products/effects";
import { type Totals, totalsOf } from "../../water/sample";
import type { PlanInput } from "./input";

/** What a plan does to the water. */
export interface Amounts {
  /** Grams as sold, by the product's key; only what is used. */
  grams: ReadonlyMap<string, number>;
  /** Share of the water replaced first. */
  replaced: number;
  /** Carbon dioxide driven out by air, mmol/L. */
  aerated: number;
}

export const NOTHING: Amounts = { grams: new Map(), replaced: 0, aerated: 0 };

/** The amounts of a plan as what is done to its water. */
export const treatmentOf = (
  { products, fill }: Pick<PlanInput, "products" | "fill">,
  { grams, replaced, aerated }: Amounts,
): Treatment => ({
  replaced: replaced > 0 && fill ? { fraction: replaced, fill: totalsOf(fill) } : undefined,
  additions: products.flatMap(({ key, product, strength }) => {
    const amount = grams.get(key);
    return amount ? [{ product, strength, grams: amount }] : [];
  }),
  drivenOut: aerated / 1000,
});

/**
 * The water after these amounts: replaced, dosed, aired; nothing spent.
 * @example readingsOf(waterAfter(input, { grams: new Map(), replaced: 0, aerated: 0 })).ph // 7.9
 */
export const waterAfter = (
  input: Pick<PlanInput, "water" | "litres" | "products" | "fill">,
  amounts: Amounts,
): Totals => treat(totalsOf(input.water), treatmentOf(input, amounts), input.litres).totals;
