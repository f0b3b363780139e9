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
