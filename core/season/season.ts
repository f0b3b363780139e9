import { millisecondsInDay } from "date-fns/constants";
import { gramsForChange, gramsForPh, type Proportional } from "../dosing/single";
import { driftOver, stepsBetween } from "../drift/drift";
import type { Habits } from "../drift/habits";
import type { Surroundings } from "../drift/surroundings";
import { InputFault } from "../fault";
import { addShares, replaceWater } from "../products/effects";
import { effect, effectPerGram, type MolarEffect, type Product } from "../products/products";
import { type RangeSet, rangesOf, type Surface } from "../ranges/range-set";
import { readingsOf } from "../water/equilibrium";
import { asRead, molar } from "../water/molar";
import { type Sample, type Totals, totalsOf } from "../water/sample";

/**
 * A season of one basin under each way of chlorinating it: where stabiliser, calcium and dissolved solids
 * go, what water must be replaced for it, and what it costs. It is how somebody decides to stop buying tablets.
 */

export const CHLORINE_WAYS = ["tablets", "dichlor", "liquid", "calcium-hypochlorite", "salt-cell"] as const;
export type ChlorineWay = (typeof CHLORINE_WAYS)[number];

/** What each way puts in; a cell makes hypochlorite out of the water's own salt. */
export const WAY_PRODUCTS = {
  tablets: "trichlor",
  dichlor: "dichlor",
  liquid: "sodium-hypochlorite",
  "calcium-hypochlorite": "calcium-hypochlorite",
  "salt-cell": null,
} as const satisfies Record<ChlorineWay, Product["product"] | null>;

/** What is kept right beside the chlorine. */
export const KEPT_BY = {
  acid: "hydrochloric-acid",
  alkalinity: "sodium-bicarbonate",
  base: "sodium-carbonate",
  calcium: "calcium-chloride",
  stabiliser: "cyanuric-acid",
} as const satisfies Record<string, Product["product"]>;
type Keeper = (typeof KEPT_BY)[keyof typeof KEPT_BY];

export interface SeasonAsked {
  water: Sample;
  litres: number;
  fill: Sample;
  /** As rates, without a feeder. */
  habits: Habits;
  around: Surroundings;
  rangeSet: RangeSet;
  surface: Surface;
  /** Stabiliser is kept where the sun shines. */
  outdoors: boolean;
  /** ms since 1970. */
  from: number;
  weeks: number;
  /** Strengths as sold, of what the ways and the rest use. */
  strengths: Record<Product["product"], number>;
  /** How much more or less the sun shines, and people bathe, than is usual: 1 is as usual. */
  sun: number;
  use: number;
  /** Money: a kilogram of each product, a kilogram of chlorine out of the cell, a cubic metre of water. */
  prices: Partial<Record<Product["product"] | "cell" | "water", number | undefined>>;
}

/** What is told of each, and must not pass its limit. */
export const SEASON_QUANTITIES = ["cyanuricAcid", "calciumHardness", "totalDissolvedSolids"] as const;
export type SeasonQuantity = (typeof SEASON_QUANTITIES)[number];

export interface SeasonPoint extends Record<SeasonQuantity, number> {
  at: number;
}

export interface SeasonOfWay {
  way: ChlorineWay;
  /** Where the water stands at the start and at each week's end, before anything is replaced. */
  points: SeasonPoint[];
  /** When each passed its limit for the first time; the start of the season for what stands over it already. */
  passed: Partial<Record<SeasonQuantity, number>>;
  /** As sold, grams; of a cell the chlorine that it made. */
  chlorine: number;
  given: Partial<Record<Product["product"], number>>;
  /** Litres of water replaced because a limit was passed. */
  replaced: number;
  /** Null where a price that is needed is not known. */
  cost: number | null;
}

/** Solids may climb so far over the fill's before water is replaced, where the set has no limit of its own. mg/L */
const SOLIDS_OVER_FILL = 2500;
/** A basin that is drained for a limit is drained to well under it, but not under its aim, or half way to what the tap gives. */
const BACK_TO = 0.7;
/** No more of the water is replaced at a time. */
const MOST_REPLACED = 0.6;
const WEEK = 7 * millisecondsInDay;
const DAYS = 7;

