import { millisecondsInDay } from "date-fns/constants";
import type { Figure } from "../uncertainty/figure";

/** How well somebody reads: the bias and the scatter of their practised tests, with intervals. */

/** One practised reading against the truth; and what a reading can be read to. */
export interface Practised {
  /** The reading less the truth, from the middle of its bracket. */
  error: number;
  /** Of one drop, or of the stretch between two marks: what a reading is rounded to. */
  step: number;
  truth: number;
}

export interface OwnFigures {
  /** Runs that count. */
  runs: number;
  /** Mean error as a share of the truth; central 90 %. */
  bias: Figure;
  /** Standard deviation of the errors without what rounding makes, as a share of the truth; central 90 %. */
  scatter: Figure;
}

/** Fewer runs than these tell nothing. */
export const LEAST_RUNS = 5;
/** After fewer the scatter is known to no more than a half, and stands in for nobody's default. */
export const RUNS_TO_USE = 10;

/**
 * Whether somebody's scatter is known well enough to stand in for the default.
 * @example maySpeak({ runs: 6, scatter: 0.05 }) // false
 */
export const maySpeak = ({ runs, scatter }: { runs: number; scatter: number | null }): boolean =>
  scatter !== null && runs >= RUNS_TO_USE;

/**
 * Bias and scatter of one test's runs; null for too few.
 * @param runs of waters whose truth is not near nothing
 * @example ownFigures([]) // null
 */
export function ownFigures(runs: readonly Practised[]): OwnFigures | null {
  const shares = runs.filter(({ truth, step }) => Math.abs(truth) > step);
  const count = shares.length;
  if (count < LEAST_RUNS) return null;
  const errors = shares.map(({ error, truth }) => error / truth);
  const mean = errors.reduce((sum, one) => sum + one, 0) / count;
  const variance = errors.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (count - 1);
  // A truth lies anywhere in its step: that alone scatters by step/√12.
  const rounding = shares.reduce((sum, { step, truth }) => sum + (step / truth) ** 2 / 12, 0) / count;
  const scatter = Math.sqrt(Math.max(0, variance - rounding));
  const error = Math.sqrt(variance / count);
  const [low, high] = chiSquaredBand(count - 1);
  return {
    runs: count,
    bias: { value: mean, low: mean - student(count - 1) * error, high: mean + student(count - 1) * error },
    scatter: {
      value: scatter,
      low: Math.sqrt(Math.max(0, (variance * (count - 1)) / high - rounding)),
      high: Math.sqrt(Math.max(0, (variance * (count - 1)) / low - rounding)),
    },
  };
}

/** Figures of the weeks from one day to another. */
export interface WeeksFigures extends OwnFigures {
  from: Date;
  to: Date;
}

/**
 * How bias and scatter went over weeks, the newest first: a week by itself where it has runs enough, else
 * together with those before it.
 * @param runs in the order of their time
 * @example figuresOverWeeks([]) // []
 */
export function figuresOverWeeks(runs: readonly (Practised & { at: Date })[]): WeeksFigures[] {
  const told: WeeksFigures[] = [];
  let together: (Practised & { at: Date })[] = [];
  for (const [index, run] of [...runs].reverse().entries()) {
    together = [run, ...together];
    const before = runs[runs.length - 2 - index];
    if (before && weekOf(before.at) === weekOf(run.at)) continue;
    const figures = ownFigures(together);
    const to = together.at(-1);
    if (!figures || !to) continue;
    told.push({ ...figures, from: run.at, to: to.at });
    together = [];
  }
  return told;
}

/** Weeks since the Monday of 5 January 1970. */
const weekOf = (at: Date): number => Math.floor((at.getTime() / millisecondsInDay - 4) / 7);

/** 95th percentile of a normal deviate. */
const NORMAL_95 = 1.6449;

/**
 * 95th percentile of Student's t, by the first terms of its expansion (Abramowitz and Stegun 26.7.5).
 * @example student(10) // 1.812
 */
export function student(degrees: number): number {
  const z = NORMAL_95;
  return (
    z +
    (z ** 3 + z) / (4 * degrees) +
    (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * degrees ** 2) +
    (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * degrees ** 3)
  );
}

/**
 * 5th and 95th percentile of chi-squared, by Wilson and Hilferty.
 * @example chiSquaredBand(10)[1] // 18.3
 */
export function chiSquaredBand(degrees: number): [low: number, high: number] {
  const at = (z: number) => degrees * (1 - 2 / (9 * degrees) + z * Math.sqrt(2 / (9 * degrees))) ** 3;
  return [at(-NORMAL_95), at(NORMAL_95)];
}
