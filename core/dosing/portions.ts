import { PRODUCTS, type Product, type ProductId } from "./products";

/** The water that the portion limits speak of, litres. */
const PORTION_VOLUME = 40_000;

/** Grams as sold at default strength, at a time, in 40 m³. Acid: 1 L of full strength. */
const MOST_AT_A_TIME: Partial<Record<ProductId, number>> = {
  "hydrochloric-acid": 1000 * (PRODUCTS["hydrochloric-acid"].density ?? 1),
  // as many moles of acid as a litre of full-strength hydrochloric
  "sodium-bisulfate": (((1160 * 0.3145) / 36.461) * 120.06) / 0.932,
  "sodium-bicarbonate": 5000,
  "calcium-chloride": 5000,
};

/** How an amount is split so that no portion is more than the water takes at once. */
export interface Portions {
  count: number;
  /** Grams as sold in each. */
  grams: number;
}

/** Splits an amount of product into equal portions within the limit for this volume. */
export function portionsOf(product: Product, grams: number, litres: number): Portions {
  const atDefault = MOST_AT_A_TIME[product.product];
  if (atDefault === undefined || grams <= 0) return { count: 1, grams };
  const limit =
    ((atDefault * PRODUCTS[product.product].strength) / product.strength) * (litres / PORTION_VOLUME);
  const count = Math.max(1, Math.ceil(grams / limit - 1e-9));
  return { count, grams: grams / count };
}
