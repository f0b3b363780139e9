import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { CONSERVED, carbonDioxideAtRest, carbonDioxideShare } from "../products/effects";
import type { Conditions } from "../water/constants";
import { solvePh } from "../water/equilibrium";
import { molar } from "../water/molar";
import { activity, conditionsOf, type Totals } from "../water/sample";
import type { FeederKind, Habits } from "./habits";
import { sunBetween } from "./sun";
import type { Surroundings } from "./surroundings";

/**
 * How a water drifts between two moments. Every process is a flow of totals; the pH and the shares of the
 * chlorine follow from them by the one equilibrium, at each step.
 */

/** A piece of time in which the surroundings are taken as they are in its middle. */
export interface DriftStep {
  days: number;
  /** Height of the sun times the share of a clear day's. */
  sun: number;
  /** How much faster than at 27 °C chlorine is used up. */
  warmth: number;
  conditions: Conditions;
  /** CO2 that air would leave in the water, mol/L. */
  airHolds: number;
  /** What somebody puts in at its beginning, mol/L of each total. */
  given?: Drifting;
}

/** Steps are no longer than this: a day as one step is too coarse for the sun. */
const STEP_HOURS = 6;
/** Demand doubles with so many degrees; the rate is told at this temperature. °C */
const DOUBLES = 10;
const DEMAND_AT = 27;
/** Stabiliser lost to oxidation and microbes: 1 to 5 % a month. 1/day */
const STABILISER_LOSS = 0.0009;
/** How much dissolved CO2 falls with a mole of inorganic carbon, about: it slows the exchange within a step. */
const CARBON_SHARE = 0.3;
/** Mol of cyanurate that come with a mol of a tablet's chlorine. */
const TABLET_CYANURATE = 1 / 3;

/**
 * Of the dark demand so much is a share of what is there; the rest is a load: bathers and leaves bring milligrams and
 * take them of any water. Between the two laws in both of `npm run bench:learn`'s worlds: by shares alone the next
 * chlorine is off by 0.23 and 0.40 mg/L, so by 0.21 and 0.36.
 */
const TAKES_A_SHARE = 0.6;
/** Free chlorine at which a basin's rate is told. */
const LOAD_AT = molar.chlorine(3);

/**
 * The share that a water loses in the dark over what it loses at 3 mg/L: the less chlorine, the larger the share.
 * @example hunger(molar.chlorine(3)) // 1
 */
export const hunger = (chlorine: number): number =>
  TAKES_A_SHARE + ((1 - TAKES_A_SHARE) * 2) / (1 + Math.max(0, chlorine) / LOAD_AT);

/** By how much a little more chlorine lessens the share that is lost of all of it: −C · d hunger/dC. */
const lessHungry = (chlorine: number): number => {
  const load = Math.max(0, chlorine) / LOAD_AT;
  return ((1 - TAKES_A_SHARE) * 2 * load) / (1 + load) ** 2;
};

/** How much faster than at 27 °C chlorine is used up. @example demandAt(37) // 2 */
export const demandAt = (temperature: number): number => 2 ** ((temperature - DEMAND_AT) / DOUBLES);

/** The steps from one moment to another, ms since 1970, with the constants that hold in them. */
export function stepsBetween(
  totals: Totals,
  from: number,
  to: number,
  around: Surroundings,
  hours = STEP_HOURS,
): DriftStep[] {
  const count = Math.max(1, Math.ceil((to - from) / (hours * millisecondsInHour)));
  const length = (to - from) / count;
  const steps: DriftStep[] = [];
  if (to <= from) return steps;
  const airHolds = new Map<number, number>();
  let conditions: Conditions | null = null;
  for (let index = 0; index < count; index++) {
    const begin = from + index * length;
    const middle = begin + length / 2;
    const temperature = around.temperature(middle);
    // Half a degree moves no constant by what anybody could read.
    if (!conditions || Math.abs(conditions.temperature - temperature) > 0.5)
      conditions = conditionsOf({ ...totals, temperature });
    let held = airHolds.get(conditions.temperature);
    if (held === undefined) {
      held = carbonDioxideAtRest(conditions.temperature);
      airHolds.set(conditions.temperature, held);
    }
    steps.push({
      days: length / millisecondsInDay,
      sun: sunBetween(begin, begin + length, around.location) * around.clearness(middle),
      warmth: demandAt(temperature),
      conditions,
      airHolds: held,
    });
  }
  return steps;
}

