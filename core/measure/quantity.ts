/**
 * What a water test measures, its canonical unit, and the limits outside which a number cannot be
 * a reading of pool water at all (a slip of the keyboard, not a bad basin).
 */
export const QUANTITIES = {
  freeChlorine: { unit: "mg/L", low: 0, high: 200 },
  combinedChlorine: { unit: "mg/L", low: 0, high: 100 },
  totalChlorine: { unit: "mg/L", low: 0, high: 200 },
  bromine: { unit: "mg/L", low: 0, high: 450 },
  ph: { unit: "pH", low: 4, high: 11 },
  totalAlkalinity: { unit: "mg/L", low: 0, high: 2000 },
  calciumHardness: { unit: "mg/L", low: 0, high: 5000 },
  /** Calcium and magnesium together, from a strip: not calcium hardness. */
  totalHardness: { unit: "mg/L", low: 0, high: 5000 },
  cyanuricAcid: { unit: "mg/L", low: 0, high: 1000 },
  salt: { unit: "mg/L", low: 0, high: 40_000 },
  totalDissolvedSolids: { unit: "mg/L", low: 0, high: 40_000 },
  /** As boron. */
  borate: { unit: "mg/L", low: 0, high: 500 },
  /** As phosphate, PO4: what feeds algae. */
  phosphate: { unit: "mg/L", low: 0, high: 50 },
  iron: { unit: "mg/L", low: 0, high: 50 },
  copper: { unit: "mg/L", low: 0, high: 50 },
  /** Hotter than anybody should bathe in is a reading, and closes. */
  temperature: { unit: "°C", low: 0, high: 60 },
  /** Acid, or base, that brings the developed pH sample to its target colour. */
  acidDemand: { unit: "meq/L", low: 0, high: 50 },
  baseDemand: { unit: "meq/L", low: 0, high: 50 },
} as const satisfies Record<string, { unit: Unit; low: number; high: number }>;

export type Unit = "mg/L" | "pH" | "°C" | "meq/L";
export type Quantity = keyof typeof QUANTITIES;

export const QUANTITY_NAMES = Object.keys(QUANTITIES) as Quantity[];

/**
 * A measured value with what is known of its error. `low` and `high` bracket the truth;
 * with bound "at-least" only `low` is meant (`high` is null), with "at-most" only `high`.
 */
export interface Measurement {
  value: number;
  unit: Unit;
  low: number | null;
  high: number | null;
  bound: Bound;
}

export type Bound = "within" | "at-least" | "at-most";

/** Removes the noise of binary fractions (23 × 0.2 = 4.6, not 4.6000000000000005). */
export const tidy = (value: number): number => Number(value.toPrecision(12));

/** @example isQuantity("ph") // true */
export const isQuantity = (name: string): name is Quantity => NAMES.has(name);
const NAMES: ReadonlySet<string> = new Set(QUANTITY_NAMES);

/** One reading of each quantity at most: those that are used. */
export type Readings = Partial<Record<Quantity, Measurement>>;
