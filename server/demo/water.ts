import {
  addShares,
  asRead,
  carbonDioxide,
  carbonDioxideAtRest,
  effectPerGram,
  molar,
  normal,
  type Product,
  type Random,
  readingsOf,
  type Sample,
  type Totals,
  totalsOf,
} from "#core";
import type { DemoBasin, DemoSite } from "./cast";

/** The hidden water of a demo basin: it obeys the same chemistry that judges it, a day at a time. */
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
  /** Season from −1 (midwinter) to 1 (midsummer). */
  season: number;
  /** Chlorine that the feeder holds the basin at, mg/L; 0 when it is off. */
  feed: number;
  /** 1 without a cover, toward 0 with one on all day. */
  open: number;
}

/** One day of sun, bathers, gas exchange, evaporation and feeder. */
export function passDay(
  water: HiddenWater,
  basin: DemoBasin,
  site: DemoSite,
  day: Day,
  random: Random,
): void {
  const { habits } = basin;
  const { totals } = water;
  totals.temperature =
    basin.indoors || basin.kind === "spa" ? habits.temperature : habits.temperature + 4 * day.season;
  const fill = fillTotals(site, totals.temperature);

  // Sun and bathers use chlorine; each mole that is spent takes an equivalent of alkalinity along.
  const sun = basin.indoors ? 0 : 0.12 * (1 + day.season) * day.open;
  const loss = Math.min(0.95, (habits.loss + sun) * (1 + 0.25 * normal(random)));
  const spent = totals.chlorine * Math.max(0, loss);
  totals.chlorine -= spent;
  totals.alkalinity -= spent;

  // The feeder puts chlorine back, with what its compound brings along.
  // Now and then it runs dry or is switched off.
  const feed = random() < 0.03 ? 0 : day.feed;
  const wanted = molar.chlorine(Math.max(0, feed * (1 + 0.22 * normal(random)))) - totals.chlorine;
  if (habits.feeder !== "none" && wanted > 0) {
    totals.chlorine += wanted;
    if (habits.feeder === "tablets") totals.cyanurate += wanted / 3;
    else totals.alkalinity += wanted;
  }

  // CO2 above what the air holds leaves through the surface: carbon falls, alkalinity stays, pH climbs.
  const excess = carbonDioxide(totals) - carbonDioxideAtRest(totals.temperature);
  totals.inorganicCarbon -= habits.aeration * day.open * excess;

  // Evaporation leaves the salts, splash-out takes them; both are made up with fill water.
  const f = habits.splash;
  const e = habits.evaporation * day.open * (1 + 0.5 * day.season);
  for (const key of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const)
    totals[key] += -f * totals[key] + (f + e) * fill[key];

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
