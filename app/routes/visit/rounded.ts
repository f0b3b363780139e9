import type { Quantity } from "#core";

/** As fine as the test that reads it. @example rounded("ph", 7.4321) */
export const rounded = (quantity: Quantity, value: number): number =>
  quantity === "ph" || quantity === "freeChlorine" ? Math.round(value * 10) / 10 : Math.round(value);
