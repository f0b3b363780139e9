import type { ShelfProduct } from "#core";
import type { Truck } from "../db/trucks";

/** A product of which no more is left than it is to be ordered at, with what is left of it anywhere. Grams */
export interface LowProduct {
  id: string;
  name: string;
  left: number;
  reorder: number;
}

/** Products to be ordered, by what is left on the shelf and on all trucks. */
export const lowProducts = (products: readonly ShelfProduct[], trucks: readonly Truck[]): LowProduct[] =>
  products.flatMap(({ id, name, left, reorder }) => {
    if (left === null || reorder === null) return [];
    const loaded = trucks
      .flatMap(({ stock }) => stock)
      .reduce((sum, one) => sum + (one.productId === id ? one.left : 0), 0);
    return left + loaded <= reorder ? [{ id, name, left: left + loaded, reorder }] : [];
  });
