/** What a dose promised against what the retest read: the stuff that a basin's habits are learnt from. */

export interface Prospect {
  /** The reading before. */
  before: number;
  /** What the plan said it would come to, with the interval that holds it in 95 of 100 cases. */
  promised: number;
  low: number;
  high: number;
}

export interface Outcome extends Prospect {
  measured: number;
  /** Change that came over change that was promised; null where next to none was promised. */
  ratio: number | null;
  /** Whether the reading's own bracket meets the promised interval. */
  verdict: "as-promised" | "fell-short" | "went-beyond";
}

/** A promised change smaller than this share of the interval says nothing by its ratio. */
const LEAST_CHANGE = 0.25;

/**
 * Holds a retest against its promise. The ratio is below one when less came than was promised (volume
 * larger than recorded, product weak, test off) and above one when more did.
 *
 * @param read the retest with its bracket; null ends are open
 * @example outcomeOf({ before: 60, promised: 100, low: 92, high: 108 }, { value: 80, low: 70, high: 80 }).ratio // 0.5
 */
export function outcomeOf(
  promise: Prospect,
  read: { value: number; low: number | null; high: number | null },
): Outcome {
  const change = promise.promised - promise.before;
  const width = promise.high - promise.low;
  const ratio =
    Math.abs(change) > LEAST_CHANGE * width && change !== 0 ? (read.value - promise.before) / change : null;
  const low = read.low ?? Number.NEGATIVE_INFINITY;
  const high = read.high ?? Number.POSITIVE_INFINITY;
  const up = change >= 0;
  const verdict =
    high < promise.low
      ? up
        ? "fell-short"
        : "went-beyond"
      : low > promise.high
        ? up
          ? "went-beyond"
          : "fell-short"
        : "as-promised";
  return { ...promise, measured: read.value, ratio, verdict };
}
