import { chargeAt } from "../water/charge";
import type { Conditions } from "../water/constants";
import { solvePh } from "../water/equilibrium";
import { asRead } from "../water/molar";
import { activity, type Totals } from "../water/sample";
import type { Learned } from "./log";
import { MILLI, TOTALS, UNKNOWNS } from "./unknowns";

/** A reading of a water, and how it hangs on the totals. */
export interface Measured {
  value: number;
  slope: Float64Array;
}

/** What would be read in a water, and how it hangs on the unknowns: on its totals alone. */
export function measured(water: Totals, quantity: Learned, conditions: Conditions): Measured {
  const slope = new Float64Array(UNKNOWNS);
  const value = readingIn(water, quantity, conditions);
  TOTALS.forEach((name, index) => {
    const step = Math.max(1e-7, water[name] * 1e-4);
    const moved = readingIn({ ...water, [name]: water[name] + step }, quantity, conditions);
    slope[index] = (moved - value) / (step * MILLI);
  });
  return { value, slope };
}

/** One reading of a water by its totals. */
export function readingIn(totals: Totals, quantity: Learned, conditions: Conditions): number {
  switch (quantity) {
    case "freeChlorine":
      return asRead.chlorine(totals.chlorine);
    case "calciumHardness":
      return asRead.calcium(totals.calcium);
    case "cyanuricAcid":
      return asRead.cyanurate(totals.cyanurate);
    default: {
      const { ph } = solvePh(conditions, totals, totals.alkalinity);
      return quantity === "ph"
        ? ph
        : asRead.alkalinity(chargeAt(conditions, { ...totals, chlorine: 0 }, activity(ph)).charge);
    }
  }
}
