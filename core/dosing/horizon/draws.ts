import { HABIT_NAMES, type Habits } from "../../drift/habits";
import { InputFault } from "../../fault";
import {
  BATHERS,
  CHLORINE_DAYS,
  CHLORINE_LEFT_OUT,
  FEEDER_SCATTER,
  LEFT_OUT,
  TOLD_BY,
} from "../../learning/process-noise";
import { FIRST_HABIT, MILLI, TOTALS, VOLUME } from "../../learning/unknowns";
import { PRODUCTS } from "../../products/products";
import { normal, type Random, seeded } from "../../random";
import type { Figure } from "../../uncertainty/figure";
import { drawerOf } from "../../uncertainty/gaussian";
import { STRENGTH_DEVIATION } from "../../uncertainty/spread";
import { chargeAt } from "../../water/charge";
import type { Conditions } from "../../water/constants";
import { solvePh } from "../../water/equilibrium";
import { asRead } from "../../water/molar";
import { activity, conditionsOf, type Totals } from "../../water/sample";
import { STEERED, type Steered } from "../plan/goals";
import type { Ahead, Schedule } from "./ahead";
import type { Moment } from "./moments";
import type { Believed, HorizonProblem } from "./problem";

/**
 * The water ahead as often as it may come: today's water, the volume and the rates drawn together from what is
 * believed, the strengths and the days drawn anew each time, and every time the whole drift.
 */

/**
 * Of a day's sun, as the deviation of a logarithm: what is not told of the days ahead. Fronts last, so that a week
 * differs from the next by more than a seventh of a day's scatter: it falls with the days to the power of −0.3.
 */
const SKY = 0.3;

/** Of what air drives out. */
const AIR_SCATTER = 0.25;

const SEED = 1;

/** Readings drawn: as each call finds them, after what it gives, and half way to the next. */
export type Drawn = Record<Moment["kind"], Record<Steered, Float64Array>[]>;

const columns = (count: number): Record<Steered, Float64Array> =>
  Object.fromEntries(STEERED.map((name) => [name, new Float64Array(count)])) as Record<Steered, Float64Array>;

/** The same schedule and number of draws give the same answer. */
export function drawn(ahead: Ahead, { grams, aired, fed }: Schedule, count: number): Drawn {
  const { problem, gaps, days, products } = ahead;
  const random = seeded(SEED);
  const calls = gaps.length + 1;
  const found = Array.from({ length: calls }, () => columns(count));
  const after = Array.from({ length: calls }, () => columns(count));
  const mid = gaps.map(() => columns(count));
  const strength = new Float64Array(products.length);
  const draw = drawerOf(problem.believed);
  const conditions = conditionsOf(ahead.start);
  for (let index = 0; index < count; index++) {
    const { water, own, volume } = readDraw(ahead, draw(random));
    drawStrengths(ahead, strength, random);
    for (let call = 0; call < calls; call++) {
      const place = { found: found[call], after: after[call] };
      note(water, conditions, place.found as Record<Steered, Float64Array>, index);
      ahead.give(water, grams[call], volume, strength);
      note(water, conditions, place.after as Record<Steered, Float64Array>, index);
      if (call === gaps.length) break;
      // How fast air works is a guess: so is how much of it there is.
      ahead.air(water, (aired[call] ?? 0) * Math.exp(AIR_SCATTER * normal(random)));
      const gap = days[call] as number;
      ahead.drift(water, call, gapHabits(own, fed, gap, problem, random), (half) =>
        note(half, conditions, mid[call] as Record<Steered, Float64Array>, index),
      );
      leaveOut(water, gap, problem.believed, random);
    }
  }
  return { found, after, mid };
}

/**
 * The pH after today's pours, as often as it may come: before anything drifts, so that many draws cost little.
 * @example drawnToday(ahead, new Map(), 300).length // 300
 */
export function drawnToday(ahead: Ahead, grams: ReadonlyMap<string, number>, count: number): Float64Array {
  const random = seeded(SEED);
  const after = columns(count);
  const strength = new Float64Array(ahead.products.length);
  const draw = drawerOf(ahead.problem.believed);
  const conditions = conditionsOf(ahead.start);
  for (let index = 0; index < count; index++) {
    const { water, volume } = readDraw(ahead, draw(random));
    drawStrengths(ahead, strength, random);
    ahead.give(water, grams, volume, strength);
    note(water, conditions, after, index);
  }
  return after.ph;
}

function drawStrengths({ products }: Ahead, strength: Float64Array, random: Random): void {
  products.forEach(({ product }, place) => {
    strength[place] = Math.max(0, 1 + STRENGTH_DEVIATION[PRODUCTS[product].form] * normal(random));
  });
}

