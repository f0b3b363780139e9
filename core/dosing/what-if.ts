import { InputFault } from "../fault";
import { chlorineShares } from "../water/chlorine";
import { readingsOf } from "../water/equilibrium";
import type { Sample } from "../water/sample";
import { calciteKilograms, type SaturationIndex, saturation } from "../water/saturation";
import { type Amounts, waterAfter } from "./plan/amounts";
import type { PlanProduct } from "./plan/input";

/** A water, a basin, and what might be done to it. */
export interface WhatIf {
  water: Sample;
  litres: number;
  products: readonly PlanProduct[];
  fill: Sample | null;
  /** Grams as sold, by the product's key. */
  grams: Readonly<Record<string, number>>;
  /** Share of the water replaced first, 0…1. */
  replaced: number;
  /** Carbon dioxide driven out by air, mmol/L. */
  aerated: number;
}

export interface WhatIfAnswer {
  after: Sample;
  saturation: SaturationIndex;
  /** kg that the basin would drop; below zero what it could take up. */
  calcite: number;
  hypochlorousAcid: number;
  cost: number;
}

/** The amounts of a what-if as a plan's. */
export const amountsOf = ({
  grams,
  replaced,
  aerated,
}: Omit<WhatIf, "water" | "litres" | "products" | "fill">): Amounts => ({
  grams: new Map(Object.entries(grams).filter(([, amount]) => amount > 0)),
  replaced,
  aerated,
});

/**
 * What the water would read, the full equilibrium solved; or the fault that says which number makes no
 * water. Nothing thrown: a slider passes through such numbers.
 * @example whatIf({ water, litres: 40_000, products: [], fill: null, grams: {}, replaced: 0, aerated: 0.2 }).after.ph // 8.4176
 */
export function whatIf(asked: WhatIf): WhatIfAnswer | InputFault {
  try {
    const after = readingsOf(waterAfter(asked, amountsOf(asked)));
    return {
      after,
      saturation: saturation(after),
      calcite: calciteKilograms(after, asked.litres),
      hypochlorousAcid: chlorineShares(after).hypochlorousAcid,
      cost: asked.products.reduce(
        (sum, product) => sum + ((asked.grams[product.key] ?? 0) / 1000) * product.pricePerKg,
        0,
      ),
    };
  } catch (fault) {
    if (fault instanceof InputFault) return fault;
    throw fault;
  }
}
