import { normalTail } from "../uncertainty/normal";
import type { LoggedReading } from "./log";

/**
 * A reading as a measure with a normal scatter. A count's bracket and a comparator's place are as good as
 * a normal one of the same variance; where a scale ends, the part of what was believed that lies beyond is
 * what was found.
 */
export interface Found {
  value: number;
  /** Of the measure itself, without what was believed. */
  variance: number;
}

/** How repeats of one test scatter beside their bracket: relative, and in the reading's unit. */
const SCATTER: Record<string, { relative: number; absolute: number }> = {
  freeChlorine: { relative: 0.035, absolute: 0.05 },
  ph: { relative: 0, absolute: 0.06 },
  totalAlkalinity: { relative: 0.03, absolute: 1 },
  calciumHardness: { relative: 0.03, absolute: 2 },
  cyanuricAcid: { relative: 0.05, absolute: 2 },
};

const NO_SCATTER = { relative: 0.05, absolute: 0 };

/**
 * @param expected what was believed, and its variance
 * @param scale of the scatter, where the log tells another than the usual
 * @returns null where the reading tells nothing
 */
export function foundBy(
  { quantity, value, low, high }: LoggedReading,
  expected: { mean: number; variance: number },
  scale = 1,
): Found | null {
  const { relative, absolute } = SCATTER[quantity] ?? NO_SCATTER;
  const size = Math.max(0, Number.isFinite(value) ? value : expected.mean);
  const scatter = scale * ((relative * size) ** 2 + absolute ** 2);
  if (Number.isFinite(low) && Number.isFinite(high))
    return { value: (low + high) / 2, variance: (high - low) ** 2 / 12 + scatter };
  const total = Math.sqrt(expected.variance + scatter);
  const below = !Number.isFinite(low);
  const limit = below ? high : low;
  if (!Number.isFinite(limit)) return null;
  // The mean and variance of a normal cut off at the limit, and the normal measure that gives just those.
  const side = below ? -1 : 1;
  const at = (side * (limit - expected.mean)) / total;
  const ratio = normalTail(at);
  const share = expected.variance / total;
  const mean = expected.mean + side * ratio * share;
  const variance = Math.max(1e-9, expected.variance - ratio * (ratio - at) * share * share);
  if (variance >= expected.variance * 0.999) return null;
  const precision = 1 / variance - 1 / expected.variance;
  return {
    value: (mean / variance - expected.mean / expected.variance) / precision,
    variance: 1 / precision,
  };
}
