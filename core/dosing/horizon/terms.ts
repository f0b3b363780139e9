import { TRAITS } from "../../products/traits";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { Goal, Steered } from "../plan/goals";
import { halfWidth } from "../plan/weighing";
import type { Asked } from "./asked";
import type { Moment } from "./moments";

/**
 * What a plan is held to, as one list: at each moment that is looked at a reading, a side, a limit, and what a unit
 * beyond it costs. The programme makes rows of it, and what a schedule is worth is told by the very same.
 *
 * What is made least is the expected distance outside each range over the whole time, not at the calls alone. Its
 * expectation is the mean over a few quantiles of what may come: a reading x that may be off by δ is beyond its
 * limit h by max(0, x + δ − h), so that each quantile is a limit of its own, h − δ.
 */
export interface Term {
  moment: Moment;
  what: Steered | "saturation";
  side: "low" | "high";
  limit: number;
  /** For a unit of the reading, money for a cubic metre. */
  price: number;
}

/** What each of the quantiles stands for of the whole; the middle one for all on its other side. */
const STANDS_FOR = [0.125, 0.225, 0.65, 0.225, 0.125] as const;
const MIDDLE = 2;
/** One in two hundred lies so much farther out than one in twenty (2.58 deviations over 1.64), and counts so much. */
const FAR_END = 1.57;
const FAR_SHARE = 0.05;
/** Of the time between two calls, what each moment stands for. */
const SHARE = { after: 0.25, mid: 0.5, found: 0.25 } as const;
/** What is farther ahead is planned anew before it comes. */
const FADES = 0.6;
const WEEK = 7;
/** However soon the next call is, what is left today counts at least so much of a week. */
const LEAST_WEEKS = 0.3;
/** Deviations of the index from balance that are as far off as half a range. */
const HALF_INDEX = 0.3;

