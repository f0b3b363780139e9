import { HABIT_NAMES, type Habits } from "../../drift/habits";
import { InputFault } from "../../fault";
import { PRODUCTS } from "../../products/products";
import { normal, type Random, seeded } from "../../random";
import type { Figure } from "../../uncertainty/figure";
import { draw, STRENGTH_DEVIATION, usualSpreads } from "../../uncertainty/spread";
import { readingsOf } from "../../water/equilibrium";
import { type Sample, type Totals, totalsOf } from "../../water/sample";
import { STEERED, type Steered } from "../plan/goals";
import type { Ahead, Schedule } from "./ahead";

/**
 * The water ahead as often as it may come: today's readings within their brackets, the volume, the strengths,
 * the habits and the days drawn anew each time, and every time the whole drift.
 */

/** Of a day's bathing, wind and sun, and of what a feeder gives in a day: standard deviation of the logarithm. */
const BY_THE_DAY = { bathing: 0.4, wind: 0.35, sun: 0.2, feeder: 0.25 } as const;

/** Of what air drives out. */
const AIR_SCATTER = 0.25;

const SEED = 1;

/** Readings drawn at each call: as they are found, and after what was given. */
export interface Drawn {
  found: Record<Steered, Float64Array>[];
  after: Record<Steered, Float64Array>[];
}

const columns = (count: number): Record<Steered, Float64Array> =>
  Object.fromEntries(STEERED.map((name) => [name, new Float64Array(count)])) as Record<Steered, Float64Array>;

/** The same schedule and number of draws give the same answer. */
export function drawn(ahead: Ahead, { grams, aired, fed }: Schedule, count: number): Drawn {
  const { problem, gaps, days, products } = ahead;
  const random = seeded(SEED);
  const calls = gaps.length + 1;
  const found = Array.from({ length: calls }, () => columns(count));
  const after = Array.from({ length: calls }, () => columns(count));
  const strength = new Float64Array(products.length);
  for (let index = 0; index < count; index++) {
    const water = drawnStart(ahead, random);
    const volume = Math.exp(problem.unsureVolume * normal(random));
    drawStrengths(ahead, strength, random);
    const own = drawnHabits(ahead, random);
    for (let call = 0; call < calls; call++) {
      const place = { found: found[call], after: after[call] };
      note(water, place.found as Record<Steered, Float64Array>, index);
      ahead.give(water, grams[call], volume, strength);
      note(water, place.after as Record<Steered, Float64Array>, index);
      if (call === gaps.length) break;
      // How fast air works is a guess: so is how much of it there is.
      ahead.air(water, (aired[call] ?? 0) * Math.exp(AIR_SCATTER * normal(random)));
      ahead.drift(water, call, gapHabits(own, fed, days[call] as number, random));
    }
  }
  return { found, after };
}

/**
 * The pH after today's pours, as often as it may come: before anything drifts, so that many draws cost little.
 * @example drawnToday(ahead, new Map(), 300).length // 300
 */
export function drawnToday(ahead: Ahead, grams: ReadonlyMap<string, number>, count: number): Float64Array {
  const random = seeded(SEED);
  const after = columns(count);
  const strength = new Float64Array(ahead.products.length);
  for (let index = 0; index < count; index++) {
    const water = drawnStart(ahead, random);
    drawStrengths(ahead, strength, random);
    ahead.give(water, grams, Math.exp(ahead.problem.unsureVolume * normal(random)), strength);
    note(water, after, index);
  }
  return after.ph;
}

function drawStrengths({ products }: Ahead, strength: Float64Array, random: Random): void {
  products.forEach(({ product }, place) => {
    strength[place] = Math.max(0, 1 + STRENGTH_DEVIATION[PRODUCTS[product].form] * normal(random));
  });
}

/** Readings that cannot stand together, far out in their brackets, are the ones that were read. */
function drawnStart({ problem, start }: Ahead, random: Random): Totals {
  const { input, spreads } = problem.still;
  const spread = spreads ?? usualSpreads(input.water);
  const sample: Sample = { ...input.water };
  for (const name of STEERED) sample[name] = Math.max(0, draw(spread[name], random));
  try {
    return totalsOf(sample);
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    return { ...start };
  }
}

function drawnHabits({ problem: { rates, unsure } }: Ahead, random: Random): Habits {
  const own = { ...rates };
  // Of sun on bound and on unbound chlorine nobody knows one better than the other.
  const sun = normal(random);
  for (const name of HABIT_NAMES) {
    const by = name === "sunUnbound" || name === "sunBound" ? sun : normal(random);
    own[name] = rates[name] * Math.exp(unsure[name] * by);
  }
  return own;
}

/** The habits over a gap: the scatter of its days, in their mean. */
function gapHabits(own: Habits, fed: number, days: number, random: Random): Habits {
  const root = Math.sqrt(Math.max(1, days));
  const factor = (deviation: number) => Math.exp((deviation / root) * normal(random));
  const sun = factor(BY_THE_DAY.sun);
  return {
    ...own,
    darkDemand: own.darkDemand * factor(BY_THE_DAY.bathing),
    sunUnbound: own.sunUnbound * sun,
    sunBound: own.sunBound * sun,
    gasExchange: own.gasExchange * factor(BY_THE_DAY.wind),
    feeder: fed * factor(BY_THE_DAY.feeder),
  };
}

function note(water: Totals, into: Record<Steered, Float64Array>, index: number): void {
  try {
    const readings = readingsOf(water);
    for (const name of STEERED) into[name][index] = readings[name];
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    for (const name of STEERED) into[name][index] = Number.NaN;
  }
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
