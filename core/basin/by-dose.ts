import { InputFault } from "../fault";
import { effectPerGram, PRODUCTS, type Product, type ProductId } from "../products/products";
import { STRENGTH_DEVIATION } from "../uncertainty/spread";
import { molar } from "../water/molar";
import { volumeByDose } from "./volume";

/** Readings that tell a volume: nothing but the dose moves them in an hour. */
export const TELLING = ["calciumHardness", "totalAlkalinity"] as const;
export type Telling = (typeof TELLING)[number];

/** What was given between two tests, and what they read. */
export interface DoseCheck {
  quantity: Telling;
  given: readonly (Product & { grams: number })[];
  before: { value: number; low: number; high: number };
  after: { value: number; low: number; high: number };
}

export interface VolumeByDose {
  litres: number;
  low: number;
  high: number | null;
}

/** Bicarbonate alone raises alkalinity by just what it brings; acid and chlorine blur it. */
const TELLS: Record<Telling, readonly ProductId[]> = {
  calciumHardness: ["calcium-chloride", "calcium-hypochlorite"],
  totalAlkalinity: ["sodium-bicarbonate"],
};
/** Products that move this reading without telling anything. */
const BLURS: Record<Telling, readonly ProductId[]> = {
  calciumHardness: [],
  totalAlkalinity: [
    "hydrochloric-acid",
    "sodium-bisulfate",
    "sodium-carbonate",
    "sodium-hypochlorite",
    "calcium-hypochlorite",
    "dichlor",
    "borax",
    "potassium-monopersulfate",
  ],
};

/**
 * The volume that a known dose and its change tell; null where nothing was given that tells it, where
 * something else moved the reading too, or where it did not rise.
 * @example volumeTold({ quantity: "calciumHardness", given: [{ product: "calcium-chloride", strength: 0.77, grams: 4000 }], before: { value: 200, low: 190, high: 200 }, after: { value: 270, low: 260, high: 270 } }).litres // 39682
 */
export function volumeTold({ quantity, given, before, after }: DoseCheck): VolumeByDose | null {
  const some = given.filter((one) => one.grams > 0);
  if (some.some((one) => BLURS[quantity].includes(one.product))) return null;
  const telling = some.filter((one) => TELLS[quantity].includes(one.product));
  if (telling.length === 0) return null;
  const read = quantity === "calciumHardness" ? molar.calcium : molar.alkalinity;
  const total = quantity === "calciumHardness" ? "calcium" : "alkalinity";
  const moles = telling.reduce((sum, one) => sum + effectPerGram(one)[total] * one.grams, 0);
  const unsure = 2 * Math.max(...telling.map((one) => STRENGTH_DEVIATION[PRODUCTS[one.product].form]));
  const inMoles = ({ value, low, high }: DoseCheck["before"]) => ({
    value: read(value),
    low: read(low),
    high: read(high),
  });
  try {
    return volumeByDose(
      { value: moles, low: moles * (1 - unsure), high: moles * (1 + unsure) },
      inMoles(before),
      inMoles(after),
    );
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}
