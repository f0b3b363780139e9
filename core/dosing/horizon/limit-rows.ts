import { MILLI } from "../../learning/unknowns";
import { TRAITS } from "../../products/traits";
import { readingsAt, type Totals } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { PlanInput } from "../plan/input";
import {
  chargeExpression,
  chargePerPh,
  type LinearTotals,
  type Reference,
  titratedExpression,
} from "../plan/linearise";
import { type Linear, linear, plus, times } from "../plan/programme";
import { SAFE_WAY } from "../plan/way";
import { halfWidth, MOLES, TEST_STEP } from "../plan/weighing";
import type { Asked } from "./asked";
import { type Rows, yName } from "./rows";
import type { Term } from "./terms";

/** The rows of what a plan is held to at one moment. */

/** Holds a water to its terms. */
export function hold(rows: Rows, terms: readonly Term[], totals: LinearTotals, at: Reference): void {
  let index: Linear | null = null;
  for (const { what, side, limit, price } of terms) {
    let value: Linear;
    let bound: Linear;
    let scale = 1;
    if (what === "ph") {
      // At a fixed pH the charge is linear in the totals: more alkalinity than that is a higher pH.
      value = totals.alkalinity;
      bound = chargeExpression(at, totals, limit);
      scale = Math.abs(chargePerPh(at, limit));
    } else if (what === "saturation") {
      index ??= indexExpression(at, totals);
      value = index;
      bound = linear(limit);
    } else {
      value =
        what === "totalAlkalinity"
          ? titratedExpression(at, totals)
          : what === "calciumHardness"
            ? totals.calcium
            : what === "cyanuricAcid"
              ? totals.cyanurate
              : totals.chlorine;
      bound = linear(MILLI * MOLES[what](limit));
      scale = MILLI * MOLES[what](1);
    }
    if (side === "low") rows.above(value, bound, scale, price);
    else rows.above(bound, value, scale, price);
  }
}

/**
 * The saturation index, straight about a water: it rises by one with the pH, and with the logarithms of calcium
 * and of alkalinity.
 */
function indexExpression(at: Reference, totals: LinearTotals): Linear {
  const here = saturation(readingsAt(at.totals, at.ph)).full.corrected;
  const perPh = chargePerPh(at, at.ph);
  const ph = times(plus(totals.alkalinity, chargeExpression(at, totals, at.ph), -1), 1 / perPh);
  const logarithm = (expression: Linear, value: number) =>
    times(plus(expression, linear(-value)), 1 / (Math.LN10 * Math.max(1e-3, value)));
  const calcium = logarithm(totals.calcium, MILLI * at.totals.calcium);
  const alkalinity = logarithm(totals.alkalinity, MILLI * at.totals.alkalinity);
  return plus(plus(plus(linear(here), ph), calcium), alkalinity);
}

/** Acid goes in only as far as the pH is surely over its limit afterwards; the rest is for a later call. */
export function holdAcid(
  rows: Rows,
  { ahead, weights, input, allowed, sureLow }: Asked,
  after: LinearTotals,
  at: Reference,
): void {
  const limit = overshootLimit(input, sureLow, true);
  const limitWithout = overshootLimit(input, sureLow, false);
  if (limit === null || limitWithout === null) return;
  const perPh = chargePerPh(at, limit);
  const more = whereAcidIsGiven(input, allowed, perPh * (limit - limitWithout));
  // A sock of stabiliser dissolves over days: what it does to the pH is no part of today's.
  const today = { ...after, cyanurate: linear(MILLI * ahead.start.cyanurate) };
  rows.above(
    after.alkalinity,
    plus(chargeExpression(at, today, limitWithout), more),
    Math.abs(halfWidth("ph", input.goals.ph) * perPh),
    weights.overshoot,
  );
}

/** So much where an acid is poured today, nothing where none is. */
function whereAcidIsGiven({ products }: PlanInput, allowed: Asked["allowed"], amount: number): Linear {
  const opened = products.flatMap(({ product }, index) =>
    TRAITS[product].use === "acid" && allowed.now.has(index) ? [yName(index)] : [],
  );
  return linear(0, Object.fromEntries(opened.map((name) => [name, amount])));
}

/** What is poured today leaves a water of a safe way once a sock has dissolved, too. */
export function holdWay(
  rows: Rows,
  { ahead, weights, input, allowed }: Asked,
  after: LinearTotals,
  at: Reference,
): void {
  const isSocked = input.products.some(
    ({ product }, index) => TRAITS[product].how === "in-a-sock" && allowed.now.has(index),
  );
  if (!isSocked) return;
  const { ph, index } = lowestOfWay(input, ahead.start, false);
  const withAcid = lowestOfWay(input, ahead.start, true).ph;
  const perPh = chargePerPh(at, ph);
  rows.above(
    after.alkalinity,
    plus(chargeExpression(at, after, ph), whereAcidIsGiven(input, allowed, perPh * (withAcid - ph))),
    Math.abs(halfWidth("ph", input.goals.ph) * perPh),
    WALLS_PRICE * weights.overshoot,
  );
  if (Number.isFinite(index))
    rows.above(
      indexExpression(at, after),
      linear(index),
      halfWidth("ph", input.goals.ph),
      WALLS_PRICE * weights.overshoot,
    );
}

/** Walls and eyes cost so many times what a range does. */
export const WALLS_PRICE = 4;
/** A sock is still dissolving when nobody is there to see: it stops where acid does that is followed by air. */
const DISSOLVED_DOWN_TO = 7;
/** What is poured is cut to whole portions: so far inside. */
const INSIDE = 0.03;

/**
 * The lowest pH and index that today's pours may leave once a sock has dissolved: those of a safe way, or as the water
 * stands. A pH that is under already goes no further down, and acid beside a sock takes none out of its range.
 * @example lowestOfWay(input, totalsOf(input.water), false).ph // 7
 */
export function lowestOfWay(
  { water, goals: { ph } }: PlanInput,
  start: Totals,
  isAcidGiven: boolean,
): { ph: number; index: number } {
  const stands = saturation(readingsAt(start, water.ph)).full.corrected;
  const isUnder = ph.known && ph.low !== null && water.ph < ph.low;
  const down = isUnder ? water.ph - TEST_STEP.ph / 4 : DISSOLVED_DOWN_TO;
  return {
    ph: Math.min(isAcidGiven ? Math.max(down, Math.min(ph.low ?? BITES, BITES)) : down, water.ph),
    index: Math.min(SAFE_WAY.saturation.low + INSIDE, stands),
  };
}

/** Under this pH a water bites metal, plaster and eyes, in every school: what a set asks over it is held by chance. */
export const BITES = 7.2;

/**
 * The lowest pH that today's pours may leave: so far over its limit that it holds nine times in ten. Where it
 * stands lower already no acid brings it down, and nothing else by more than its test sees.
 * @example overshootLimit(input, 0.15, true) // 7.35
 */
export function overshootLimit(
  { goals: { ph }, water }: PlanInput,
  margin: number,
  isAcidGiven: boolean,
): number | null {
  if (!ph.known || ph.low === null) return null;
  return Math.min(Math.min(ph.low, BITES) + margin, isAcidGiven ? water.ph : water.ph - TEST_STEP.ph);
}
