import { chlorineShares } from "../water/chlorine";
import { type Sample, totalsOf } from "../water/sample";
import { calcitePotential, carbonateAlkalinity, type SaturationIndex, saturation } from "../water/saturation";
import type { Fields } from "./verb";
import { numberOf, waterFrom, waterSchema } from "./water";

export interface BalanceAnswer {
  saturation: SaturationIndex;
  /** mg/L as CaCO3 */
  carbonateAlkalinity: number;
  /** mg/L as Cl2 */
  hypochlorousAcid: number;
  /** mmol/L */
  dissolvedInorganicCarbon: number;
  /** mg/L of calcite; above zero it drops, below it is taken up */
  calcitePotential: number;
  /** Readings that the line left out, with what stood in for them. */
  assumed: Partial<Sample>;
}

/**
 * The verb `balance`: what a water is.
 * @example balance({ ph: 7.5, totalAlkalinity: 100, calciumHardness: 300, freeChlorine: 3 }).saturation.full.corrected // 0.0967
 */
export function balance(input: Fields): BalanceAnswer {
  const { sample, assumed } = waterFrom(input);
  return {
    saturation: saturation(sample),
    carbonateAlkalinity: carbonateAlkalinity(sample),
    hypochlorousAcid: chlorineShares(sample).hypochlorousAcid,
    dissolvedInorganicCarbon: totalsOf(sample).inorganicCarbon * 1000,
    calcitePotential: calcitePotential(sample),
    assumed,
  };
}

const two = {
  type: "object",
  properties: {
    corrected: numberOf("alkalinity corrected for cyanurate and borate"),
    titrated: numberOf("alkalinity as titrated"),
  },
};

export const balanceSchema = {
  input: waterSchema,
  output: {
    type: "object",
    properties: {
      saturation: {
        type: "object",
        properties: { full: two, factorSum: two },
        description: "null where there is no calcium or no carbonate",
      },
      carbonateAlkalinity: numberOf("mg/L as CaCO3"),
      hypochlorousAcid: numberOf("mg/L as Cl2"),
      dissolvedInorganicCarbon: numberOf("mmol/L"),
      calcitePotential: numberOf(
        "mg/L of calcite; above zero the water can drop it, below it can take it up",
      ),
      assumed: { type: "object", description: "readings left out, with what stood in" },
    },
  },
} as const;
