import type { Quantity, Readings } from "../../measure/quantity";
import type { Range } from "../../ranges/range";
import { placeInRange } from "../findings";
import type { Notice } from "./notice";

/** Borate under which it moves no amount that anybody measures, mg/L as B. */
const BORATE_COUNTS = 5;

/** What there is a little of, and what it means: metals stain, phosphate feeds algae, borate holds the pH. */
export function traces(readings: Readings, ranges: Partial<Record<Quantity, Range>>): Notice[] {
  const over = (quantity: Quantity) => {
    const reading = readings[quantity];
    const limit = ranges[quantity]?.high;
    return reading && limit !== undefined && placeInRange(reading, ranges[quantity]) === "high"
      ? { value: reading.value, limit }
      : null;
  };
  const metals = (["iron", "copper"] as const).flatMap((quantity): Notice[] => {
    const found = over(quantity);
    return found ? [{ code: "metal.stains", quantity, ...found }] : [];
  });
  const phosphate = over("phosphate");
  const { borate } = readings;
  return [
    ...metals,
    ...(phosphate
      ? [{ code: "phosphate.feeds" as const, ...phosphate, isHeld: isHeld(readings, ranges) }]
      : []),
    ...(borate?.bound === "within" && borate.value >= BORATE_COUNTS
      ? [{ code: "borate.holds" as const, value: borate.value }]
      : []),
  ];
}

/** Whether the sanitizer was read, and not under its range. */
const isHeld = (readings: Readings, ranges: Partial<Record<Quantity, Range>>): boolean =>
  (["freeChlorine", "bromine"] as const).some((quantity) => {
    const reading = readings[quantity];
    const range = ranges[quantity];
    return reading !== undefined && range !== undefined && placeInRange(reading, range) !== "low";
  });
