import { type DriftPlace, HABIT_NAMES, type Habits } from "../drift/habits";
import type { Sample } from "../water/sample";
import type { Learned } from "./log";
import type { Scales } from "./process-noise";
import { FIRST_HABIT, TOTALS, VOLUME } from "./unknowns";

/**
 * What a log says of a basin, whole: the mean and the covariance of its water, its rates and its volume at the
 * moment where the log ends. Plain data, so that a plan draws from the very thing that was learned.
 */
export interface Posterior extends DriftPlace {
  version: number;
  /** Its id. */
  basin: string;
  /** ms since 1970. */
  at: number;
  /** By the book; the volume that is believed stands in `mean`, as a logarithm over it. */
  litres: number;
  fill: Partial<Sample>;
  /** What the feeder's setting is meant to give, mg/L of chlorine a day; null where nobody wrote it down. */
  setting: number | null;
  /** What stands in `mean`, in its order: totals in mmol/L, logarithms of the rates and of the volume. */
  names: readonly string[];
  mean: readonly number[];
  /** Row by row. */
  covariance: readonly (readonly number[])[];
  scales: Scales;
  /** What does not drift: mg/L. */
  still: Pick<Sample, "totalDissolvedSolids" | "borate">;
  /** When the water's warmth was last read, and what; null where it never was. °C */
  temperature: { at: number; value: number } | null;
  /** The newest reading of each that is in it already. */
  newest: Partial<Record<Learned, { at: number; value: number }>>;
}

/** Of the meaning of `mean`: a posterior of another one is none here. */
export const POSTERIOR_VERSION = 1;
export const POSTERIOR_NAMES: readonly string[] = [...TOTALS, ...HABIT_NAMES, "volume"];

/** The rates of a mean at their medians; a feeder's is mg/L a day as it is set. */
export function ratesIn({ mean, setting }: Pick<Posterior, "mean" | "setting">): Habits {
  const rates = {} as Habits;
  HABIT_NAMES.forEach((name, index) => {
    rates[name] = Math.exp(mean[FIRST_HABIT + index] as number);
  });
  if (setting !== null) rates.feeder *= setting;
  return rates;
}

/** The volume over the book's. */
export const volumeIn = ({ mean }: Pick<Posterior, "mean">): number => Math.exp(mean[VOLUME] as number);
