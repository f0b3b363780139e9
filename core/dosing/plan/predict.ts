import { InputFault } from "../../fault";
import { type EffectOutput, effectInputs, effectModel, type SampleSpread } from "../../uncertainty/models";
import { type Interval, type Propagated, propagated } from "../../uncertainty/propagate";
import { about, type Spread, TITRATION_DEVIATION } from "../../uncertainty/spread";
import { type Sample, totalsOf } from "../../water/sample";
import type { PlanInput } from "./input";
import type { Amounts } from "./solve";

/** How sure usual readings are: a drop's quantum or a gap of colours, with the scatter of drop and sample. */
export const USUAL_SPREADS = (water: Sample): SampleSpread => ({
  ph: { low: water.ph - 0.1, high: water.ph + 0.1, deviation: 0 },
  totalAlkalinity: counted(water.totalAlkalinity, 10),
  calciumHardness: counted(water.calciumHardness, 10),
  cyanuricAcid: { low: Math.max(0, water.cyanuricAcid - 5), high: water.cyanuricAcid + 5, deviation: 0 },
  freeChlorine: counted(water.freeChlorine, 0.2),
});

const counted = (value: number, drop: number): Spread => ({
  low: Math.max(0, value - drop),
  high: value,
  deviation: TITRATION_DEVIATION,
});

/** A volume by tape or by the plate on the pump. */
export const VOLUME_DEVIATION = 0.05;

export interface PredictOptions {
  samples?: number;
  seed?: number;
  /** How sure the readings are; usual ones without it. */
  spreads?: SampleSpread;
}

/**
 * Seeded draws of what a plan comes to, over readings, volume and product strengths; water replaced and
 * carbon dioxide driven out are taken as they were planned.
 *
 * @throws InputFault for a reducer, whose effect depends on what it meets
 */
export function planDraws(
  input: Pick<PlanInput, "water" | "litres" | "products" | "fill">,
  amounts: Amounts,
  { samples = 4000, seed = 1, spreads = USUAL_SPREADS(input.water) }: PredictOptions = {},
): Propagated<EffectOutput> {
  const additions = input.products.flatMap((product) => {
    const grams = amounts.grams.get(product.key);
    return grams ? [{ product: product.product, strength: product.strength, grams }] : [];
  });
  const model = effectModel(
    input.water,
    additions,
    { water: input.water, litres: input.litres },
    {
      replaced: amounts.replaced,
      fill: amounts.replaced > 0 && input.fill ? totalsOf(input.fill) : null,
      aerated: amounts.aerated / 1000,
    },
  );
  const volume = about(input.litres, VOLUME_DEVIATION);
  return propagated(model, effectInputs(spreads, volume, additions), { samples, seed });
}

/** Intervals of what a plan promises; null where nothing can be promised. */
export function predicted(
  input: Pick<PlanInput, "water" | "litres" | "products" | "fill">,
  amounts: Amounts,
  options: PredictOptions = {},
): Record<EffectOutput, Interval> | null {
  try {
    return planDraws(input, amounts, options).intervals;
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}
