import { millisecondsInDay } from "date-fns/constants";
import {
  addShares,
  asRead,
  demandAt,
  drift,
  effectPerGram,
  molar,
  normal,
  type Product,
  type Random,
  readingsOf,
  type Sample,
  type Surroundings,
  type Totals,
  totalsOf,
} from "#core";
import type { DemoBasin, DemoSite } from "./cast";

/** The hidden water of a demo basin: it obeys the same chemistry that judges it, and drifts as learning knows. */
export interface HiddenWater {
  totals: Totals;
  combined: number;
  /** What the water truly holds; the book may have it wrong. */
  litres: number;
}

export const newWater = (basin: DemoBasin): HiddenWater => ({
  totals: totalsOf({
    ph: 7.5,
    ...basin.habits.start,
    freeChlorine: 3,
    borate: 0,
    temperature: basin.habits.temperature,
    totalDissolvedSolids: 1000,
  }),
  combined: basin.habits.combined,
  litres: basin.litres,
});

const fillTotals = (site: DemoSite, temperature: number): Totals =>
  totalsOf({
    ph: site.fill.fillPh,
    totalAlkalinity: site.fill.fillAlkalinity,
    calciumHardness: site.fill.fillHardness,
    cyanuricAcid: 0,
    freeChlorine: 0,
    borate: 0,
    temperature,
    totalDissolvedSolids: 1000,
  });

export interface Day {
  /** Its beginning, ms since 1970. */
  at: number;
  /** Season from −1 (midwinter) to 1 (midsummer). */
  season: number;
  /** Share of a clear day's sun. */
  clear: number;
  /** Chlorine that the feeder holds the basin at, mg/L; 0 when it is off. */
  feed: number;
  /** 1 without a cover, toward 0 with one on all day. */
  open: number;
}

/** Orrin Vale. */
export const LOCATION = { latitude: 40.4, longitude: -105.5 };
/** Of the sun on open water, unbound and bound chlorine, 1/day under a sun straight overhead. */
const SUN = { unbound: 5, bound: 0.5 };
/** Day-to-day scatter of bathers and of a feeder. */
const BATHERS = 0.25;
const FEEDER_SCATTER = 0.22;
/** A feeder runs dry or is switched off on so many days. */
const FEEDER_OFF = 0.03;
/** The rate of a share that is gone in a day. */
const rateOf = (share: number): number => -Math.log(1 - Math.min(0.95, Math.max(0, share)));

/** One day of sun, bathers, gas exchange, evaporation and feeder: the drift that learning knows, with its chances. */
export function passDay(
  water: HiddenWater,
  basin: DemoBasin,
  site: DemoSite,
  { at, season, clear, feed, open }: Day,
  random: Random,
): void {
  const { habits } = basin;
  const { totals } = water;
  const temperature =
    basin.indoors || basin.kind === "spa" ? habits.temperature : habits.temperature + 4 * season;
  totals.temperature = temperature;
  const shone = basin.indoors ? 0 : open;
  const around: Surroundings = { location: LOCATION, clearness: () => clear, temperature: () => temperature };
  // The habit is told at the basin's own temperature, the rate at the one where demand is told.
  const dark = rateOf(habits.loss * Math.max(0, 1 + BATHERS * normal(random)));
  const after = drift(
    totals,
    {
      darkDemand: dark / demandAt(habits.temperature),
      sunUnbound: SUN.unbound * shone,
      sunBound: SUN.bound * shone,
      gasExchange: habits.aeration * open,
      evaporation: habits.evaporation * open * (1 + 0.5 * season),
      splashOut: habits.splash,
      feeder: 0,
    },
    "none",
    fillTotals(site, temperature),
    around,
    at,
    at + millisecondsInDay,
  );
  Object.assign(totals, after);

  // The feeder puts chlorine back, with what its compound brings along.
  const isFed = random() >= FEEDER_OFF;
  const wanted =
    (isFed ? molar.chlorine(Math.max(0, feed * (1 + FEEDER_SCATTER * normal(random)))) : 0) - totals.chlorine;
  if (habits.feeder !== "none" && wanted > 0) {
    totals.chlorine += wanted;
    if (habits.feeder === "tablets") totals.cyanurate += wanted / 3;
    else totals.alkalinity += wanted;
  }

  water.combined += 0.3 * (habits.combined * (1 + 0.4 * normal(random)) - water.combined);
  water.combined = Math.max(0, water.combined);
}

/** Puts a product into the water. */
export function addProduct(water: HiddenWater, product: Product, grams: number): void {
  addShares(water.totals, [effectPerGram(product)], [grams / water.litres]);
}

/** Drains a share and fills it up again. */
export function replaceWater(water: HiddenWater, site: DemoSite, fraction: number): void {
  const fill = fillTotals(site, water.totals.temperature);
  for (const key of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const)
    water.totals[key] += fraction * (fill[key] - water.totals[key]);
}

/** Breakpoint: chlorine at ten times the combined oxidises it away. */
export function burnCombined(water: HiddenWater): void {
  if (asRead.chlorine(water.totals.chlorine) > 8 * water.combined) water.combined *= 0.3;
}

export const trueReadings = (water: HiddenWater): Sample => readingsOf(water.totals);
