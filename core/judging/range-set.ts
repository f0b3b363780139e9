import type { Quantity } from "../measure/quantity";
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
}

export const SURFACES = ["plaster", "vinyl", "fibreglass", "acrylic", "tile", "concrete"] as const;
export type Surface = (typeof SURFACES)[number];

/** What the free chlorine that holds an amount of hypochlorous acid depends on. */
export interface HoldingWater {
  ph: number;
  cyanuricAcid: number;
  temperature: number;
}

/** Where pH, stabiliser and temperature are not known: the middle of what is common. */
const USUAL_WATER: HoldingWater = { ph: 7.5, cyanuricAcid: 30, temperature: 25 };

/**
 * The range that applies to a reading in a basin of this surface, or undefined when the set has none.
 * A range held by hypochlorous acid is told as the free chlorine that gives it in this water.
 */
export function rangeFor(
  set: RangeSet,
  quantity: Quantity,
  surface: Surface,
  water: HoldingWater = USUAL_WATER,
): Range | undefined {
  const range = set.bySurface?.[surface]?.[quantity] ?? set.ranges[quantity];
  if (range?.heldBy !== "hypochlorous-acid") return range;
  const free = (acid: number | undefined) =>
    acid === undefined ? undefined : freeChlorineFor(acid, { ...water, totalDissolvedSolids: 1000 });
  const told: Range = {};
  for (const limit of ["low", "high", "aim", "closeBelow", "closeAbove"] as const) {
    const value = free(range[limit]);
    if (value !== undefined) told[limit] = value;
  }
  return told;
}
