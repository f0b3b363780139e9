import { usualHabits } from "../drift/habits";
import { PRODUCTS, type Product } from "../products/products";
import { OUTDOOR_FIXED_BAND } from "../ranges/sets";
import type { SeasonAsked } from "./season";

/** A plaster pool of 50 m³ under the sun of May, by what is usual. */
export const FROM = Date.UTC(2026, 4, 1);
export const WEEK = 7 * 86_400_000;
const usual = usualHabits({ kind: "pool", outdoors: true, feeder: "none" });
export const habits = Object.fromEntries(
  Object.entries(usual).map(([name, { median }]) => [name, median]),
) as SeasonAsked["habits"];
export const strengths = Object.fromEntries(
  Object.entries(PRODUCTS).map(([product, { strength }]) => [product, strength]),
) as Record<Product["product"], number>;

export const water = {
  ph: 7.5,
  totalAlkalinity: 90,
  calciumHardness: 250,
  cyanuricAcid: 40,
  freeChlorine: 3,
  borate: 0,
  temperature: 26,
  totalDissolvedSolids: 1000,
};
export const asked = (more: Partial<SeasonAsked> = {}): SeasonAsked => ({
  water,
  litres: 50_000,
  fill: {
    ...water,
    ph: 7.6,
    totalAlkalinity: 80,
    calciumHardness: 100,
    cyanuricAcid: 0,
    freeChlorine: 0,
    totalDissolvedSolids: 300,
  },
  habits,
  around: { location: { latitude: 40, longitude: 0 }, clearness: () => 0.75, temperature: () => 26 },
  rangeSet: OUTDOOR_FIXED_BAND,
  surface: "plaster",
  outdoors: true,
  from: FROM,
  weeks: 20,
  strengths,
  sun: 1,
  use: 1,
  prices: {
    trichlor: 8,
    dichlor: 9,
    "sodium-hypochlorite": 1.4,
    "calcium-hypochlorite": 8,
    "hydrochloric-acid": 1,
    "sodium-bicarbonate": 1.6,
    "sodium-carbonate": 2,
    "cyanuric-acid": 7,
    "calcium-chloride": 2,
    cell: 10,
    water: 3,
  },
  ...more,
});
