import { InputFault, numberWithin } from "../fault";
import type { Measurement } from "../measure/quantity";
import { normal, type Random } from "../random";
import type { Method } from "../testing/kit";
import type { Sample } from "../water/sample";

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

/**
 * A value with a relative standard deviation: a volume by tape, a strength by label.
 * @example about(7.5, 0.01) // { low: 7.5, high: 7.5, deviation: 0.01 }
 */
export const about = (value: number, deviation: number): Spread => ({ low: value, high: value, deviation });

/** Label strength of a product that has stood a while; hypochlorite more, see `STRENGTH_DEVIATION`. */
export const STRENGTH_DEVIATION = { liquid: 0.08, solid: 0.02 } as const;

/** Drop size and sample volume scatter this much, relative (one standard deviation). */
export const DROP_SIZE_DEVIATION = 0.05;
export const SAMPLE_VOLUME_DEVIATION = 0.02;

/** A count of drops scatters with drop size and sample volume, relative. */
export const TITRATION_DEVIATION = Math.hypot(DROP_SIZE_DEVIATION, SAMPLE_VOLUME_DEVIATION);

/**
 * How a reading scatters beside its bracket, relative: as its kind of test does, or as the hand does that made
 * it. What hands practise with has perfect marks: the vessel's own scatter stays.
 * @param own of the hand; left out for the default
 * @example deviationOf("titration", 0.08) // 0.0825
 */
export function deviationOf(kind: Method["kind"], own: number | undefined): number {
  if (own === undefined) return kind === "titration" ? TITRATION_DEVIATION : 0;
  return kind === "titration" ? Math.hypot(own, SAMPLE_VOLUME_DEVIATION) : own;
}

/**
 * The spread of a reading by how it was made: as wide as its bracket, around the value that is written
 * down. A count is written as n drops and its truth lies in the last of them; before a dose and after it
 * alike, so that the half drop between falls out of every difference and of every promise.
 *
 * @throws InputFault for a bounded reading: from "at least 8.2" nothing can be drawn
 */
export function spreadOf(
  measured: Measurement & { scatter?: number | undefined },
  kind: Method["kind"],
): Spread {
  if (measured.low === null || measured.high === null)
    throw new InputFault("inconsistent", "bound", measured.bound, "within");
  const half = (measured.high - measured.low) / 2;
  return {
    low: Math.max(0, measured.value - half),
    high: measured.value + half,
    deviation: deviationOf(kind, measured.scatter),
  };
}

const counted = (value: number, drop: number): Spread => ({
  low: Math.max(0, value - drop / 2),
  high: value + drop / 2,
  deviation: TITRATION_DEVIATION,
});

/** How sure usual readings are: a drop's quantum or a gap of colours, with the scatter of drop and sample. */
export const usualSpreads = (
  water: Pick<Sample, "ph" | "totalAlkalinity" | "calciumHardness" | "cyanuricAcid" | "freeChlorine">,
) => ({
  ph: { low: water.ph - 0.1, high: water.ph + 0.1, deviation: 0 },
  totalAlkalinity: counted(water.totalAlkalinity, 10),
  calciumHardness: counted(water.calciumHardness, 10),
  cyanuricAcid: { low: Math.max(0, water.cyanuricAcid - 5), high: water.cyanuricAcid + 5, deviation: 0 },
  freeChlorine: counted(water.freeChlorine, 0.2),
});

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
