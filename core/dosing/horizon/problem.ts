import type { FeederKind, Habits } from "../../drift/habits";
import type { Location } from "../../drift/sun";
import type { WeatherOfDay } from "../../drift/surroundings";
import type { Posterior } from "../../learning/posterior";
import type { Product } from "../../products/products";
import type { PlanProblem } from "../plan/shown";

/** What a plan over several calls is asked for. Plain data: it crosses into a worker. */
export interface HorizonProblem {
  /** The water as it is today, its goals, the shelf and the setting; nothing of it drifts. */
  still: PlanProblem;
  /** Now, ms since 1970. */
  from: number;
  /** When the next calls are made, in their order; none where nobody knows. */
  calls: readonly number[];
  /** For pouring, with every separation. */
  minutes: number;
  /** What the water does by itself, at its medians; the feeder as it is set now. */
  rates: Habits;
  /** And all of it with how sure it is, as one: today's water, the rates, the volume. */
  believed: Believed;
  feeder: Feeder | null;
  /** What the people there put in between the calls. */
  between?: Between | null;
  outdoors: boolean;
  /** Something closes the basin, or nothing says that it may be used: only a test opens it. */
  closed?: boolean;
  /** How fast a tap fills the basin, litres an hour; as usual without it. */
  fillRate?: number;
  /** Drops and calculation ask for amounts of acid or base that differ: no more than the smaller today, meq/L. */
  doubtfulDemand?: { use: "acid" | "base"; most: number } | null | undefined;
  location: Location;
  /** The days ahead, as far as anybody tells of them. */
  weather: readonly WeatherOfDay[];
}

/**
 * A Gaussian of the unknowns of `learning/unknowns`: a log's posterior at this moment, or what is usual about what
 * was read today.
 */
export type Believed = Pick<Posterior, "mean" | "covariance" | "scales">;

/** A feeder or a cell that a plan may set. */
export interface Feeder {
  kind: Exclude<FeederKind, "none">;
  /** Chlorine that it can give, mg/L a day. */
  most: number;
  /** What it gives over what its setting is meant to give; 1 without it. */
  gives?: number;
  /** Money for a kilogram of chlorine out of it. */
  pricePerKg: number;
}

/** A dose that the people at a basin give themselves: on every so many days after a call, until the next. */
export interface Between extends Product {
  grams: number;
  everyDays: number;
}

/** Half an hour of hands at a basin, and a little. */
export const USUAL_MINUTES = 40;
export const MINUTES_LIMITS = { low: 5, high: 480 } as const;
/** Calls farther ahead than these are another story. */
export const MOST_CALLS = 4;
