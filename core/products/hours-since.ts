import type { ProductId } from "./products";

/**
 * Hours since the newest dose of a product that is meant; null where none went in.
 * @param doses with the grams that were really given; one of nothing is none
 */
export function hoursSince(
  doses: readonly { product: ProductId; grams: number; hoursAgo: number }[],
  isMeant: (product: ProductId) => boolean,
): number | null {
  const hours = doses.flatMap(({ product, grams, hoursAgo }) =>
    grams > 0 && isMeant(product) ? [hoursAgo] : [],
  );
  return hours.length > 0 ? Math.min(...hours) : null;
}
