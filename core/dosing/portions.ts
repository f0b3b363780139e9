import type { Product } from "../products/products";
import { mostAtATime } from "../products/traits";

/** How an amount is split so that no portion is more than the water takes at once. */
export interface Portions {
  count: number;
  /** Grams as sold in each. */
  grams: number;
}

/** Splits an amount of product into equal portions within the limit for this volume. */
export function portionsOf(product: Product, grams: number, litres: number): Portions {
  if (grams <= 0) return { count: 1, grams };
  const count = Math.max(1, Math.ceil(grams / mostAtATime(product, litres) - 1e-9));
  return { count, grams: grams / count };
}
