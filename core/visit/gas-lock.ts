import { ACID_CHLORINE_MINUTES } from "../dosing/plan/steps";
import type { ProductId } from "../products/products";
import { meetBadly } from "../products/traits";
import type { ShelfProduct } from "./brought";
import type { VisitDose } from "./written";

/**
 * Until when a product must wait because acid and chlorine would meet: the one lock for whatever is given at a
 * visit, a step of a plan, a single dose and a dose by its label alike. Null where nothing speaks against it.
 * @example gasLock({ doses: [], products: [] }, "hydrochloric-acid") // null
 */
export function gasLock(
  {
    doses,
    products,
  }: { doses: readonly VisitDose[]; products: readonly Pick<ShelfProduct, "id" | "product">[] },
  compound: ProductId,
): Date | null {
  const ends = doses.flatMap(({ productId, givenGrams, givenAt }) => {
    const other = products.find(({ id }) => id === productId);
    return other && givenGrams > 0 && meetBadly(other.product, compound)
      ? [givenAt.getTime() + ACID_CHLORINE_MINUTES * 60_000]
      : [];
  });
  return ends.length > 0 ? new Date(Math.max(...ends)) : null;
}
