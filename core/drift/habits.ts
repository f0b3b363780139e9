/**
 * What a basin does by itself, as rates. Of a population each is lognormal: a median, and a standard
 * deviation of its logarithm. The ranges are those of the trade's experience; a log narrows them.
 */
export const HABIT_NAMES = [
  "darkDemand",
  "sunUnbound",
  "sunBound",
  "gasExchange",
  "evaporation",
  "splashOut",
  "feeder",
] as const;
export type HabitName = (typeof HABIT_NAMES)[number];

/**
 * - darkDemand: chlorine lost to bathers, leaves and slime at 27 °C and 3 mg/L, 1/day; doubles each 10 °C, see `hunger`
 * - sunUnbound, sunBound: chlorine lost under a sun straight overhead, 1/day: HOCl and OCl−, and what cyanurate holds
 * - gasExchange: carbon dioxide's way to what air holds, 1/day of the excess
 * - evaporation: share of the volume evaporated and topped up, 1/day
 * - splashOut: share of the water lost with all it holds and filled up, 1/day
 * - feeder: chlorine that a feeder or cell gives, mg/L a day
 */
export type Habits = Record<HabitName, number>;

export type FeederKind = "none" | "tablets" | "saltCell" | "pump";

/** What decides which habits are usual. */
export interface DriftPlace {
  kind: "pool" | "spa";
  outdoors: boolean;
  feeder: FeederKind;
}

export interface HabitPrior {
  /** Of the population. */
  median: number;
  /** Of the logarithm. */
  deviation: number;
}

/** No sun, no feeder: so small that it moves nothing, and known. */
const NONE: HabitPrior = { median: 1e-6, deviation: 1e-3 };

const POOL: Record<HabitName, HabitPrior> = {
  darkDemand: { median: 0.16, deviation: 0.7 }, // 0.05 to 0.4 a day
  sunUnbound: { median: 8, deviation: 0.5 }, // a half-life of 0.6 h at the surface, two to five times that over the depth
  sunBound: { median: 0.35, deviation: 0.7 }, // half-lives of tens of hours to days
  gasExchange: { median: 0.4, deviation: 0.8 }, // 0.1 to 1.5 a day
  evaporation: { median: 0.0025, deviation: 0.6 }, // 1 to 8 mm a day from 1.5 m
  splashOut: { median: 0.003, deviation: 0.7 }, // 0.1 to 1 % a day
  feeder: { median: 1.5, deviation: 0.7 },
};

/** What is usual in such a place. @example usualHabits({ kind: "pool", outdoors: true, feeder: "none" }).darkDemand.median // 0.16 */
export function usualHabits({ kind, outdoors, feeder }: DriftPlace): Record<HabitName, HabitPrior> {
  const spa = kind === "spa";
  return {
    darkDemand: spa ? { median: 0.6, deviation: 0.7 } : POOL.darkDemand,
    sunUnbound: !outdoors ? NONE : spa ? { median: 2, deviation: 0.9 } : POOL.sunUnbound,
    sunBound: !outdoors ? NONE : spa ? { median: 0.15, deviation: 0.9 } : POOL.sunBound,
    gasExchange: spa ? { median: 0.9, deviation: 0.8 } : POOL.gasExchange,
    evaporation: spa
      ? { median: 0.006, deviation: 0.7 }
      : outdoors
        ? POOL.evaporation
        : { median: 0.002, deviation: 0.6 },
    splashOut: spa ? { median: 0.006, deviation: 0.8 } : POOL.splashOut,
    feeder: feeder === "none" ? NONE : POOL.feeder,
  };
}
