import { normal, type Random, seeded } from "../random";
import { solvePh } from "../water/equilibrium";
import { conditionsOf, type Sample, totalsOf } from "../water/sample";

/** The water that is hidden in a practice bottle, and the story behind it. */

export const STORIES = [
  "ordinary",
  "bleaching-chlorine",
  "persulfate",
  "copper",
  "stabiliser-over",
  "ph-off-scale",
  "combined",
  "soft-spa",
  "cold-sample",
] as const;
export type Story = (typeof STORIES)[number];

export interface HiddenWater extends Sample {
  story: Story;
  /** mg/L as chlorine, beside the free. */
  combinedChlorine: number;
  /** Persulfate, as it reads: mg/L as chlorine. */
  persulfate: number;
  /** mg/L */
  copper: number;
  /** As CaCO3, mg/L. */
  magnesium: number;
  /** As NaCl, mg/L. */
  salt: number;
}

/** From here on specks of magnesium are seen in the hardness sample. mg/L as CaCO3 */
export const SPECKS_FROM = 80;

/**
 * A water of a story; the same seed gives the same. The chemistry is the core's: pH, alkalinity and the rest
 * belong together.
 * @example hiddenWater("ordinary", 1).story // "ordinary"
 */
export function hiddenWater(story: Story, seed: number): HiddenWater {
  const random = seeded(seed * 7919 + STORIES.indexOf(story) * 101 + 3);
  const between = (low: number, high: number) => low + (high - low) * random();
  const pool: HiddenWater = {
    story,
    ph: between(7.1, 7.9),
    totalAlkalinity: between(60, 150),
    calciumHardness: between(150, 420),
    cyanuricAcid: between(32, 75),
    freeChlorine: between(0.8, 4.6),
    borate: 0,
    temperature: between(22, 28),
    totalDissolvedSolids: between(600, 1800),
    combinedChlorine: between(0, 0.25),
    persulfate: 0,
    copper: 0,
    magnesium: between(20, 120),
    salt: between(400, 1400),
  };
  return { ...pool, ...ofStory(story, between, random) };
}

function ofStory(
  story: Story,
  between: (low: number, high: number) => number,
  random: Random,
): Partial<HiddenWater> {
  switch (story) {
    case "ordinary":
      return {};
    case "bleaching-chlorine":
      // So much that two scoops show a flash, or nothing.
      return { freeChlorine: between(26, 34), combinedChlorine: 0.2 };
    case "persulfate":
      return { persulfate: between(0.8, 2.2), combinedChlorine: 0.1 };
    case "copper":
      return { copper: between(0.25, 0.6) };
    case "stabiliser-over":
      return { cyanuricAcid: between(115, 180) };
    case "ph-off-scale":
      return { ph: random() < 0.5 ? between(8.35, 8.7) : between(6.3, 6.65) };
    case "combined":
      return { combinedChlorine: between(0.7, 1.8) + 0.1 * Math.abs(normal(random)) };
    case "soft-spa":
      return {
        calciumHardness: between(30, 80),
        totalAlkalinity: between(40, 70),
        cyanuricAcid: between(0, 4),
        temperature: between(36, 39),
        magnesium: between(2, 10),
      };
    case "cold-sample":
      return { temperature: between(6, 13) };
  }
}

/**
 * The pH of a sample as strong acid goes in; the carbon dioxide stays in the vessel.
 * @param acid meq/L
 * @example phWith(water, 0) // 7.5
 */
export function phWith(water: Sample, acid: number): number {
  const totals = totalsOf(water);
  return solvePh(conditionsOf(totals), totals, totals.alkalinity - acid / 1000, water.ph).ph;
}

/** @example isStory("copper") // true */
export const isStory = (name: string): name is Story => STORIES.some((story) => story === name);
