import { usualHabits } from "../../drift/habits";
import { PRODUCTS } from "../../products/products";
import type { PlanProduct } from "../plan/input";
import type { Feeder } from "./problem";

/** Money for a kilogram of chlorine out of a cell: its wear and its current. */
const CELL_PRICE = 9;
/** Where the shelf does not say: trichlor at 8.7 and liquid at 1.4 a kilogram, over the chlorine in them. */
const USUAL = { tablets: 9.7, pump: 13 } as const;
const FED = { tablets: "trichlor", pump: "sodium-hypochlorite" } as const;

/**
 * Money for a kilogram of chlorine out of a feeder, by what the shelf says of what goes into it.
 * @example fedPrice("saltCell", []) // 9
 */
export function fedPrice(kind: Feeder["kind"], products: readonly PlanProduct[]): number {
  if (kind === "saltCell") return CELL_PRICE;
  const product = products.find((one) => one.product === FED[kind]);
  return product ? product.pricePerKg / (product.strength || PRODUCTS[FED[kind]].strength) : USUAL[kind];
}

/** What a feeder can give over what it gives. */
const REACH = 2.5;
/** A kind of feeder, and what it stands at, makes no difference to what is usual. mg/L a day */
const USUAL_FED = usualHabits({ kind: "pool", outdoors: true, feeder: "pump" }).feeder.median;

/**
 * What a feeder can surely give, where nobody wrote it down: mg/L of chlorine a day. One that was turned off can be
 * turned on again, to what is usual of its like.
 * @param now what it gives, mg/L a day
 * @example feederMost(2) // 5
 */
export const feederMost = (now: number): number => Math.max(REACH * now, USUAL_FED);
