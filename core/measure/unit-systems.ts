import type { TemperatureUnit, VolumeUnit } from "./units";

/** In what somebody reads amounts; inside, everything is litres, grams and °C. */
export interface UnitsRead {
  /** A basin's water and what a tap gives. */
  water: "us-gal" | "L" | "imp-gal";
  /** What a water meter most often counts there. */
  meter: VolumeUnit;
  heat: TemperatureUnit;
  /** By tape. */
  length: "ft" | "m";
  /** What is poured, weighed and bought. */
  doses: "us" | "metric";
}

/**
 * Imperial gallons are counted where everything else went metric: products are sold there in kilograms and litres.
 * An imperial gallon is 1.20095 US gallons, so the two are never told by the same word.
 */
export const UNIT_SYSTEMS = {
  us: { water: "us-gal", meter: "us-gal", heat: "F", length: "ft", doses: "us" },
  metric: { water: "L", meter: "m3", heat: "C", length: "m", doses: "metric" },
  imperial: { water: "imp-gal", meter: "imp-gal", heat: "C", length: "m", doses: "metric" },
} as const satisfies Record<string, UnitsRead>;

export type UnitSystem = keyof typeof UNIT_SYSTEMS;
export const UNIT_SYSTEM_NAMES = Object.keys(UNIT_SYSTEMS) as UnitSystem[];

/** @example isUnitSystem("metric") // true */
export const isUnitSystem = (value: unknown): value is UnitSystem =>
  UNIT_SYSTEM_NAMES.some((name) => name === value);
