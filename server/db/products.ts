import { sql } from "kysely";
import type { Product, ProductId } from "#core";
import { PRODUCT_IDS } from "#core";
import type { FirmScope } from "./connection";

/** Products: what a firm doses from. */

export interface ShelfProduct extends Product {
  id: string;
  name: string;
  density: number | null;
  pricePerKg: number | null;
  /** Grams left: what was counted less what was given since; null when nobody counts it. */
  left: number | null;
  /** Whether plans may use it. */
  planned: boolean;
  position: number;
}

export const isProductId = (name: string): name is ProductId => PRODUCT_IDS.some((id) => id === name);

/** The firm's products in the order it prefers them. */
export async function productsOf(scope: FirmScope): Promise<ShelfProduct[]> {
  const rows = await scope
    .selectFrom("product")
    .select([
      "id",
      "compound",
      "name",
      "strength",
      "density",
      "price_per_kg",
      "planned",
      "position",
      sql<number | null>`stock_grams - case when stock_grams is null then 0 else (
        select coalesce(sum(dose.given_grams), 0) from dose
        where dose.firm_id = product.firm_id and dose.product_id = product.id
          and dose.superseded_at is null and dose.given_at > product.stock_counted_at
      ) end`.as("left"),
    ])
    .where("retired_at", "is", null)
    .orderBy("position")
    .orderBy("name")
    .execute();
  return rows.flatMap(({ compound, price_per_kg, left, ...row }) =>
    isProductId(compound)
      ? [
          {
            ...row,
            product: compound,
            pricePerKg: price_per_kg,
            left: left === null ? null : Math.max(0, left),
          },
        ]
      : [],
  );
}

export interface SentProduct {
  id: string;
  product: ProductId;
  name: string;
  strength: number;
  density: number | null;
  pricePerKg: number | null;
  /** Grams counted now; null to count nothing; left out to leave the count as it is. */
  stock?: number | null | undefined;
  planned: boolean;
}

/** Adds a product under a key that the client made, or changes it. A compound stays what it was. */
export async function saveProduct(
  scope: FirmScope,
  firmId: string,
  sent: SentProduct,
  now: Date,
): Promise<void> {
  const values = {
    name: sent.name,
    strength: sent.strength,
    density: sent.density,
    price_per_kg: sent.pricePerKg,
    planned: sent.planned,
    ...(sent.stock === undefined ? {} : { stock_grams: sent.stock, stock_counted_at: now }),
  };
  const changed = await scope
    .updateTable("product")
    .set(values)
    .where("id", "=", sent.id)
    .returning("id")
    .executeTakeFirst();
  if (changed) return;
  const last = await scope
    .selectFrom("product")
    .select((row) => row.fn.max("position").as("position"))
    .executeTakeFirst();
  await scope
    .insertInto("product")
    .values({
      id: sent.id,
      firm_id: firmId,
      compound: sent.product,
      position: (last?.position ?? 0) + 1,
      ...values,
    })
    .execute();
}

/** Puts a product one place earlier in the order of preference. */
export async function preferProduct(scope: FirmScope, id: string): Promise<void> {
  const products = await productsOf(scope);
  const at = products.findIndex((product) => product.id === id);
  const above = products[at - 1];
  const own = products[at];
  if (!own || !above) return;
  const order = products.map((product) => product.id);
  order.splice(at - 1, 2, own.id, above.id);
  for (const [position, product] of order.entries())
    await scope.updateTable("product").set({ position }).where("id", "=", product).execute();
}

/** Takes a product off the shelf; what was dosed from it stays in the book. */
export async function retireProduct(scope: FirmScope, id: string, now: Date): Promise<void> {
  await scope.updateTable("product").set({ retired_at: now }).where("id", "=", id).execute();
}
