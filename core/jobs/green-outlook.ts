import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { normal, type Random, seeded } from "../random";
import type { Figure } from "../uncertainty/figure";

/**
 * How long a green pool will take and what it will cost, told before the first dose and again at every call:
 * many pools that could be this one are treated call by call, each weighed by how well it went along with what
 * was found so far.
 */

/** How deep one sees, cm; "floor" where that is the deepest floor. */
export type Sight = number | "floor";

/** A call at a green pool. */
export interface GreenCall {
  /** ms since 1970 */
  at: number;
  /** Null where nobody looked. */
  sight: Sight | null;
  /** Free chlorine as it was found, mg/L; null where nobody read it. */
  found: number | null;
  /** What stood there when whoever called went, by the last test and what went in since; null where nobody knows. */
  left: number | null;
}

export interface GreenInput {
  /** The first call first; of one that is not over, `left` is null. */
  calls: readonly GreenCall[];
  /** Hour of the day at the first call, by the clock there, 0 to 24. */
  hour: number;
  /** Free chlorine that is held, mg/L. */
  level: number;
  outdoors: boolean;
  litres: number;
  /** Money for a milligram of chlorine in each litre of the basin, and for a call. */
  perMilligram: number;
  perCall: number;
}

export interface GreenOutlook {
  /** From the first call to the one at which it is won, days. */
  days: Figure;
  /** For all of it, what was spent too. */
  money: Figure;
}

/** Pools that could be this one. */
const POOLS = 500;
/** What takes longer is told as this. Days */
const LONGEST = 40;

/**
 * Chlorophyll by how deep one sees: ln(depth, m) = 2.04 − 0.68 ln(mg/m³). Carlson 1977, "A trophic state index for
 * lakes", Limnology and Oceanography 22.
 */
const chlorophyll = (metres: number): number => Math.exp((2.04 - Math.log(metres)) / 0.68);
/** Dry algae for each part of chlorophyll: about one in a hundred is. mg/L for each mg/m³ */
const DRY = 0.1;
/** Chlorine that a milligram of them takes: their nitrogen to breakpoint, 7.6 by weight, and as much carbon. */
const TAKES = 1.1;
/** What grows on the walls and lies on the floor takes about as much again, and dust and leaves some in any pool. */
const BESIDE = 1.8;
const ALWAYS = 4;
/** How far apart pools are that look alike, as deviations of logarithms. */
const APART = { demand: 0.6, unseen: 0.9, rate: 0.5, kill: 0.45, clears: 0.65, sun: 0.4, depth: 0.2 };
/** Of what is left to take at the level, a day; of what is alive; of what is dead and filtered around the clock. */
const RATE = 1;
const KILL = 1.6;
const CLEARS = 0.7;
/** Of shielded chlorine in the sun, a day over the whole of it. */
const SUN = 0.25;
/** Where nobody measured how deep one sees, cm; and what can be measured. */
const UNSEEN = 30;
const SIGHT = { low: 4, high: 300 };
/** Deepest floor, cm: a small pool is not as deep. */
const deepest = (litres: number): number => (litres < 15_000 ? 120 : 175);

/** Water holds when a night takes no more than this, mg/L: usual practice. */
export const HOLDS = 1;

interface Pool {
  demand: number;
  alive: number;
  dead: number;
  readonly seenFirst: number;
  readonly rate: number;
  readonly kill: number;
  readonly clears: number;
  readonly sun: number;
  readonly depth: number;
  chlorine: number;
  log: number;
}

/** Days and money, before the first dose or on the way: for the same calls always the same. */
export function greenOutlook(input: GreenInput): GreenOutlook {
  const random = seeded(20_771);
  const ends = Array.from({ length: POOLS }, () => followed(input, random));
  const most = Math.max(...ends.map(({ log }) => log));
  const weighed = ends.map(({ days, money, log }) => ({ days, money, weight: Math.exp(log - most) }));
  return {
    days: figureOf(weighed.map(({ days, weight }) => ({ value: days, weight }))),
    money: figureOf(weighed.map(({ money, weight }) => ({ value: money, weight }))),
  };
}

function poolOf({ calls, litres, outdoors }: GreenInput, random: Random): Pool {
  const near = (usual: number, apart: number) => usual * Math.exp(apart * normal(random));
  const depth = near(deepest(litres), APART.depth);
  const seen = calls[0]?.sight ?? null;
  const measured = seen === "floor" ? depth : (seen ?? near(UNSEEN, APART.unseen));
  const first = Math.min(SIGHT.high, Math.max(SIGHT.low, measured));
  const algae = TAKES * DRY * chlorophyll(first / 100);
  return {
    demand: near(ALWAYS + BESIDE * algae, APART.demand),
    alive: 1,
    dead: 0,
    seenFirst: first,
    rate: near(RATE, APART.rate),
    kill: near(KILL, APART.kill),
    clears: near(CLEARS, APART.clears),
    sun: outdoors ? near(SUN, APART.sun) : 0,
    depth,
    chlorine: 0,
    log: 0,
  };
}

