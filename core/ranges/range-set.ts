import { QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import { freeChlorineFor } from "../water/chlorine";

/** A named, dated school of what is right. Data: a firm may hold its own. */
export interface RangeSet {
  id: string;
  name: string;
  /** ISO date of this edition. */
  date: string;
  /** What it stands for, in the firm's words. */
  purpose: string;
  ranges: Partial<Record<Quantity, Range>>;
  /** Ranges that differ by the basin's surface; they go before `ranges`. */
  bySurface?: Partial<Record<Surface, Partial<Record<Quantity, Range>>>>;
  /** Where the saturation index may lie. */
  saturation?: { low: number; high: number };
}

/** A band with what to aim for inside it, and where the basin must close. In the quantity's unit. */
export interface Range {
  low?: number;
  high?: number;
  aim?: number;
  closeBelow?: number;
  closeAbove?: number;
  /** The limits are hypochlorous acid, mg/L; the free chlorine that gives it follows from the water. */
  heldBy?: "hypochlorous-acid";
  /** Other limits where there is no stabiliser in the water. */
  unstabilised?: Pick<Range, "low" | "closeBelow">;
}

export const SURFACES = ["plaster", "vinyl", "fibreglass", "acrylic", "tile", "concrete"] as const;
export type Surface = (typeof SURFACES)[number];

/** What the free chlorine that holds an amount of hypochlorous acid depends on. */
export interface HoldingWater {
  ph: number;
  cyanuricAcid: number;
  temperature: number;
  totalDissolvedSolids?: number;
}

/** Where a range is told without any water: the middle of what is common outdoors. */
const USUAL_WATER: HoldingWater = { ph: 7.5, cyanuricAcid: 30, temperature: 25 };

/** Chlorine of a pH that cannot be right would be held by none: the range is told for one of these. */
const HOLDING_PH = { low: 6.8, high: 8.4 };

/** Limits of one basin in place of its set's, by quantity. */
export type RangeOverrides = Partial<Record<Quantity, Range>>;

/**
 * The set as it applies to a basin that has limits of its own: they go before every other.
 * @example withOverrides(set, { ph: { low: 7.3, high: 7.7, aim: 7.5 } }).ranges.ph.aim // 7.5
 */
export function withOverrides(set: RangeSet, overrides: RangeOverrides | null): RangeSet {
  if (!overrides || Object.keys(overrides).length === 0) return set;
  const bySurface = Object.fromEntries(
    Object.entries(set.bySurface ?? {}).map(([surface, ranges]) => [surface, { ...ranges, ...overrides }]),
  );
  return { ...set, ranges: { ...set.ranges, ...overrides }, bySurface };
}

/**
 * Every range of a set as it applies to a basin of this surface with this water.
 * @example rangesOf(set, "plaster").totalAlkalinity.low // 80
 */
export const rangesOf = (
  set: RangeSet,
  surface: Surface,
  water?: HoldingWater,
): Partial<Record<Quantity, Range>> =>
  Object.fromEntries(
    QUANTITY_NAMES.flatMap((quantity) => {
      const range = rangeFor(set, quantity, surface, water);
      return range ? [[quantity, range]] : [];
    }),
  );

/**
 * The range that applies to a reading in a basin of this surface, or undefined when the set has none.
 * A range held by hypochlorous acid is told as the free chlorine that gives it in this water.
 * @example rangeFor(set, "ph", "plaster").high // 7.8
 */
export function rangeFor(
  set: RangeSet,
  quantity: Quantity,
  surface: Surface,
  water: HoldingWater = USUAL_WATER,
): Range | undefined {
  const range = set.bySurface?.[surface]?.[quantity] ?? set.ranges[quantity];
  if (range?.heldBy !== "hypochlorous-acid")
    return range?.unstabilised && water.cyanuricAcid <= 0 ? { ...range, ...range.unstabilised } : range;
  const holding = {
    totalDissolvedSolids: 1000,
    ...water,
    ph: Math.min(HOLDING_PH.high, Math.max(HOLDING_PH.low, water.ph)),
  };
  const free = (acid: number | undefined) =>
    acid === undefined ? undefined : Number(freeChlorineFor(acid, holding).toPrecision(6));
  const told: Range = {};
  for (const limit of ["low", "high", "aim", "closeBelow", "closeAbove"] as const) {
    const value = free(range[limit]);
    if (value !== undefined) told[limit] = value;
  }
  return told;
}
