import type { Quantity } from "../measure/quantity";

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
}

/** A band with what to aim for inside it, and where the basin must close. In the quantity's unit. */
export interface Range {
  low?: number;
  high?: number;
  aim?: number;
  closeBelow?: number;
  closeAbove?: number;
}

export const SURFACES = ["plaster", "vinyl", "fibreglass", "acrylic", "tile", "concrete"] as const;
export type Surface = (typeof SURFACES)[number];

/** The range that applies to a reading in a basin of this surface, or undefined when the set has none. */
export const rangeFor = (set: RangeSet, quantity: Quantity, surface: Surface): Range | undefined =>
  set.bySurface?.[surface]?.[quantity] ?? set.ranges[quantity];
