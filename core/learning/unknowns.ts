import { HABIT_NAMES, type HabitName, type HabitPrior } from "../drift/habits";

/**
 * What is not known of a basin, in one vector: five totals in mmol/L, then the logarithms of its habits,
 * then the logarithm of its volume over the book's.
 */
export const TOTALS = ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const;
export const FIRST_HABIT = TOTALS.length;
export const VOLUME = FIRST_HABIT + HABIT_NAMES.length;
export const UNKNOWNS = VOLUME + 1;
/** Totals in a vector are millimoles, so that all its numbers are of one size. */
export const MILLI = 1000;

export const habitAt = (name: HabitName): number => FIRST_HABIT + HABIT_NAMES.indexOf(name);

/** Standard deviation of the logarithm of a volume of which nothing is known yet: most books are right, some far off. */
export const VOLUME_DEVIATION = 0.3;
/**
 * How far the logarithm of a habit wanders in a day: seasons, people and a customer's hand. A demand and a feeder that
 * may wander faster (0.025 and 0.03) follow each week's bathers instead of their mean: the next chlorine is told a
 * tenth worse in both of `npm run bench:learn`'s worlds.
 */
export const WANDERS: Record<HabitName, number> = {
  darkDemand: 0.01,
  sunUnbound: 0.008,
  sunBound: 0.008,
  gasExchange: 0.006,
  evaporation: 0.008,
  splashOut: 0.008,
  feeder: 0.006,
};

/** Where a vector of unknowns starts, and how sure that is. */
export interface Start {
  mean: Float64Array;
  deviation: Float64Array;
}

/** The part of a start that is no total. */
export function startOfHabits(
  priors: Record<HabitName, HabitPrior>,
  volumeDeviation = VOLUME_DEVIATION,
): Start {
  const mean = new Float64Array(UNKNOWNS);
  const deviation = new Float64Array(UNKNOWNS);
  HABIT_NAMES.forEach((name, index) => {
    mean[FIRST_HABIT + index] = Math.log(priors[name].median);
    deviation[FIRST_HABIT + index] = priors[name].deviation;
  });
  deviation[VOLUME] = volumeDeviation;
  return { mean, deviation };
}