/** Every way over the same months. @example season(seasonAsked)[4]?.way // "salt-cell" */
export const season = (asked: SeasonAsked): SeasonOfWay[] => CHLORINE_WAYS.map((way) => seasonOf(way, asked));

function seasonOf(way: ChlorineWay, asked: SeasonAsked): SeasonOfWay {
  const { litres, from, weeks, strengths } = asked;
  const fill = totalsOf(asked.fill);
  const habits: Habits = {
    ...asked.habits,
    darkDemand: asked.habits.darkDemand * asked.use,
    sunUnbound: asked.habits.sunUnbound * asked.sun,
    sunBound: asked.habits.sunBound * asked.sun,
    splashOut: asked.habits.splashOut * asked.use,
    feeder: 0,
  };
  const compound = WAY_PRODUCTS[way];
  // Out of salt and water a cell makes hypochlorite, with its caustic and nothing besides.
  const perGram: MolarEffect = compound
    ? effectPerGram({ product: compound, strength: strengths[compound] })
    : effect({ alkalinity: molar.chlorine(1000), chlorine: molar.chlorine(1000) });
  const water = { ...totalsOf(asked.water) };
  const told: SeasonOfWay = {
    way,
    points: [pointOf(from, water)],
    passed: overNow(water, asked),
    chlorine: 0,
    given: {},
    replaced: 0,
    cost: null,
  };
  for (let week = 0; week < weeks; week++) {
    const begin = from + week * WEEK;
    const ranges = rangesOf(asked.rangeSet, asked.surface, readingsOf(water));
    const held = molar.chlorine(heldAt(ranges.freeChlorine));
    for (let day = 0; day < DAYS; day++) {
      const start = begin + day * millisecondsInDay;
      if (water.chlorine < held) told.chlorine += give(water, perGram, held - water.chlorine) * litres;
      driftOver(
        water,
        habits,
        "none",
        stepsBetween(water, start, start + millisecondsInDay, asked.around),
        fill,
      );
      water.totalDissolvedSolids +=
        habits.evaporation * fill.totalDissolvedSolids +
        habits.splashOut * (fill.totalDissolvedSolids - water.totalDissolvedSolids);
    }
    water.temperature = asked.around.temperature(begin + WEEK);
    told.points.push(pointOf(begin + WEEK, water));
    replaceWhatPassed(water, fill, ranges, asked, told, begin + WEEK);
    keepRight(water, asked, told);
  }
  told.cost = costOf(told, asked);
  return told;
}

/** What stands over its limit before the season has begun. */
function overNow(
  water: Totals,
  { rangeSet, surface, from, fill, water: start }: SeasonAsked,
): SeasonOfWay["passed"] {
  const limits = seasonLimits(rangesOf(rangeSet, surface, readingsOf(water)), fill, start);
  const now = pointOf(from, water);
  const over = SEASON_QUANTITIES.filter(
    (quantity) => now[quantity] > (limits[quantity] ?? Number.POSITIVE_INFINITY),
  );
  return Object.fromEntries(over.map((quantity) => [quantity, from]));
}

/** Free chlorine that is held: the aim, or the middle of its band. mg/L */
function heldAt(range: ReturnType<typeof rangesOf>["freeChlorine"]): number {
  if (range?.aim !== undefined) return range.aim;
  const low = range?.low ?? 2;
  return (low + (range?.high ?? 2 * low)) / 2;
}

/** Gives so many moles of chlorine a litre. @returns grams a litre, as sold */
function give(water: Totals, perGram: MolarEffect, chlorine: number): number {
  const grams = chlorine / perGram.chlorine;
  addShares(water, [perGram], [grams]);
  return grams;
}

const pointOf = (at: number, water: Totals): SeasonPoint => ({
  at,
  cyanuricAcid: asRead.cyanurate(water.cyanurate),
  calciumHardness: asRead.calcium(water.calcium),
  totalDissolvedSolids: water.totalDissolvedSolids,
});

/**
 * The limits over which water is replaced.
 * @example seasonLimits({}, { totalDissolvedSolids: 300 }, { totalDissolvedSolids: 1000 }).totalDissolvedSolids // 3500
 */
