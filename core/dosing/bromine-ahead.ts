import type { Range } from "../ranges/range-set";
import type { Figure } from "../uncertainty/figure";
import { NINE_IN_TEN, NINETY } from "../uncertainty/normal";

/**
 * How much bromine to leave at a call so that it lasts until the next: its loss by what went in and what is left
 * since the last reading, drawn toward what is usual, and the band of the basin.
 */

/** Of what is there, gone in a day: covered hot tubs and halls lose a fifth to a third. Median, and its spread. */
const USUAL_LOSS = { rate: 0.3, deviation: 0.5 } as const;
/** How far one interval may be off what comes: bathers differ by that much, as the logarithm of the rate. */
const ONE_INTERVAL = 0.4;
/** Slower than this nothing is told from no loss at all. A day */
const LEAST_RATE = 0.02;

export interface BromineSince {
  /** At the last reading, mg/L as Br2. */
  before: number;
  /** That went in since, mg/L. */
  added: number;
  now: number;
  days: number;
}

export interface BromineRate {
  /** Natural logarithm of what is left a day later, below zero turned round. */
  rate: number;
  /** Standard deviation of its logarithm. */
  deviation: number;
}

/**
 * The rate of loss by the last interval, where there was one.
 * @example bromineRate({ before: 6, added: 0, now: 3, days: 2 }).rate // 0.33
 */
export function bromineRate(since: BromineSince | null): BromineRate {
  if (!since || since.days < 0.25 || since.before + since.added <= 0) return { ...USUAL_LOSS };
  const left = Math.max(since.now, 0.1);
  const seen = Math.max(LEAST_RATE, Math.log((since.before + since.added) / left) / since.days);
  const [prior, own] = [1 / USUAL_LOSS.deviation ** 2, 1 / ONE_INTERVAL ** 2];
  const mean = (prior * Math.log(USUAL_LOSS.rate) + own * Math.log(seen)) / (prior + own);
  return { rate: Math.exp(mean), deviation: Math.sqrt(1 / (prior + own)) };
}

export interface BromineAhead {
  /** To leave today, mg/L. */
  leave: number;
  /** As the next call will find it, with its central 90 %. */
  found: Figure;
  /** Even the most that may be left falls under the floor nine times in ten: a feeder, or more calls. */
  willNotLast: boolean;
}

/**
 * What to leave so that it still stands over its floor at the next call nine times in ten, as far as its band lets.
 * @param days until the next call; null where none is planned
 * @example bromineAhead({ low: 4, high: 6, aim: 5 }, { rate: 0.1, deviation: 0.2 }, 2).leave // 5.1
 */
export function bromineAhead(
  range: Range,
  { rate, deviation }: BromineRate,
  days: number | null,
): BromineAhead {
  const floor = range.low ?? range.closeBelow ?? 0;
  const most = range.high ?? range.closeAbove ?? Number.POSITIVE_INFINITY;
  const aim = range.aim ?? floor;
  const span = days ?? 0;
  const kept = (z: number) => Math.exp(-rate * Math.exp(z * deviation) * span);
  const wanted = floor / kept(NINE_IN_TEN);
  const leave = Math.min(most, Math.max(aim, wanted));
  return {
    leave,
    found: { value: leave * kept(0), low: leave * kept(NINETY), high: leave * kept(-NINETY) },
    willNotLast: wanted > most,
  };
}