/** One pool through the calls that were, weighed by what was found, and through those to come until it is won. */
function followed(input: GreenInput, random: Random): { days: number; money: number; log: number } {
  const { calls, level, perMilligram, perCall } = input;
  const pool = poolOf(input, random);
  const start = calls[0]?.at ?? 0;
  let at = start;
  let money = 0;
  calls.forEach((call, index) => {
    const before = pool.chlorine;
    walk(pool, input, at, call.at);
    at = call.at;
    if (index > 0) {
      pool.log += likeness(pool, call, before);
      asSeen(pool, call);
    }
    const found = call.found ?? pool.chlorine;
    const left = call.left ?? Math.max(found, level);
    money += perCall + perMilligram * Math.max(0, left - found);
    pool.chlorine = left;
  });
  while ((at - start) / millisecondsInDay < LONGEST) {
    const isNight = hourAt(input, at) >= EVENING_FROM;
    const before = pool.chlorine;
    const next = at + (isNight ? NIGHT : DAY) * millisecondsInHour;
    walk(pool, input, at, next);
    at = next;
    money += perCall;
    if (isNight && before - pool.chlorine <= HOLDS && isClear(pool)) break;
    money += perMilligram * Math.max(0, level - pool.chlorine);
    pool.chlorine = Math.max(pool.chlorine, level);
  }
  return { days: (at - start) / millisecondsInDay, money, log: pool.log };
}

/** Twice a day: in the morning, and in the evening again. Hours between; from when on a call is the evening's. */
const DAY = 10;
const NIGHT = 14;
export const EVENING_FROM = 14;

const hourAt = ({ calls, hour }: GreenInput, at: number): number =>
  (hour + (at - (calls[0]?.at ?? at)) / millisecondsInHour) % 24;

const STEP = 1 / 24;
/** Hours in which the sun takes chlorine; a night is what lies between. */
const SUN_UP = 8;
const SUN_DOWN = 18;

/** Chlorine is taken by what is left to take and by the sun; what it kills clouds until it is filtered out. */
function walk(pool: Pool, input: GreenInput, from: number, to: number): void {
  for (let at = from; at < to - 1; at += millisecondsInHour) {
    const hours = Math.min(1, (to - at) / millisecondsInHour);
    const step = STEP * hours;
    const share = Math.min(1, pool.chlorine / input.level);
    const taken = Math.min(pool.chlorine, pool.demand * pool.rate * share * step);
    const hour = hourAt(input, at);
    const shines = hour >= SUN_UP && hour < SUN_DOWN ? 24 / (SUN_DOWN - SUN_UP) : 0;
    pool.demand -= taken;
    pool.chlorine = Math.max(0, pool.chlorine - taken - pool.chlorine * pool.sun * shines * step);
    const killed = pool.alive * (1 - Math.exp(-pool.kill * share * step));
    pool.alive -= killed;
    pool.dead = (pool.dead + killed) * Math.exp(-pool.clears * step);
  }
}

const sightIn = ({ seenFirst, alive, dead }: Pool): number => seenFirst / Math.max(1e-6, alive + dead);
const isClear = (pool: Pool): boolean => sightIn(pool) >= pool.depth;

/** How well a pool goes along with what was found: tests by drops, an eye, and that no pool is as simple as this. */
function likeness(pool: Pool, { sight, found }: GreenCall, before: number): number {
  const off = (difference: number, deviation: number) => -0.5 * (difference / deviation) ** 2;
  const chlorine =
    found === null
      ? 0
      : off(found - pool.chlorine, 0.5 + 0.1 * found + 0.3 * Math.max(0, before - pool.chlorine));
  if (sight === null) return chlorine;
  const seen = Math.min(pool.depth, sightIn(pool));
  return chlorine + off(Math.log((sight === "floor" ? pool.depth : sight) / seen), 0.5);
}

/** Part of the way to what an eye found: no pool clears as simply as this. */
const TOWARD = 0.5;

/** A pool that was seen is half as it was thought and half as it was seen; a floor that shows, shows. */
function asSeen(pool: Pool, { sight }: GreenCall): void {
  if (sight === null) return;
  const here = sightIn(pool);
  const scale =
    sight === "floor" ? Math.min(1, here / pool.depth) : (here / Math.min(sight, pool.depth)) ** TOWARD;
  pool.alive *= scale;
  pool.dead *= scale;
}

/** The middle, and what nine in ten lie between. */
function figureOf(values: { value: number; weight: number }[]): Figure {
  const sorted = [...values].sort((a, b) => a.value - b.value);
  const whole = sorted.reduce((sum, { weight }) => sum + weight, 0);
  const at = (share: number) => {
    let sum = 0;
    for (const { value, weight } of sorted) {
      sum += weight;
      if (sum >= share * whole) return value;
    }
    return sorted.at(-1)?.value ?? 0;
  };
  return { value: at(0.5), low: at(0.05), high: at(0.95) };
}
