import { InputFault } from "../../fault";
import { type EffectOutput, effectInputs, effectModel, type SampleSpread } from "../../uncertainty/models";
import { type Interval, type Propagated, propagated } from "../../uncertainty/propagate";
import { about, usualSpreads } from "../../uncertainty/spread";
import { type Amounts, treatmentOf } from "./amounts";
import type { PlanInput } from "./input";

/** A volume by tape or by the plate on the pump. */
const VOLUME_DEVIATION = 0.05;

export interface PredictOptions {
  samples?: number;
  seed?: number;
  /** How sure the readings are; usual ones without it. */
  spreads?: SampleSpread;
}

/**
 * Seeded draws of what a plan comes to, over readings, volume and product strengths; water replaced and
 * carbon dioxide driven out are taken as they were planned.
 */
export function planDraws(
  input: Pick<PlanInput, "water" | "litres" | "products" | "fill">,
  amounts: Amounts,
  { samples = 4000, seed = 1, spreads = usualSpreads(input.water) }: PredictOptions = {},
): Propagated<EffectOutput> {
  const { additions, ...besides } = treatmentOf(input, amounts);
  const model = effectModel(input.water, additions, { water: input.water, litres: input.litres }, besides);
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