/** What drifts: the totals that the processes move. */
export type Drifting = Pick<
  Totals,
  "alkalinity" | "inorganicCarbon" | "calcium" | "cyanurate" | "chlorine" | "borate"
>;

/** What may be wanted beside the water: see `driftOver`. */
export interface DriftTrace {
  /** Share of the chlorine at the start that is still there. */
  chlorineKept: number;
  /** And of a little more at the start. */
  moreKept: number;
  /** Variance of the chlorine, (mol/L)², that bathers and feeders bring by their day-to-day scatter of 1. */
  darkVariance: number;
  feederVariance: number;
}

/**
 * Lets a water drift, in place.
 * @param fill what tops up; its totals
 * @param trace filled when it is given
 */
export function driftOver(
  water: Drifting,
  habits: Habits,
  feeder: FeederKind,
  steps: readonly DriftStep[],
  fill: Drifting,
  trace?: DriftTrace,
): void {
  const fed = feeder === "none" ? 0 : molar.chlorine(habits.feeder);
  let start = 7.5;
  for (const { days, sun, warmth, conditions, airHolds, given } of steps) {
    if (given) for (const name of CONSERVED) water[name] += given[name];
    const { ph, hypochlorous } = solvePh(conditions, water, water.alkalinity, start);
    start = ph;
    const h = activity(ph);
    // Chlorine: over a step by shares of what stood at its beginning, fed evenly.
    const unbound =
      water.chlorine > 0
        ? Math.min(1, (hypochlorous * (1 + conditions.hypochlorous / h)) / water.chlorine)
        : 1;
    const dark = habits.darkDemand * warmth * hunger(water.chlorine);
    const rate = dark + sun * (habits.sunUnbound * unbound + habits.sunBound * (1 - unbound));
    const kept = Math.exp(-rate * days);
    const stands = rate > 0 ? -Math.expm1(-rate * days) / rate : days;
    const before = water.chlorine;
    water.chlorine = before * kept + fed * stands;
    const spent = before + fed * days - water.chlorine;
    // Hypochlorite brings the equivalent that its chlorine takes when it is spent; a tablet brings none.
    water.alkalinity += (feeder === "tablets" ? 0 : fed * days) - spent;
    if (feeder === "tablets") water.cyanurate += fed * days * TABLET_CYANURATE;
    // Carbon dioxide: toward what the air holds.
    const excess = water.inorganicCarbon * carbonDioxideShare(conditions, h) - airHolds;
    const way = habits.gasExchange * days;
    water.inorganicCarbon -= (excess * way) / (1 + 0.5 * way * CARBON_SHARE);
    // Water: what evaporates leaves its salts behind, what is lost takes them along; both are filled up.
    const topped = habits.evaporation * days;
    const lost = habits.splashOut * days;
    water.alkalinity += topped * fill.alkalinity + lost * (fill.alkalinity - water.alkalinity);
    water.inorganicCarbon +=
      topped * fill.inorganicCarbon + lost * (fill.inorganicCarbon - water.inorganicCarbon);
    water.calcium += topped * fill.calcium + lost * (fill.calcium - water.calcium);
    water.borate += topped * fill.borate + lost * (fill.borate - water.borate);
    water.cyanurate -= (lost + STABILISER_LOSS * days) * water.cyanurate;
    if (trace) {
      const mean = (before + water.chlorine) / 2;
      trace.chlorineKept *= kept;
      trace.moreKept *= kept * (1 + days * habits.darkDemand * warmth * lessHungry(before));
      trace.darkVariance = trace.darkVariance * kept * kept + (dark * mean) ** 2 * days;
      trace.feederVariance = trace.feederVariance * kept * kept + fed * fed * days;
    }
  }
}

/**
 * The totals of a water after it was left to itself.
 * @example drift(totals, seasonAsked.habits, "none", totals, seasonAsked.around, 0, 86_400_000).chlorine < totals.chlorine // true
 */
export function drift(
  totals: Totals,
  habits: Habits,
  feeder: FeederKind,
  fill: Totals,
  around: Surroundings,
  from: number,
  to: number,
  hours = STEP_HOURS,
): Totals {
  const after = { ...totals };
  const steps = stepsBetween(totals, from, to, around, hours);
  driftOver(after, habits, feeder, steps, fill);
  return { ...after, temperature: to > from ? around.temperature(to) : totals.temperature };
}
