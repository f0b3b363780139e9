import type { Measurement } from "../measure/quantity";
import type { Method } from "../testing/kit";
import { deviationOf } from "./spread";

/** An interval that holds the truth; open ends are null. */
export interface OpenInterval {
  low: number | null;
  high: number | null;
}

/**
 * The interval that a reading stands for: its bracket, and for drops the scatter of drop and sample.
 * @example intervalOf({ value: 100, low: 90, high: 100, bound: "within", unit: "mg/L" }, "titration").low // 85.153
 */
export function intervalOf(
  measured: Measurement & { scatter?: number | undefined },
  kind: Method["kind"],
): OpenInterval {
  const stretch = deviationOf(kind, measured.scatter);
  return {
    low: measured.low === null ? null : measured.low * (1 - stretch),
    high: measured.high === null ? null : measured.high * (1 + stretch),
  };
}

/**
 * Two readings of one thing agree when their intervals overlap.
 * @example overlap({ low: 90, high: 100 }, { low: 99, high: null }) // true
 */
export const overlap = (a: OpenInterval, b: OpenInterval): boolean =>
  (a.high ?? Infinity) >= (b.low ?? -Infinity) && (b.high ?? Infinity) >= (a.low ?? -Infinity);

const width = ({ low, high }: OpenInterval): number =>
  low === null || high === null ? Infinity : high - low;

/** The place of the reading to use among several of one thing: the narrowest interval, the newest on a tie. */
export function bestOf(
  readings: readonly (Measurement & { kind: Method["kind"]; scatter?: number | undefined })[],
): number {
  let best = 0;
  let least = Infinity;
  readings.forEach((reading, index) => {
    const wide = width(intervalOf(reading, reading.kind));
    if (wide <= least) {
      least = wide;
      best = index;
    }
  });
  return best;
}
