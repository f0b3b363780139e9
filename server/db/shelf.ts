import type { Kit, Product, ProductId, RangeSet } from "#core";
import { PRODUCT_IDS } from "#core";
import { kitSchema, rangeSetSchema } from "#core/schemas";
import type { FirmScope } from "./connection";

/** Kits, range sets and products: what a firm tests with, judges by and doses from. */

/** One version of a kit, checked again as it leaves the table. */
export async function kitVersion(scope: FirmScope, id: string): Promise<Kit> {
  const { content } = await scope
    .selectFrom("kit")
    .select("content")
    .where("id", "=", id)
    .executeTakeFirstOrThrow();
  return kitSchema.validateAsync(content);
}

/** One version of a range set, checked again as it leaves the table. */
export async function rangeSetVersion(scope: FirmScope, id: string): Promise<RangeSet> {
  const { content } = await scope
    .selectFrom("range_set")
    .select("content")
    .where("id", "=", id)
    .executeTakeFirstOrThrow();
  return rangeSetSchema.validateAsync(content);
}

export interface ShelfProduct extends Product {
  id: string;
  name: string;
  density: number | null;
  pricePerKg: number | null;
}

const isProductId = (name: string): name is ProductId => PRODUCT_IDS.some((id) => id === name);

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
