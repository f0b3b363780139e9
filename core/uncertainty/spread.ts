import { DROP_SIZE_DEVIATION, SAMPLE_VOLUME_DEVIATION } from "../dosing/demand";
import { InputFault, numberWithin } from "../fault";
import type { Measurement } from "../measure/quantity";
import { normal, type Random } from "../random";
import type { Method } from "../testing/kit";

/**
 * What is known of a number: it lies evenly somewhere from `low` to `high` (the quantum of a drop, the
 * gap of a comparator), times a normal scatter around 1 (drop size, sample volume, strength, volume).
 */
export interface Spread {
  low: number;
  high: number;
  /** Relative standard deviation of the scatter. */
  deviation: number;
}

export const exactly = (value: number): Spread => ({ low: value, high: value, deviation: 0 });

/** A value with a relative standard deviation: a volume by tape, a strength by label. */
export const about = (value: number, deviation: number): Spread => ({ low: value, high: value, deviation });

/** Label strength of a product that has stood a while; hypochlorite more, see `STRENGTH_DEVIATION`. */
export const STRENGTH_DEVIATION = { liquid: 0.08, solid: 0.02 } as const;

/** A count of drops scatters with drop size and sample volume, relative. */
export const TITRATION_DEVIATION = Math.hypot(DROP_SIZE_DEVIATION, SAMPLE_VOLUME_DEVIATION);

/**
 * The spread of a reading by how it was made.
 * @throws InputFault for a bounded reading: from "at least 8.2" nothing can be drawn
 */
export function spreadOf(measured: Measurement, kind: Method["kind"]): Spread {
  if (measured.low === null || measured.high === null)
    throw new InputFault("inconsistent", "bound", measured.bound, "within");
  return {
    low: measured.low,
    high: measured.high,
    deviation: kind === "titration" ? TITRATION_DEVIATION : 0,
  };
}

/** Checks a spread that came from outside. */
export function checkedSpread(field: string, spread: Spread): Spread {
  const low = numberWithin(`${field}.low`, spread.low, -1e9, 1e9);
  numberWithin(`${field}.high`, spread.high, low, 1e9);
  numberWithin(`${field}.deviation`, spread.deviation, 0, 1);
  return spread;
}

/** One draw. A scatter below zero, far out in the tail, counts as nothing rather than as less. */
export function draw(spread: Spread, random: Random): number {
  const even = spread.low + (spread.high - spread.low) * random();
  return spread.deviation === 0 ? even : even * Math.max(0, 1 + spread.deviation * normal(random));
}
