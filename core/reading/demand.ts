import { numberWithin, wholeWithin } from "../fault";
import { basinLitres } from "../measure/units";
import { effectPerGram, type Product } from "../products/products";
import { DROP_SIZE_DEVIATION, SAMPLE_VOLUME_DEVIATION } from "../uncertainty/spread";

/** An estimate with its standard uncertainty and the interval that holds it. */
export interface Estimate {
  value: number;
  /** Standard uncertainty. */
  deviation: number;
  low: number;
  high: number;
}

/**
 * Acid (or base) that a demand test asks for. The count brackets the truth in ((n−1), n] drops; the
 * middle of the bracket is the estimate.
 *
 * @param drops counted until the developed pH sample showed the target colour
 * @param perDrop what the kit says a drop is, meq/L of the sample
 * @param product an acid for an acid demand, a base for a base demand
 * @returns grams as sold
 */
export function gramsByDemand(drops: number, perDrop: number, product: Product, litres: number): Estimate {
  const count = wholeWithin("drops", drops, 0, 100);
  const worth = numberWithin("perDrop", perDrop, 1e-4, 10);
  const volume = basinLitres("litres", litres);
  const perGram = Math.abs(effectPerGram(product).alkalinity);
  const grams = (counted: number) => (counted * worth * volume) / 1000 / perGram;
  const value = grams(Math.max(0, count - 0.5));
  const quantum = grams(1) / Math.sqrt(12); // a bracket of one drop, evenly filled
  const deviation =
    count === 0 ? 0 : Math.hypot(quantum, value * DROP_SIZE_DEVIATION, value * SAMPLE_VOLUME_DEVIATION);
  return { value, deviation, low: Math.max(0, value - 2 * deviation), high: value + 2 * deviation };
}

/** Whether two independent estimates agree: their difference within twice its standard uncertainty. */
export function agreement(a: Estimate, b: Estimate): { agree: boolean; ratio: number; deviations: number } {
  const spread = Math.hypot(a.deviation, b.deviation);
  const apart = Math.abs(a.value - b.value);
  const deviations = spread === 0 ? (apart === 0 ? 0 : Number.POSITIVE_INFINITY) : apart / spread;
  return { agree: deviations <= 2, ratio: a.value / b.value, deviations };
}