export const seasonLimits = (
  ranges: ReturnType<typeof rangesOf>,
  fill: Pick<Sample, "totalDissolvedSolids">,
  start: Pick<Sample, "totalDissolvedSolids">,
): Record<SeasonQuantity, number | undefined> => ({
  cyanuricAcid: ranges.cyanuricAcid?.high,
  calciumHardness: ranges.calciumHardness?.high,
  totalDissolvedSolids:
    ranges.totalDissolvedSolids?.high ??
    Math.max(fill.totalDissolvedSolids, start.totalDissolvedSolids) + SOLIDS_OVER_FILL,
});

function replaceWhatPassed(
  water: Totals,
  fill: Totals,
  ranges: ReturnType<typeof rangesOf>,
  { litres, fill: filled, water: start }: SeasonAsked,
  told: SeasonOfWay,
  at: number,
): void {
  const limits = seasonLimits(ranges, filled, start);
  const now = pointOf(at, water);
  const fresh = pointOf(at, fill);
  let share = 0;
  for (const quantity of SEASON_QUANTITIES) {
    const limit = limits[quantity];
    if (limit === undefined || now[quantity] <= limit) continue;
    told.passed[quantity] ??= at;
    // What comes out of the tap over the limit is not got rid of by more of it.
    if (fresh[quantity] >= limit) continue;
    const wanted = Math.max(BACK_TO * limit, ranges[quantity]?.aim ?? 0);
    const target = fresh[quantity] > wanted ? (fresh[quantity] + limit) / 2 : wanted;
    share = Math.max(share, (now[quantity] - target) / (now[quantity] - fresh[quantity]));
  }
  if (share === 0) return;
  const replaced = Math.min(MOST_REPLACED, share);
  Object.assign(water, replaceWater(water, fill, replaced));
  told.replaced += replaced * litres;
}

/** What the weekly call puts right: stabiliser, calcium, alkalinity, pH. */
function keepRight(water: Totals, asked: SeasonAsked, told: SeasonOfWay): void {
  const { litres, strengths, outdoors } = asked;
  const dose = (product: Keeper, grams: number) => {
    if (!(grams > 0)) return;
    addShares(water, [effectPerGram({ product, strength: strengths[product] })], [grams / litres]);
    told.given[product] = (told.given[product] ?? 0) + grams;
  };
  const made = (product: Keeper) => ({
    product,
    strength: strengths[product],
  });
  const ranges = rangesOf(asked.rangeSet, asked.surface, readingsOf(water));
  /** Up to its aim what stands under its range. */
  const raise = (quantity: Proportional, product: Keeper) => {
    const range = ranges[quantity];
    const stands = readingsOf(water)[quantity];
    if (range?.low === undefined || stands >= range.low) return;
    const change = (range.aim ?? range.low) - stands;
    if (change > 0) dose(product, gramsForChange(made(product), quantity, change, litres));
  };
  if (outdoors) raise("cyanuricAcid", KEPT_BY.stabiliser);
  raise("calciumHardness", KEPT_BY.calcium);
  raise("totalAlkalinity", KEPT_BY.alkalinity);
  const now = readingsOf(water);
  const { low, high, aim } = ranges.ph ?? {};
  const product =
    high !== undefined && now.ph > high
      ? KEPT_BY.acid
      : low !== undefined && now.ph < low
        ? KEPT_BY.base
        : null;
  if (product) dose(product, gramsToPh(made(product), now, aim ?? 7.5, litres));
}

function gramsToPh(product: Product, now: Sample, aim: number, litres: number): number {
  try {
    return gramsForPh(product, now, aim, litres);
  } catch (fault) {
    // So little is off that the product has nothing to do.
    if (fault instanceof InputFault) return 0;
    throw fault;
  }
}

/** A kilogram of each at its price, what the cell wore, and the water. */
function costOf({ way, chlorine, given, replaced }: SeasonOfWay, { prices }: SeasonAsked): number | null {
  const compound = WAY_PRODUCTS[way];
  const amounts: [number, number | undefined][] = [
    [chlorine / 1000, compound ? prices[compound] : prices.cell],
    ...Object.entries(given).map(([product, grams]): [number, number | undefined] => [
      grams / 1000,
      prices[product as Product["product"]],
    ]),
    [replaced / 1000, prices.water],
  ];
  let sum = 0;
  for (const [amount, price] of amounts) {
    if (amount > 0 && price === undefined) return null;
    sum += amount * (price ?? 0);
  }
  return sum;
}
