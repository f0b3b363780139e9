import type { Product, ProductId } from "#core";
import { PRODUCT_IDS } from "#core";
import type { FirmScope } from "./connection";

/** Products: what a firm doses from. */

export interface ShelfProduct extends Product {
  id: string;
  name: string;
  density: number | null;
  pricePerKg: number | null;
}

export const isProductId = (name: string): name is ProductId => PRODUCT_IDS.some((id) => id === name);

/** The firm's products in the order it prefers them. */
export async function productsOf(scope: FirmScope): Promise<ShelfProduct[]> {
  const rows = await scope
    .selectFrom("product")
    .select(["id", "compound", "name", "strength", "density", "price_per_kg"])
    .where("retired_at", "is", null)
    .orderBy("position")
    .execute();
  return rows.flatMap(({ compound, price_per_kg, ...row }) =>
    isProductId(compound) ? [{ ...row, product: compound, pricePerKg: price_per_kg }] : [],
  );
}
