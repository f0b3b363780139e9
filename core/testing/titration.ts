import { InputFault, numberWithin, wholeWithin } from "../fault";
import { type Measurement, tidy, type Unit } from "../measure/quantity";
import type { TitrationMethod } from "./kit";

/** More drops than any sample vessel holds: a miscount or a cat on the keyboard. */
export const MOST_DROPS = 500;

/** Equivalent weights, mg/meq: alkalinity and hardness as CaCO3 (100.09 / 2), chlorine as Cl2 (70.906 / 2). */
export const EQUIVALENT_WEIGHT = { calciumCarbonate: 50.04, chlorine: 35.45 } as const;

/**
 * What a count of drops means. Counting up to the drop that changed the colour brackets the truth
 * in ((n−1)·f, n·f]; n·f is reported.
 *
 * @param count drops up to and including the one that changed the colour, 0…500
 * @param factor what one drop is worth in this sample, in `unit`
 * @param dilution how many times the sample was diluted: 1 undiluted, 2 for one part with one part
 * @example titrate(23, 0.2, "mg/L").low // 4.4
 */
export function titrate(count: number, factor: number, unit: Unit, dilution = 1): Measurement {
  const drops = wholeWithin("count", count, 0, MOST_DROPS);
  const worth = numberWithin("factor", factor, Number.MIN_VALUE, 10_000);
  const times = numberWithin("dilution", dilution, 1, 100);
  return {
    value: tidy(drops * worth * times),
    unit,
    low: tidy(Math.max(0, drops - 1) * worth * times),
    high: tidy(drops * worth * times),
    bound: "within",
  };
}

/**
 * What one drop is worth in a sample of this size; the kit's own sizes only.
 * @example dropFactor(alkalinity, 10) // 25
 */
export function dropFactor(method: TitrationMethod, sample: unknown): number {
  const offered = method.samples.find((size) => size.millilitres === sample);
  if (offered) return offered.factor;
  const sizes = method.samples.map((size) => size.millilitres);
  if (sample === undefined || sample === null || sample === "")
    throw new InputFault("missing", "sample", sample, sizes);
  throw new InputFault("unknown", "sample", sample, sizes);
}

/**
 * Worth of one drop from first principles, for a kit of the firm's own:
 * N (eq/L) × drop (mL) = meq in a drop; × equivalent weight (mg/meq) / sample (mL) × 1000 (mL/L) = mg/L.
 *
 * @param kit.normality titrant strength, eq/L
 * @param kit.dropVolume mL; a dropper makes about 0.03 to 0.06
 * @param kit.equivalentWeight mg/meq of what is reported, see `EQUIVALENT_WEIGHT`
 * @param kit.sample mL
 * @example computedFactor({ normality: 0.1, dropVolume: 0.05, equivalentWeight: 50.04, sample: 25 }) // 10.008
 */
export function computedFactor(kit: {
  normality: number;
  dropVolume: number;
  equivalentWeight: number;
  sample: number;
}): number {
  const normality = numberWithin("normality", kit.normality, 1e-6, 20);
  const drop = numberWithin("dropVolume", kit.dropVolume, 0.001, 1);
  const weight = numberWithin("equivalentWeight", kit.equivalentWeight, 1, 500);
  const sample = numberWithin("sample", kit.sample, 0.1, 1000);
  return tidy((normality * drop * weight * 1000) / sample);
}

/** A stated factor and a computed one further apart than this share deserve a warning. */
const FACTOR_TOLERANCE = 0.1;

/**
 * Whether a stated factor and a computed one agree within `FACTOR_TOLERANCE` of the stated one.
 * @example factorsAgree(10, 10.008) // true
 */
export const factorsAgree = (stated: number, computed: number): boolean =>
  Math.abs(stated - computed) <= FACTOR_TOLERANCE * stated;
