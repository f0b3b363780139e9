import { sql } from "kysely";
import { InputFault } from "#core";
import type { Author } from "../author";
import { note } from "./audit";
import type { FirmScope } from "./connection";
import { productsOf } from "./products";

/** Trucks and what is counted on each. */

export interface Truck {
  id: string;
  name: string;
  memberId: string | null;
  stock: { productId: string; name: string; left: number; countedAt: Date }[];
}

/** The firm's trucks with what is left on each: what was counted less the doses out of it since. */
export async function trucksOf(scope: FirmScope): Promise<Truck[]> {
  const trucks = await scope
    .selectFrom("truck")
    .select(["id", "name", "member_id as memberId"])
    .where("retired_at", "is", null)
    .orderBy("name")
    .execute();
  const { rows } = await sql<Truck["stock"][number] & { truckId: string }>`
    select truck_stock.truck_id as "truckId", product.id as "productId", product.name,
      truck_stock.counted_at as "countedAt",
      greatest(0, truck_stock.grams - (
        select coalesce(sum(dose.given_grams), 0) from dose
        where dose.firm_id = truck_stock.firm_id and dose.product_id = truck_stock.product_id
          and dose.truck_id = truck_stock.truck_id and dose.superseded_at is null
          and dose.given_at > truck_stock.counted_at
      )) as left
    from truck_stock
    join product on product.firm_id = truck_stock.firm_id and product.id = truck_stock.product_id
    where product.retired_at is null order by product.position`.execute(scope);
  return trucks.map((truck) => ({
    ...truck,
    stock: rows.flatMap(({ truckId, ...one }) => (truckId === truck.id ? [one] : [])),
  }));
}

export interface TruckInput {
  id: string;
  name: string;
  memberId: string | null;
}

/** Adds a truck under a key that the client made, or changes it. Nobody drives two. */
export async function saveTruck(scope: FirmScope, { firmId }: Author, sent: TruckInput): Promise<void> {
  const driven = (await trucksOf(scope)).find(
    (truck) => truck.memberId !== null && truck.memberId === sent.memberId,
  );
  if (driven && driven.id !== sent.id)
    throw new InputFault("inconsistent", "memberId", sent.name, driven.name);
  const member = sent.memberId
    ? await scope.selectFrom("member").select("id").where("id", "=", sent.memberId).executeTakeFirst()
    : null;
  if (member === undefined) throw new InputFault("unknown", "memberId", sent.memberId);
  await scope
    .insertInto("truck")
    .values({ id: sent.id, firm_id: firmId, name: sent.name, member_id: sent.memberId })
    .onConflict((conflict) =>
      conflict.column("id").doUpdateSet({ name: sent.name, member_id: sent.memberId }),
    )
    .execute();
}

export async function retireTruck(scope: FirmScope, id: string, now: Date): Promise<void> {
  await scope.updateTable("truck").set({ retired_at: now, member_id: null }).where("id", "=", id).execute();
}

export interface LoadInput {
  truckId: string;
  productId: string;
  grams: number;
  /** Counted on the truck, or loaded onto it off the shelf. */
  how: "counted" | "loaded";
}

/**
 * Counts a product on a truck, or loads it off the shelf, which then holds so much less.
 * @throws InputFault "too-high" when the shelf does not hold so much
 */
export async function loadTruck(scope: FirmScope, author: Author, sent: LoadInput): Promise<void> {
  const truck = (await trucksOf(scope)).find((one) => one.id === sent.truckId);
  if (!truck) throw new InputFault("unknown", "truckId", sent.truckId);
  const product = (await productsOf(scope)).find((one) => one.id === sent.productId);
  if (!product) throw new InputFault("unknown", "productId", sent.productId);
  const there = truck.stock.find((one) => one.productId === sent.productId)?.left ?? 0;
  if (sent.how === "loaded" && product.left !== null) {
    if (sent.grams > product.left) throw new InputFault("too-high", "grams", sent.grams, product.left);
    await scope
      .updateTable("product")
      .set({ stock_grams: product.left - sent.grams, stock_counted_at: author.now })
      .where("id", "=", sent.productId)
      .execute();
  }
  const grams = sent.how === "loaded" ? there + sent.grams : sent.grams;
  await scope
    .insertInto("truck_stock")
    .values({
      firm_id: author.firmId,
      truck_id: sent.truckId,
      product_id: sent.productId,
      grams,
      counted_at: author.now,
    })
    .onConflict((conflict) =>
      conflict.columns(["firm_id", "truck_id", "product_id"]).doUpdateSet({ grams, counted_at: author.now }),
    )
    .execute();
  await note(scope, author, "stock-counted", sent.truckId, {
    name: `${product.name}, ${truck.name}`,
    changes: { grams: { was: Math.round(there), became: Math.round(grams) } },
  });
}
