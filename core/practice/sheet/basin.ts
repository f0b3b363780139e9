import type { PlanProduct } from "../../dosing/plan/input";
import { fillWater } from "../../dosing/plan/problem";
import { PRODUCTS, type ProductId } from "../../products/products";
import type { RangeSet, Surface } from "../../ranges/range-set";
import { OUTDOOR_FIXED_BAND, SPA_WARM_WATER } from "../../ranges/sets";
import type { Sample } from "../../water/sample";
import type { Story } from "../hidden";
import { POOL } from "../score";

/** A whole sheet that is practised: its tests, and the basin and shelf that it is made at. */

/** The tests of a sheet, in the order in which they are made: what fades comes first. */
export const SHEET_TESTS = [
  "free-chlorine-fas-dpd",
  "combined-chlorine-fas-dpd",
  "ph-phenol-red",
  "total-alkalinity",
  "calcium-hardness",
  "cyanuric-acid-tube",
] as const;

/** The basin that the sample is said to come from. */
export interface SheetBasin {
  kind: "pool" | "spa";
  litres: number;
  surface: Surface;
  set: RangeSet;
  /** What its tap gives. */
  fill: Sample;
}

const SPA_LITRES = 1200;
const TAP = { totalAlkalinity: 90, calciumHardness: 120 };

/** @example sheetBasin("soft-spa").kind // "spa" */
export function sheetBasin(story: Story): SheetBasin {
  return story === "soft-spa"
    ? { kind: "spa", litres: SPA_LITRES, surface: "acrylic", set: SPA_WARM_WATER, fill: fillWater(TAP, 15) }
    : { kind: "pool", litres: POOL, surface: "plaster", set: OUTDOOR_FIXED_BAND, fill: fillWater(TAP, 15) };
}

const stocked = (product: ProductId, pricePerKg: number): PlanProduct => ({
  key: product,
  product,
  strength: PRODUCTS[product].strength,
  pricePerKg,
  stock: null,
});

/** What stands in the truck; prices are made up, so that amounts can be weighed against each other. */
export const SHEET_SHELF: readonly PlanProduct[] = [
  stocked("sodium-hypochlorite", 1.4),
  stocked("hydrochloric-acid", 1.1),
  stocked("sodium-bicarbonate", 1.6),
  stocked("sodium-carbonate", 1.9),
  stocked("calcium-chloride", 1.8),
  stocked("cyanuric-acid", 7.2),
];
