import { type Conditions, conditionsAt } from "./constants";

/**
 * Calcium that is paired with bicarbonate, carbonate and sulfate neither scales nor etches: the index
 * counts what is free. Carbonate alkalinity counts the paired part too, because a titration frees it.
 */
export interface Paired {
  /** Free calcium and carbonate, mol/L. */
  calcium: number;
  carbonate: number;
  /** What the pairs take off the ionic strength, mol/L. */
  strengthBound: number;
}

/** A hundredth of what any pair holds is told after a few passes; they converge by a tenth at each. */
const PASSES = 24;

/**
 * @param calcium total, mol/L
 * @param carbonateAlkalinity eq/L: bicarbonate and twice the carbonate, free and paired
 * @param sulfate total, mol/L
 * @param h {H+}
 */
export function pairedAt(
  conditions: Conditions,
  calcium: number,
  carbonateAlkalinity: number,
  sulfate: number,
  h: number,
): Paired {
  const { k2, calciumBicarbonate: kb, calciumCarbonate: kc, calciumSulfate: ks } = conditions;
  let free = calcium;
  let carbonate = 0;
  let bicarbonate = 0;
  let freeSulfate = sulfate;
  for (let pass = 0; pass < PASSES; pass++) {
    carbonate = carbonateAlkalinity / ((h / k2) * (1 + kb * free) + 2 * (1 + kc * free));
    bicarbonate = (carbonate * h) / k2;
    freeSulfate = sulfate / (1 + ks * free);
    const next = calcium / (1 + kb * bicarbonate + kc * carbonate + ks * freeSulfate);
    const settled = Math.abs(next - free) <= 1e-14 * calcium;
    free = next;
    if (settled) break;
  }
  return {
    calcium: free,
    carbonate,
    // ½ Σ c z²: the sulfate and carbonate pairs take two doubly charged ions, the bicarbonate pair 4 and 1 for 1.
    strengthBound: free * (4 * ks * freeSulfate + 4 * kc * carbonate + 2 * kb * bicarbonate),
  };
}

/** The constants at the ionic strength that is left when the pairs have formed. */
export function pairedConditions(
  conditions: Conditions,
  ...of: Parameters<typeof pairedAt> extends [Conditions, ...infer Rest] ? Rest : never
): Conditions {
  let paired = conditions;
  for (let pass = 0; pass < 3; pass++) {
    const { strengthBound } = pairedAt(paired, ...of);
    paired = conditionsAt(conditions.temperature, Math.max(0, conditions.ionicStrength - strengthBound));
  }
  return paired;
}

/** log10 of the free ion product over the solubility product of calcite: log10(γ2² [Ca] [CO3] / Ksp). */
export function calciteIndex(
  paired: Conditions,
  ...of: Parameters<typeof pairedAt> extends [Conditions, ...infer Rest] ? Rest : never
): number {
  const { calcium, carbonate } = pairedAt(paired, ...of);
  return Math.log10((paired.gamma2 ** 2 * calcium * carbonate) / paired.calcite);
}
