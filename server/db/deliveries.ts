import { InputFault } from "#core";
import type { FirmScope } from "./connection";

/** A drum, a pallet, a tank load: all of it is as strong. */
export interface Delivery {
  id: string;
  productId: string;
  /** What is written on it, so that it is known again. */
  lot: string;
  /** The first day on which it is poured from, until the next one of the same product is. */
  usedFrom: string;
}

/** Every delivery, the newest in use first. */
export const deliveriesOf = (scope: FirmScope): Promise<Delivery[]> =>
  scope
    .selectFrom("delivery")
    .select((row) => [
      "id",
      "product_id as productId",
      "lot",
      row.cast<string>("used_from", "text").as("usedFrom"),
    ])
    .where("removed_at", "is", null)
    .orderBy("used_from", "desc")
    .orderBy("added_at", "desc")
    .execute();

/** Writes a delivery down, or corrects it. The same again changes nothing. */
export async function saveDelivery(
  scope: FirmScope,
  firmId: string,
  now: Date,
  { id, productId, lot, usedFrom }: Delivery,
): Promise<void> {
  const product = await scope
    .selectFrom("product")
    .select("id")
    .where("id", "=", productId)
    .executeTakeFirst();
  if (!product) throw new InputFault("unknown", "productId", productId);
  await scope
    .insertInto("delivery")
    .values({ id, firm_id: firmId, product_id: productId, lot, used_from: usedFrom, added_at: now })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ lot, used_from: usedFrom }))
    .execute();
}

/** Takes a delivery back that was written down by mistake: its doses are of the one before. */
export async function removeDelivery(scope: FirmScope, id: string, now: Date): Promise<void> {
  const removed = await scope
    .updateTable("delivery")
    .set({ removed_at: now })
    .where("id", "=", id)
    .returning("id")
    .executeTakeFirst();
  if (!removed) throw new InputFault("unknown", "delivery", id);
}