/** A draw of the unknowns: a water, its rates, and its volume over the book's. */
export function readDraw(
  { start, problem }: Pick<Ahead, "start" | "problem">,
  x: Float64Array,
): { water: Totals; own: Habits; volume: number } {
  const water = { ...start };
  TOTALS.forEach((name, index) => {
    water[name] = Math.max(LEAST_TOTAL[name] ?? 0, x[index] as number) / MILLI;
  });
  const own = {} as Habits;
  HABIT_NAMES.forEach((name, index) => {
    const at = FIRST_HABIT + index;
    // Over what is set: a feeder's own number may be a share of its setting.
    const off = (x[at] as number) - (problem.believed.mean[at] as number);
    const variance = Math.min(MOST_BENT, problem.believed.covariance[at]?.[at] ?? 0);
    // One that stands still is drawn too: how much it gives over its setting holds for the next.
    own[name] =
      Math.max(STILL, problem.rates[name]) *
      Math.exp(Math.max(-MOST_OFF, Math.min(MOST_OFF, off)) - variance / 2);
  });
  return { water, own, volume: Math.exp(x[VOLUME] as number) };
}

/**
 * A log tells the sum of what the sun and the dark take better than either: as one is drawn up the other is drawn
 * down, and of two logarithms that go apart the sum would rise (eᵟ + e⁻ᵟ > 2). Half their variance is taken off, as
 * for any mean of a lognormal; of a wide prior no more than this, since its median is what is usual.
 */
const MOST_BENT = 0.1;

/** No water has less, mmol/L; and no rate is off by more, as a logarithm. */
const LEAST_TOTAL: Partial<Record<(typeof TOTALS)[number], number>> = { inorganicCarbon: 0.05 };
const MOST_OFF = 2.5;
/** So small a rate moves nothing. */
const STILL = 1e-9;

/**
 * The habits over a gap: the scatter of its days, in their mean.
 * @param sky of the sun over it; drawn without it
 */
export function gapHabits(
  own: Habits,
  fed: number,
  days: number,
  { believed, rates }: HorizonProblem,
  random: Random,
  sky = skyOver(days, random),
): Habits {
  const root = Math.sqrt(Math.max(1, days) / believed.scales.freeChlorine);
  const factor = (deviation: number) => Math.exp((deviation / root) * normal(random));
  return {
    ...own,
    sunUnbound: own.sunUnbound * sky,
    sunBound: own.sunBound * sky,
    darkDemand: own.darkDemand * factor(BATHERS),
    feeder: fed * (own.feeder / Math.max(STILL, rates.feeder)) * factor(FEEDER_SCATTER),
  };
}

/** What the sun of so many days gives over a usual one's. */
export const skyOver = (days: number, random: Random): number =>
  Math.exp(SKY * Math.max(1, days) ** -0.3 * normal(random));

/** What the processes leave out over a gap, in place. */
export function leaveOut(water: Totals, days: number, { scales }: Believed, random: Random): void {
  const root = Math.sqrt(days) / MILLI;
  for (const name of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate"] as const)
    water[name] = Math.max(
      1e-5,
      water[name] + root * Math.sqrt(scales[TOLD_BY[name]]) * LEFT_OUT[name] * normal(random),
    );
  const loose = CHLORINE_LEFT_OUT * Math.sqrt(scales.freeChlorine * Math.min(days, CHLORINE_DAYS));
  water.chlorine *= Math.max(0, 1 + loose * normal(random));
}

/** The readings of a water, into their columns. The draws' salts are all but the start's: its constants hold. */
function note(
  water: Totals,
  conditions: Conditions,
  into: Record<Steered, Float64Array>,
  index: number,
): void {
  try {
    const { ph } = solvePh(conditions, water, water.alkalinity);
    into.ph[index] = ph;
    into.totalAlkalinity[index] = asRead.alkalinity(
      chargeAt(conditions, { ...water, chlorine: 0 }, activity(ph)).charge,
    );
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    for (const name of STEERED) into[name][index] = Number.NaN;
    return;
  }
  into.calciumHardness[index] = asRead.calcium(water.calcium);
  into.cyanuricAcid[index] = asRead.cyanurate(water.cyanurate);
  into.freeChlorine[index] = asRead.chlorine(water.chlorine);
}

const NINETY_LOW = 0.05;

/** The middle and the central 90 % of draws. @example figureOf(Float64Array.of(1, 2, 3)).value // 2 */
export function figureOf(draws: Float64Array): Figure {
  const sorted = draws.filter((value) => !Number.isNaN(value)).sort();
  return {
    value: quantile(sorted, 0.5),
    low: quantile(sorted, NINETY_LOW),
    high: quantile(sorted, 1 - NINETY_LOW),
  };
}

/** Of numbers in their order, between the two that it falls between. */
export function quantile(sorted: Float64Array, share: number): number {
  const at = share * (sorted.length - 1);
  const low = Math.floor(at);
  const first = sorted[low] ?? Number.NaN;
  return first + (at - low) * ((sorted[Math.min(sorted.length - 1, low + 1)] ?? first) - first);
}
