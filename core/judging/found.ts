import { millisecondsInHour } from "date-fns/constants";
import { type Bound, QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import type { Range } from "../ranges/range";
import { placeInRange } from "./findings";

/** Where what was read last stands, whenever that was: for what is no routine, and for what goes in by its label. */

export interface Found {
  place: "low" | "within" | "high";
  hoursAgo: number;
}

/**
 * Where the newest reading of each quantity stands, and how old it is at a moment, ms since 1970.
 * @example lastFound([], {}, Date.now()) // {}
 */
export const lastFound = (
  readings: readonly { quantity: Quantity; value: number; takenAt: Date; bound?: Bound }[],
  ranges: Partial<Record<Quantity, Range>>,
  at: number,
): Partial<Record<Quantity, Found>> =>
  Object.fromEntries(
    readings.map(({ quantity, value, takenAt, bound = "within" }) => [
      quantity,
      {
        place: placeInRange({ value, bound }, ranges[quantity]),
        hoursAgo: Math.max(0, at - takenAt.getTime()) / millisecondsInHour,
      },
    ]),
  );

/**
 * The quantities that were out of their ranges when they were last read.
 * @example outIn({ copper: { place: "high", hoursAgo: 700 } }).has("copper") // true
 */
export const outIn = (found: Partial<Record<Quantity, Found>>): Set<Quantity> =>
  new Set(QUANTITY_NAMES.filter((quantity) => (found[quantity]?.place ?? "within") !== "within"));
