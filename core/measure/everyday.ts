import { convert } from "convert";
import { UNIT_SYSTEMS, type UnitSystem } from "./unit-systems";

/**
 * What a person can weigh on a truck scale or pour from a marked jug, next to the exact amount.
 * Powders go by weight; cups are an approximation by bulk density and are marked so.
 */
export interface EverydayAmount {
  /** Exact amount of product as sold, g. */
  exactGrams: number;
  /** Parts as a person reads them out, largest first: 1 lb 6 oz, or 1.2 kg. */
  parts: { amount: number; unit: EverydayUnit }[];
  /** The same by cup, when the product is a powder of known bulk density. Always approximate. */
  cups: number | null;
  /** Grams that the rounded parts stand for. */
  roundedGrams: number;
}

export type EverydayUnit = "mL" | "L" | "g" | "kg" | "tsp" | "fl-oz" | "qt" | "gal" | "oz" | "lb";

export interface ProductForm {
  form: "liquid" | "solid";
  /** g/mL: density of a liquid, loose bulk density of a powder; null when nothing is known of it. */
  density: number | null;
}

const ML_PER_CUP = convert(1, "cup").to("millilitre"); // US customary cup, 236.588 mL
const ML_PER_FL_OZ = convert(1, "fl oz").to("millilitre"); // US fluid ounce, 29.5735 mL
const TSP_PER_FL_OZ = 6; // US teaspoon, 4.929 mL
const G_PER_OZ = convert(1, "ounce").to("gram"); // avoirdupois ounce, 28.3495 g

const roundTo = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(6));

/**
 * Steps that keep the rounding within 5 % and land on marks found on jugs, syringes and scales: a hot tub's dose is
 * a few grams, where half a gram more is too much.
 */
function metricStep(amount: number): number {
  if (amount < 1) return amount < 0.5 ? 0.01 : 0.05;
  if (amount < 5) return 0.1;
  if (amount < 10) return 0.5;
  if (amount < 50) return 1;
  if (amount < 250) return 5;
  if (amount < 1000) return 10;
  if (amount < 5000) return 50;
  return 100;
}

const positive = (parts: EverydayAmount["parts"]): EverydayAmount["parts"] => {
  const kept = parts.filter((part) => part.amount > 0);
  return kept.length > 0 ? kept : parts.slice(-1);
};

const metricParts = (amount: number, small: "mL" | "g", large: "L" | "kg"): EverydayAmount["parts"] => {
  const rounded = roundTo(amount, metricStep(amount));
  return rounded < 1000
    ? [{ amount: rounded, unit: small }]
    : [{ amount: Number((rounded / 1000).toFixed(4)), unit: large }];
};

/**
 * US fluid measures: teaspoons under 2½ fl oz, quarters of an ounce under 10, whole ounces to a gallon, then gallons
 * and quarts. Less than 2½ teaspoons no spoon tells within 5 %: a syringe does, in mL.
 */
function usLiquidParts(ml: number): EverydayAmount["parts"] {
  const ounces = ml / ML_PER_FL_OZ;
  if (ounces * TSP_PER_FL_OZ < 2.5) return metricParts(ml, "mL", "L");
  if (ounces < 2.5) return [{ amount: roundTo(ounces * TSP_PER_FL_OZ, 0.25), unit: "tsp" }];
  if (ounces < 10) return [{ amount: roundTo(ounces, 0.25), unit: "fl-oz" }];
  const whole = Math.round(ounces);
  if (whole < 128)
    return positive([
      { amount: Math.floor(whole / 32), unit: "qt" },
      { amount: whole % 32, unit: "fl-oz" },
    ]);
  const quarts = roundTo(ounces / 32, 0.25);
  return positive([
    { amount: Math.floor(quarts / 4), unit: "gal" },
    { amount: quarts % 4, unit: "qt" },
  ]);
}

/**
 * US weights: tenths of an ounce under 5, halves to a pound, then pounds and ounces, then half pounds. Under an ounce
 * a tenth is more than 5 %: the same scale shows grams.
 */
function usSolidParts(grams: number): EverydayAmount["parts"] {
  const ounces = grams / G_PER_OZ;
  if (ounces < 1) return metricParts(grams, "g", "kg");
  if (ounces < 5) return [{ amount: roundTo(ounces, 0.1), unit: "oz" }];
  if (ounces < 15.75) return [{ amount: roundTo(ounces, 0.5), unit: "oz" }];
  if (ounces < 400) {
    const whole = Math.round(ounces);
    return positive([
      { amount: Math.floor(whole / 16), unit: "lb" },
      { amount: whole % 16, unit: "oz" },
    ]);
  }
  return [{ amount: roundTo(ounces / 16, 0.5), unit: "lb" }];
}

const GRAMS_OR_ML: Record<EverydayUnit, number> = {
  mL: 1,
  L: 1000,
  tsp: ML_PER_FL_OZ / TSP_PER_FL_OZ,
  "fl-oz": ML_PER_FL_OZ,
  qt: ML_PER_FL_OZ * 32,
  gal: ML_PER_FL_OZ * 128,
  g: 1,
  kg: 1000,
  oz: G_PER_OZ,
  lb: G_PER_OZ * 16,
};

/**
 * The amount as a person measures it, rounded to a mark, with the exact grams beside.
 *
 * @param grams product as sold, g, zero or more
 * @example everydayAmount(590.3, { form: "liquid", density: 1.16 }, "metric").parts // [{ amount: 510, unit: "mL" }]
 */
export function everydayAmount(grams: number, product: ProductForm, system: UnitSystem): EverydayAmount {
  const density = product.density ?? 1;
  const liquid = product.form === "liquid";
  const { doses } = UNIT_SYSTEMS[system];
  const parts = liquid
    ? doses === "us"
      ? usLiquidParts(grams / density)
      : metricParts(grams / density, "mL", "L")
    : doses === "us"
      ? usSolidParts(grams)
      : metricParts(grams, "g", "kg");
  const sum = parts.reduce((total, part) => total + part.amount * GRAMS_OR_ML[part.unit], 0);
  return {
    exactGrams: grams,
    parts,
    cups:
      liquid || product.density === null ? null : roundTo(grams / product.density / ML_PER_CUP, 0.25) || null,
    roundedGrams: liquid ? sum * density : sum,
  };
}
