import type { ProductId, Quantity } from "#core";

/**
 * What happened in the demo year, told in days ago. Each story bends the simulation, so that the book
 * holds its traces and somebody who reads it can work out what went wrong.
 */
export interface Story {
  basins: readonly string[];
  /** Factor by which a test reads high. */
  readsHigh?(quantity: Quantity, ago: number): number | undefined;
  /** The volume that the book had then, litres. */
  recordedLitres?(ago: number): number | undefined;
  /** Share of its label's strength that a product has. */
  strength?(product: ProductId, ago: number): number | undefined;
  /** Share of its usual output that the feeder gives. */
  feed?(ago: number): number | undefined;
  /** How open to sun and air the surface is, 0…1. */
  open?(ago: number): number | undefined;
  note?(ago: number, weekday: number, callDays: readonly number[]): string | undefined;
}

const EVERYWHERE = [
  "cedar",
  "slate",
  "fern",
  "teaching",
  "toddler",
  "exercise",
  "cold",
  "terrace",
  "hotspa",
  "splash",
  "bracken",
  "rowan",
  "heron",
];

const within = (ago: number, from: number, to: number): boolean => ago <= from && ago >= to;
/** How far from the start of a stretch to its end, 0…1. */
const progress = (ago: number, from: number, to: number): number => (from - ago) / (from - to);

export const STORIES: readonly Story[] = [
  {
    // A bottle of acid titrant loses strength in a hot van: more drops for the same alkalinity, everywhere.
    basins: EVERYWHERE,
    readsHigh: (quantity, ago) =>
      quantity === "totalAlkalinity" && within(ago, 140, 99) ? 1 + 0.28 * progress(ago, 140, 99) : undefined,
    note: (ago) =>
      within(ago, 98, 96)
        ? "New bottle of acid titrant. The old one read high: it had stood in the van all summer."
        : undefined,
  },
  {
    // The bottle after the next one goes the same way, and nobody has noticed yet.
    basins: EVERYWHERE,
    readsHigh: (quantity, ago) =>
      quantity === "totalAlkalinity" && within(ago, 34, 0) ? 1 + 0.26 * progress(ago, 34, 0) : undefined,
  },
  {
    // The acid that came last is weaker than its label says: more of it every time, and nobody has noticed yet.
    basins: EVERYWHERE,
    strength: (product, ago) => (product === "hydrochloric-acid" && within(ago, 45, 0) ? 0.68 : undefined),
  },
  {
    // The volume was copied from the brochure; a known dose that did too little gave it away.
    basins: ["rowan"],
    recordedLitres: (ago) => (ago > 180 ? 8700 : undefined),
    note: (ago) =>
      within(ago, 180, 177)
        ? "Measured the basin again: it holds 11,400 L, not 8,700 L. Corrected."
        : undefined,
  },
  {
    // The cover stays on after a shock: no sun, no air, the chlorine stands and combined gas collects.
    basins: ["terrace"],
    feed: (ago) => (within(ago, 64, 58) ? 3.6 : undefined),
    open: (ago) => (within(ago, 64, 58) ? 0 : undefined),
    note: (ago) =>
      within(ago, 63, 61)
        ? "Cover was left on after the shock. Opened it; nobody in until chlorine is down."
        : undefined,
  },
  {
    // The salt cell scales up over weeks and makes less and less; then it is cleaned.
    basins: ["terrace"],
    feed: (ago) => (within(ago, 125, 88) ? 1 - 0.75 * progress(ago, 125, 88) : undefined),
    note: (ago) =>
      within(ago, 87, 85) ? "Salt cell white with scale. Cleaned in dilute acid; output is back." : undefined,
  },
];