const SLOW = ["totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const;

/** What half a range outside costs at a moment, by how much time it stands for. */
function timeAt({ ahead }: Asked, { kind, call }: Moment): number {
  const gap = kind === "found" ? call - 1 : call;
  const days = ahead.days[gap];
  if (days === undefined) return 1;
  return SHARE[kind] * Math.max(LEAST_WEEKS, days / WEEK) * FADES ** gap;
}

/** Everything that a plan is held to. */
export function termsOf(asked: Asked): Term[] {
  const { ahead, input, weights, chlorine } = asked;
  const { goals, water } = input;
  const means = chlorineMeans(asked);
  const last = ahead.gaps.length;
  const terms: Term[] = [];
  const moments: Moment[] = [];
  for (let call = 0; call <= last; call++) {
    // Half way is looked at until the next call; what is farther ahead is planned anew before it comes.
    if (call === 1) moments.push({ kind: "mid", call: 0 });
    if (call > 0) moments.push({ kind: "found", call });
    // Where the last call leaves the water nobody looks, unless it is the only one.
    if (call < last || last === 0) moments.push({ kind: "after", call });
  }
  for (const moment of moments) {
    const time = timeAt(asked, moment);
    const offsets = asked.offsets[moment.kind][moment.call];
    if (!offsets) continue;
    const isLeft = moment.kind === "after";
    // Where nobody knows of a next call, what is left today is all there is to look at.
    const isAll = last === 0;
    const farther = moment.call > (moment.kind === "found" ? 1 : 0);
    /** @param whole by all its quantiles; else by the middle one alone, where the other side is what may be passed */
    const expected = (
      what: Steered,
      side: "low" | "high",
      { limit, price }: { limit: number; price: number },
      whole: boolean,
    ) => {
      const places = (side === "low" ? [2, 1, 0] : [2, 3, 4]).slice(0, !whole ? 1 : farther ? 2 : 3);
      for (const place of places)
        terms.push({
          moment,
          what,
          side,
          limit: limit - (offsets[what][place] as number),
          price: price * time * (whole ? (STANDS_FOR[place] as number) : 1),
        });
    };
    const { ph } = goals;
    if (ph.known) {
      const price = weights.ph / halfWidth("ph", ph);
      // Poured down it may be too low; from there it climbs.
      if (ph.low !== null) expected("ph", "low", { limit: ph.low, price }, isLeft || isAll);
      if (ph.high !== null) expected("ph", "high", { limit: ph.high, price }, !isLeft || isAll);
    }
    const free = chlorine[moment.kind][moment.call] as Goal;
    if (free.known) {
      const half = halfWidth("freeChlorine", free);
      if (free.low !== null && means.low)
        expected(
          "freeChlorine",
          "low",
          { limit: free.low, price: weights.underFloor / half },
          !isLeft || isAll,
        );
      // Chlorine costs little, and a floor that is passed closes: the far end of what may come counts a little too.
      if (free.low !== null && means.low && !isLeft && !farther)
        terms.push({
          moment,
          what: "freeChlorine",
          side: "low",
          limit: free.low - FAR_END * (offsets.freeChlorine[0] as number),
          price: (FAR_SHARE * time * weights.underFloor) / half,
        });
      // What is poured is held by what it is expected to give: a bottle's own scatter is no reason to pour less.
      // Without a feeder it only falls from there.
      const isPoured = moment.call === 0 ? means.poured.now : means.poured.later;
      if (free.high !== null && isLeft && isPoured)
        terms.push({
          moment,
          what: "freeChlorine",
          side: "high",
          limit: free.high,
          price: (time * weights.pouredOver) / half,
        });
      else if (free.high !== null && ahead.problem.feeder && means.high)
        expected("freeChlorine", "high", { limit: free.high, price: weights.overChlorine / half }, true);
      if (isLeft && moment.call === 0 && !ahead.problem.feeder && free.steer && water.freeChlorine < free.aim)
        near(terms, moment, "freeChlorine", free.aim, weights.offAim / half);
    }
    if (moment.kind === "found" || last === 0) {
      for (const quantity of SLOW) slow(terms, asked, moment, quantity);
    }
    if (moment.kind !== "after" && goals.calciumHardness.known && goals.totalAlkalinity.known) {
      const price = (weights.saturation / HALF_INDEX) * time;
      const low = Math.max(goals.saturation.low, -HALF_INDEX);
      const high = Math.min(goals.saturation.high, HALF_INDEX);
      terms.push({ moment, what: "saturation", side: "low", limit: low, price });
      terms.push({ moment, what: "saturation", side: "high", limit: high, price });
    }
  }
  return terms;
}

/**
 * What this plan may do about chlorine: pour it today or at a later call, or set a feeder. What it may do nothing about
 * is no part of what it weighs: the pH moves chlorine's loss a little, and it would give less acid to hold it so.
 */
function chlorineMeans({ allowed, input }: Asked) {
  const isIn = (places: ReadonlySet<number>) =>
    input.products.some(({ product }, index) => TRAITS[product].use === "chlorine" && places.has(index));
  const now = isIn(allowed.now);
  const later = isIn(allowed.later);
  const { up, down } = allowed.feeder;
  // A feeder that may be turned down is held from being turned down too far.
  return { poured: { now, later }, low: now || later || up || down, high: down };
}

const near = (terms: Term[], moment: Moment, what: Steered, aim: number, price: number) => {
  terms.push({ moment, what, side: "low", limit: aim, price });
  terms.push({ moment, what, side: "high", limit: aim, price });
};

/** Alkalinity, calcium and stabiliser are looked at where a call finds them; the first call's doses count at the second. */
function slow(
  terms: Term[],
  { input, weights, offsets, ahead }: Asked,
  moment: Moment,
  what: (typeof SLOW)[number],
): void {
  const goal = input.goals[what];
  if (!goal.known) return;
  const off = offsets[moment.kind][moment.call]?.[what] as readonly number[];
  const half = halfWidth(what, goal);
  // What a call finds stood so for the time since the one before.
  const days = ahead.days[moment.call - 1] ?? WEEK;
  const fades = FADES ** Math.max(0, moment.call - 1) * Math.max(LEAST_WEEKS, days / WEEK);
  const outside = (weights.outside / half) * fades;
  const unsure = (weights.unsure / half) * fades;
  const { low, high } = goal;
  if (low !== null) {
    terms.push({ moment, what, side: "low", limit: low - (off[MIDDLE] as number), price: outside });
    if (goal.steer) terms.push({ moment, what, side: "low", limit: low - (off[1] as number), price: unsure });
  }
  if (high !== null) {
    terms.push({ moment, what, side: "high", limit: high - (off[MIDDLE] as number), price: outside });
    if (goal.steer)
      terms.push({ moment, what, side: "high", limit: high - (off[3] as number), price: unsure });
  }
  if (goal.steer)
    near(terms, moment, what, goal.aim - (off[MIDDLE] as number), (weights.offAim / half) * fades);
}

/** What a water costs beyond the terms of its moment. */
export function beyond(terms: readonly Term[], water: Sample): number {
  let sum = 0;
  let index: number | null = null;
  for (const { what, side, limit, price } of terms) {
    if (what === "saturation") index ??= saturation(water).full.corrected;
    const value = what === "saturation" ? (index ?? 0) : water[what];
    sum += price * Math.max(0, side === "low" ? limit - value : value - limit);
  }
  return sum;
}
