import { type RawBuilder, sql } from "kysely";
import { isProductId, type Label, type ProductId, type ShelfProduct, USUAL_APART_HOURS } from "#core";
import type { FirmScope } from "./connection";

/** Products: what a firm doses from. */

/** Left of a count: what was counted less what was given out of that place since. */
const leftOf = (
  grams: RawBuilder<unknown>,
  countedAt: RawBuilder<unknown>,
  place: RawBuilder<unknown>,
) => sql<number | null>`greatest(0, ${grams} - (
    select coalesce(sum(dose.given_grams), 0) from dose
    where dose.firm_id = product.firm_id and dose.product_id = product.id and dose.superseded_at is null
      and dose.given_at > ${countedAt} and ${place}
  ))`;

/**
 * The firm's products in the order it prefers them. `left` is what stands on the shelf; for a member who
 * drives a truck on which a product is counted, what is left there.
 */
export async function productsOf(scope: FirmScope, memberId: string | null = null): Promise<ShelfProduct[]> {
  const { rows } = await productsQuery(sql.val(memberId)).execute(scope);
  return rows.flatMap(({ compound, ...row }) =>
    isProductId(compound) ? [{ ...row, product: compound }] : [],
  );
}

export type ProductRow = Omit<ShelfProduct, "product"> & { compound: string };

/** See `productsOf`. */
export function productsQuery(memberId: RawBuilder<unknown>): RawBuilder<ProductRow> {
  const onTruck = sql`
    select truck_stock.grams, truck_stock.counted_at, truck_stock.truck_id from truck
    join truck_stock on truck_stock.firm_id = truck.firm_id and truck_stock.truck_id = truck.id
      and truck_stock.product_id = product.id
    where truck.firm_id = product.firm_id and truck.member_id = ${memberId}::uuid and truck.retired_at is null`;
  return sql<ProductRow>`
    select product.id, compound, name, strength, density, price_per_kg as "pricePerKg", planned, position,
      reorder_grams as reorder,
      case when label_grams is not null then json_build_object(
        'perCubicMetre', label_grams, 'everyDays', label_days,
        'apartHours', coalesce(label_apart_hours, ${sql.lit(USUAL_APART_HOURS)})) end as label,
      case
        when own.truck_id is not null
          then ${leftOf(sql`own.grams`, sql`own.counted_at`, sql`dose.truck_id = own.truck_id`)}
        when stock_grams is not null
          then ${leftOf(sql`stock_grams`, sql`product.stock_counted_at`, sql`dose.truck_id is null`)}
      end as left
    from product left join lateral (${onTruck}) as own on true
    where retired_at is null
    order by position, name`;
}

export interface ProductInput {
  id: string;
  product: ProductId;
  name: string;
  strength: number;
  density: number | null;
  pricePerKg: number | null;
  /** Grams counted now; null to count nothing; left out to leave the count as it is. */
  stock?: number | null | undefined;
  /** Grams at which it is to be ordered again; left out to leave that as it is. */
  reorder?: number | null | undefined;
  planned: boolean;
  /** What the label says; left out to leave that as it is. */
  label?: Label | null | undefined;
}

/** Adds a product under a key that the client made, or changes it. A compound stays what it was. */
export async function saveProduct(
  scope: FirmScope,
  firmId: string,
  sent: ProductInput,
  now: Date,
): Promise<void> {
  const before = await scope
    .selectFrom("product")
    .select("price_per_kg")
    .where("id", "=", sent.id)
    .executeTakeFirst();
  const values = {
    name: sent.name,
    strength: sent.strength,
    density: sent.density,
    price_per_kg: sent.pricePerKg,
    planned: sent.planned,
    ...(sent.reorder === undefined ? {} : { reorder_grams: sent.reorder }),
    ...(sent.label === undefined
      ? {}
      : {
          label_grams: sent.label?.perCubicMetre ?? null,
          label_days: sent.label?.everyDays ?? null,
          label_apart_hours: sent.label?.apartHours ?? null,
        }),
    ...(sent.stock === undefined ? {} : { stock_grams: sent.stock, stock_counted_at: now }),
  };
  if (before) {
    await scope.updateTable("product").set(values).where("id", "=", sent.id).execute();
    if (before.price_per_kg !== sent.pricePerKg) await keepPrice(scope, firmId, sent, now);
    return;
  }
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
  await keepPrice(scope, firmId, sent, now);
}

async function keepPrice(scope: FirmScope, firmId: string, sent: ProductInput, now: Date): Promise<void> {
  await scope
    .insertInto("product_price")
    .values({ firm_id: firmId, product_id: sent.id, price_per_kg: sent.pricePerKg, known_from: now })
    .onConflict((conflict) =>
      conflict
        .columns(["firm_id", "product_id", "known_from"])
        .doUpdateSet({ price_per_kg: sent.pricePerKg }),
    )
    .execute();
}

export interface DatedPrice {
  productId: string;
  pricePerKg: number | null;
  /** Null for a price that was there from the first. */
  knownFrom: Date | null;
}

/** What products cost over time, the newest price first. */
export async function pricesOf(scope: FirmScope): Promise<DatedPrice[]> {
  const { rows } = await sql<DatedPrice>`
    select product_id as "productId", price_per_kg as "pricePerKg",
      case when isfinite(known_from) then known_from end as "knownFrom"
    from product_price order by product_price.known_from desc`.execute(scope);
  return rows;
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

/** What products are called and made of, those taken off the shelf too: doses of them stand in the book. */
export const productNames = (scope: FirmScope) =>
  scope.selectFrom("product").select(["id", "name", "compound", "strength", "density"]).execute();
