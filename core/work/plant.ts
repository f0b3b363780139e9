import { InputFault, numberWithin } from "../fault";

/** What the plant beside a basin shows: read off at a call, and none of it a test of the water. */

/**
 * Units are canonical; limits are those outside which no such gauge reads.
 * Filter pressures are over the air's, as a gauge shows them.
 */
export const PLANT = {
  filterPressure: { unit: "kPa", low: 0, high: 600 },
  /** Right after it was cleaned: what a later pressure is held against. */
  cleanPressure: { unit: "kPa", low: 0, high: 600 },
  flow: { unit: "L/min", low: 0, high: 20_000 },
  pumpHours: { unit: "h", low: 0, high: 24 },
  heater: { unit: "°C", low: 0, high: 60 },
  saltDisplay: { unit: "mg/L", low: 0, high: 40_000 },
  controllerPh: { unit: "pH", low: 0, high: 14 },
  controllerChlorine: { unit: "mg/L", low: 0, high: 50 },
  orp: { unit: "mV", low: -1000, high: 1200 },
  /** How deep one sees into the water, by a disc or a stick. */
  sight: { unit: "cm", low: 0, high: 500 },
  /** Fresh water since the meter was put in. */
  waterMeter: { unit: "m³", low: 0, high: 100_000_000 },
  /** How far the basin's line fell in a day of a bucket test, and how far that in the bucket did. */
  basinFall: { unit: "mm", low: 0, high: 500 },
  bucketFall: { unit: "mm", low: 0, high: 500 },
} as const satisfies Record<string, { unit: string; low: number; high: number }>;

export type PlantKind = keyof typeof PLANT;
export const PLANT_KINDS = Object.keys(PLANT) as PlantKind[];
/** @example isPlantKind("orp") // true */
export const isPlantKind = (kind: string): kind is PlantKind => Object.hasOwn(PLANT, kind);

/** A value as it can be read there. @throws InputFault that names it where no gauge shows that */
export const plantValue = (kind: PlantKind, value: unknown): number =>
  numberWithin(kind, value, PLANT[kind].low, PLANT[kind].high);

/**
 * A meter only counts up; one that shows less was changed, and whoever reads it says so.
 * @throws InputFault "unconfirmed" where it shows less than before and nobody said that it was changed
 */
export function checkMeter(value: number, before: number | null, wasChanged: boolean): void {
  if (before !== null && value < before && !wasChanged)
    throw new InputFault("unconfirmed", "waterMeter", value, before);
}

/**
 * A filter wants cleaning from a rise of 25 % over its clean pressure, or of 8 psi where that is less: usual practice
 * is 8 to 10 psi for sand and DE, 25 % for cartridges and low-pressure filters.
 */
export const FILTER_RISE = { share: 0.25, kPa: 55.2 } as const;

/** The pressure from which a filter wants cleaning, by its clean one, kPa. @example fullPressure(100) // 125 */
export const fullPressure = (clean: number): number =>
  clean + Math.min(FILTER_RISE.kPa, FILTER_RISE.share * clean);

/** Whether the filter wants cleaning; null where nobody read both pressures. @example filterIsFull(125, 100) // true */
export function filterIsFull(now: number | undefined, clean: number | undefined): boolean | null {
  if (now === undefined || clean === undefined || clean <= 0) return null;
  return now >= fullPressure(clean) - 1e-9;
}

/** What a controller shows beside what the drops came to at the same call. */
export interface ControllerPair {
  /** ms since 1970 */
  at: number;
  shown: number;
  /** By drops; for ORP what the water's own chlorine and pH make of it, see `orpShape`. */
  drops: number;
}

/**
 * What of a redox electrode's potential moves with the water: by Nernst's equation for HOCl + H⁺ + 2e⁻ → Cl⁻ + H₂O,
 * 29.6 mV for each tenfold of HOCl, and as much less for each unit of pH (25 °C). What an electrode adds of its own
 * is learned from its basin.
 * @param hypochlorous HOCl, mg/L as Cl₂
 * @returns mV, up to a constant
 * @example orpShape(0.1, 7.5) - orpShape(0.01, 7.5) // 29.58
 */
export const orpShape = (hypochlorous: number, ph: number): number =>
  NERNST_MV * (Math.log10(Math.max(1e-4, hypochlorous)) - ph);
/** 2.303·R·T / 2F at 25 °C, mV */
const NERNST_MV = 29.58;

/** From how far apart a controller is told to be off: what drops and a good probe differ by anyway. */
export const CONTROLLER_OFF = { controllerPh: 0.2, controllerChlorine: 0.5, orp: 40 } as const;
export type ControllerKind = keyof typeof CONTROLLER_OFF;
export const CONTROLLER_KINDS = Object.keys(CONTROLLER_OFF) as ControllerKind[];

/** Calls at which an electrode is learned before anything is held against it. */
const LEARNED_FROM = 3;
/** Calls in a row that make a drift of what could be one bad reading. */
const IN_A_ROW = 2;

export interface ControllerVerdict {
  /** Shown less drops, in the unit of the display; for ORP less what this basin's electrode usually shows. */
  off: number;
  /** Off the same way at the last calls, too: the probe drifts. */
  drifts: boolean;
}

/**
 * How a controller stands beside the drops at the last of these calls, the earliest first.
 * @returns null where it is as it should be, or too little is known
 * @example controllerOff("controllerPh", [{ at: 0, shown: 7.9, drops: 7.5 }])?.off // 0.4
 */
export function controllerOff(
  kind: ControllerKind,
  pairs: readonly ControllerPair[],
): ControllerVerdict | null {
  const last = pairs.at(-1);
  if (!last) return null;
  const earlier = pairs.slice(0, -1);
  if (kind === "orp" && earlier.length < LEARNED_FROM) return null;
  // A display tells the same quantity as the drops; an electrode what its own basin has taught.
  const own = kind === "orp" ? median(earlier.map(({ shown, drops }) => shown - drops)) : 0;
  const offs = pairs.map(({ shown, drops }) => shown - drops - own);
  const most = CONTROLLER_OFF[kind];
  const isOff = (off: number | undefined) => off !== undefined && Math.abs(off) >= most - 1e-9;
  const off = offs.at(-1) ?? 0;
  if (!isOff(off)) return null;
  const row = offs.slice(-IN_A_ROW);
  return {
    off,
    drifts: row.length === IN_A_ROW && row.every((one) => isOff(one) && Math.sign(one) === Math.sign(off)),
  };
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = Math.floor(sorted.length / 2);
  const [low = 0, high = 0] = [sorted[middle - 1], sorted[middle]];
  return sorted.length % 2 ? high : (low + high) / 2;
}
