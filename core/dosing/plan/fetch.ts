import { PRODUCTS, type ProductId } from "../../products/products";
import { TRAITS, USES, type Use } from "../../products/traits";
import { choosable } from "./choosable";
import type { PlanInput, PlanProduct } from "./input";

/** What a shelf lacks for a plan. */

/** What is not on the shelf and would bring home what this plan cannot. */
export interface Fetch {
  product: ProductId;
  strength: number;
  /** More than is there, g as sold. */
  grams: number;
}

/** What a van carries for each use where the shelf has nothing. */
const USUAL_FOR: Record<Use, ProductId> = {
  acid: "hydrochloric-acid",
  base: "sodium-carbonate",
  alkalinity: "sodium-bicarbonate",
  calcium: "calcium-chloride",
  stabiliser: "cyanuric-acid",
  chlorine: "sodium-hypochlorite",
};
/** Money for a kilogram of what nobody has priced. */
export const PRICE_UNKNOWN = 3;

/**
 * The shelf as if everything stood on it: no stock ends, and for each use there is something.
 * @example fullShelf({ ...input, products: [] }).length // 6
 */
export function fullShelf(input: PlanInput): PlanProduct[] {
  const there = new Set(choosable(input).map(({ product }) => TRAITS[product].use));
  return [
    ...input.products.map((product) => ({ ...product, stock: null })),
    ...USES.filter((use) => !there.has(use)).map((use) => ({
      key: `fetched ${use}`,
      product: USUAL_FOR[use],
      strength: PRODUCTS[USUAL_FOR[use]].strength,
      pricePerKg: PRICE_UNKNOWN,
      stock: null,
    })),
  ];
}

/**
 * What of these amounts from a full shelf is not on the shelf.
 * @example lacking(input, fullShelf(input), new Map()) // []
 */
export const lacking = (
  { products }: PlanInput,
  full: readonly PlanProduct[],
  wanted: ReadonlyMap<string, number>,
): Fetch[] =>
  full.flatMap(({ key, product, strength }) => {
    const shelf = products.find((one) => one.key === key);
    const have = shelf ? (shelf.stock ?? Number.POSITIVE_INFINITY) : 0;
    const grams = (wanted.get(key) ?? 0) - have;
    return grams > 0 ? [{ product, strength, grams }] : [];
  });
