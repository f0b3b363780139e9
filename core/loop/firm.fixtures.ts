import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { dosesIn } from "../dosing/horizon/between";
import { goalsOf, STEERED, type Steered } from "../dosing/plan/goals";
import { PRICES } from "../dosing/plan/plan.fixtures";
import type { Solver } from "../dosing/plan/programme";
import { chlorineGoal } from "../dosing/plan/weighing";
import type { Means } from "../hold/means";
import type { BasinLog, FirmLog, LoggedDose, LoggedReading } from "../learning/log";
import type { ProductId } from "../products/products";
import { normal, type Random, seeded } from "../random";
import type { Sample } from "../water/sample";
import { saturation } from "../water/saturation";
import {
  type Day,
  daysOf,
  FIRST_DAY,
  type HiddenBasin,
  hiddenBasin,
  pour,
  truthOf,
} from "./hidden-basin.fixtures";
import { WORLDS, type World } from "./physics.fixtures";
import { type Shelf, shelfOf } from "./shelf.fixtures";

/**
 * A firm in a closed loop: at each call a hand sees what drops, a comparator and a tube say, pours, and leaves;
 * the hidden water goes on by itself until the next call.
 */

export interface Call {
  basin: HiddenBasin;
  /** What is known of the water: read now, or as it was last read. */
  read: Sample;
  readings: LoggedReading[];
  at: number;
  /** The next calls, ms. */
  next: number[];
  /** The firm's book up to now, this call's readings in it. */
  log: FirmLog;
  solver: Solver;
}

export interface Deed {
  /** In their order; minutes from the call's start. */
  pours: { product: ProductId; strength: number; grams: number; minute: number }[];
  /** What the feeder is set to, mg/L a day. */
  setting?: number;
  /** mmol/L of carbon dioxide that jets or returns drive out. */
  aired?: number;
  minutes: number;
  /** What the next call is expected to find, the central 90 %. */
  expected?: Partial<Record<Steered, { low: number; high: number }>>;
  /** How likely chlorine is under its floor at the next call, where that is said. */
  warned?: number;
  /** What is done from now on to hold the water. */
  takesUp?: readonly Means[];
}

/** Whoever plans; one for a firm, so that it may remember. */
export interface Hand {
  call(call: Call): Deed;
  /** Every night. */
  night?(log: FirmLog, day: number): void;
}

/** Shares of the time, and what a basin costs. */
export interface Tally {
  hours: number;
  right: number;
  under: number;
  over: number;
  phHigh: number;
  phLow: number;
  alkalinityLow: number;
  indexOff: number;
  indexLow: number;
  money: number;
  minutes: number;
  calls: number;
  /** Calls that took longer than they were given. */
  late: number;
  phHeld: number;
  phTold: number;
  chlorineHeld: number;
  chlorineTold: number;
  warnings: number;
  warningsCame: number;
  shortfalls: number;
  shortfallsUnwarned: number;
}

const emptyTally = (): Tally => ({
  hours: 0,
  right: 0,
  under: 0,
  over: 0,
  phHigh: 0,
  phLow: 0,
  alkalinityLow: 0,
  indexOff: 0,
  indexLow: 0,
  money: 0,
  minutes: 0,
  calls: 0,
  late: 0,
  phHeld: 0,
  phTold: 0,
  chlorineHeld: 0,
  chlorineTold: 0,
  warnings: 0,
  warningsCame: 0,
  shortfalls: 0,
  shortfallsUnwarned: 0,
});

export interface LoopResult {
  basin: HiddenBasin;
  tally: Tally;
}

export interface LoopPlan {
  seed: number;
  world: World;
  basins: number;
  weeks: number;
  /** What came before this week is not counted. */
  since?: number;
  shelf?: Shelf;
  /** Who says on which days there are calls; each basin's own rhythm without them. */
  calendar?: Calendar;
}

/** Days of the calls to come, by basin: `calls[index]`, counted from the first day. */
export interface Calendar {
  first(basins: readonly HiddenBasin[], until: number): number[][];
  /** Each morning, before anybody calls; it may change the days to come in place. */
  morning?(day: number, state: { log: FirmLog; basins: readonly HiddenBasin[]; calls: number[][] }): void;
}

const LOCATION = { latitude: 40, longitude: 0 };
/** A comparator's colours, and a tube's marks. */
const PH_STANDARDS = [6.8, 7.0, 7.2, 7.4, 7.6, 7.8, 8.0, 8.2];
const TUBE = [20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100];
const DROPS = { freeChlorine: 0.2, totalAlkalinity: 10, calciumHardness: 10 } as const;
/** Calls go on after the last day, so that the last plans have something to look at. Days */
const BEYOND = 30;
/** Intervals are looked at once there is a log. Weeks */
const LEARNED_AFTER = 8;
const FEEDER_PRICE = { none: 0, tablets: 9.7, saltCell: 9, pump: 13 } as const;

/** What holds at a basin for the water that stands in it. */
export function limitsOf(basin: HiddenBasin, water: Sample, quantity: Steered) {
  const goals = goalsOf(basin.set, basin.surface, water, null, basin);
  return quantity === "freeChlorine"
    ? chlorineGoal({ goals, water: { ...water, freeChlorine: 0 } }, water)
    : goals[quantity];
}

export function runLoop(
  { seed, world, basins: count, weeks, since = 0, shelf = shelfOf(seed), calendar = OWN_RHYTHMS }: LoopPlan,
  hand: Hand,
  solver: Solver,
): LoopResult[] {
  const random = seeded(seed * 7919 + 29);
  const basins = Array.from({ length: count }, (_, index) => hiddenBasin(index, random));
  // Who pours without a word, in the second world: one pool in five that has no feeder.
  if (world === "byLoads")
    for (const basin of basins)
      if (basin.kind === "pool" && basin.feeder === "none" && random() < 0.2) basin.own.helper = 1 + random();
  const days = daysOf(seed, weeks * 7 + 40);
  const log: FirmLog = {
    location: LOCATION,
    weather: [],
    basins: basins.map(
      (basin): BasinLog => ({
        id: basin.id,
        kind: basin.kind,
        outdoors: basin.outdoors,
        feeder: basin.feeder,
        litres: basin.litres,
        fill: {
          totalAlkalinity: basin.fillReadings.totalAlkalinity,
          calciumHardness: basin.fillReadings.calciumHardness,
        },
        visits: [],
        ahead: [],
        ...(basin.feeder === "none" ? {} : { settings: [{ at: FIRST_DAY, value: basin.setting }] }),
      }),
    ),
  };
  const results = basins.map((basin) => ({ basin, tally: emptyTally() }));
  const open: { deed: Deed; at: number }[] = [];
  const calls = calendar.first(basins, weeks * 7 + BEYOND);
  const randoms = basins.map((_, index) => seeded(seed * 7919 + 101 * index + 7));
  for (let day = 0; day < weeks * 7; day++) {
    const sky = days[day] as Omit<Day, "bathing">;
    log.weather.push({
      day: new Date(FIRST_DAY + day * millisecondsInDay).toISOString().slice(0, 10),
      air: Math.round(sky.air * 10) / 10,
      sun: Math.round(sky.clear * 100) / 100,
    });
    calendar.morning?.(day, { log, basins, calls });
    const weekend = day % 7 >= 5 ? 1.35 : 0.88;
    basins.forEach((basin, index) => {
      const own = randoms[index] as Random;
      const { bathers } = basin.own;
      const bathing = weekend * Math.exp(bathers * normal(own) - bathers ** 2 / 2);
      const { tally } = results[index] as LoopResult;
      for (let clock = 0; clock < 24; clock++) {
        const at = FIRST_DAY + day * millisecondsInDay + clock * millisecondsInHour;
        if ((calls[index] as number[])[0] === day && clock === 9 + (index % 6)) {
          (calls[index] as number[]).shift();
          const before = open[index];
          if (before) account(tally, before.deed, basin, day >= LEARNED_AFTER * 7);
          const nextCalls = () =>
            (calls[index] as number[]).slice(0, 3).map((one) => at + (one - day) * millisecondsInDay);
          const deed = visit(basin, log.basins[index] as BasinLog, at, nextCalls(), own);
          open[index] = { deed, at };
          if (deed.takesUp) {
            takeUp(basin, log.basins[index] as BasinLog, deed.takesUp, at, own);
            const [next] = callsOf(basin, day, 2 * day + 100).slice(1);
            calls[index] = callsOf(basin, next ?? day + 7, weeks * 7 + BEYOND);
          }
          basin.theirs = theirDoses(basin, at, nextCalls()[0] ?? at);
        }
        if (basin.theirs[0] !== undefined && basin.theirs[0] <= at) {
          basin.theirs.shift();
          tally.money += giveTheirs(basin, log.basins[index] as BasinLog, at, own);
        }
        WORLDS[world](basin, at, { ...sky, bathing }, own);
        if (open[index] && day >= since * 7) watch(tally, basin);
      }
      if (open[index]) tally.money += (basin.setting * basin.litres * FEEDER_PRICE[basin.feeder]) / 1e6;
    });
    hand.night?.(log, day);
    if (day === since * 7 - 1)
      for (const { tally } of results) Object.assign(tally, { money: 0, minutes: 0, calls: 0, late: 0 });
  }
  return results;

  function visit(basin: HiddenBasin, book: BasinLog, at: number, next: number[], own: Random): Deed {
    const { tally } = results.find((one) => one.basin === basin) as LoopResult;
    const readings = readAt(basin, basin.calls++, shelf, at, own);
    const logged = { at, readings, doses: [] as LoggedDose[] };
    book.visits.push(logged);
    const deed = hand.call({ basin, read: lastRead(basin, book), readings, at, next, log, solver });
    for (const { product, strength, grams, minute } of deed.pours) {
      const { lot, worth } = shelf.delivery(product, at);
      logged.doses.push({ at: at + minute * 60_000, product, strength, grams: Math.round(grams), lot });
      pour(basin, product, strength, Math.round(grams), worth * (1 + 0.03 * normal(own)));
      tally.money += (grams / 1000) * (PRICES[product] ?? 5);
    }
    if (deed.aired) basin.water.inorganicCarbon -= (deed.aired / 1000) * Math.exp(0.25 * normal(own));
    if (deed.setting !== undefined && basin.feeder !== "none") {
      basin.setting = Math.max(0, deed.setting);
      book.settings?.push({ at: at + 3_600_000, value: basin.setting });
    }
    if (basin.feeder === "tablets") basin.filledAt = at;
    tally.calls++;
    tally.minutes += deed.minutes;
    if (deed.minutes > basin.minutes + 1e-6) tally.late++;
    return deed;
  }
}

/** What was said would hold it is done. */
function takeUp(
  basin: HiddenBasin,
  book: BasinLog,
  means: readonly Means[],
  at: number,
  random: Random,
): void {
  basin.isHeld = true;
  for (const one of means) {
    switch (one.code) {
      case "calls":
        basin.rhythm = RHYTHMS[one.aWeek] ?? [7 / one.aWeek];
        break;
      case "feeder":
      case "floater":
        if (basin.feeder === "none") {
          basin.feeder = one.code === "floater" ? "tablets" : one.kind;
          basin.feederWorth = Math.exp(0.25 * normal(random));
          book.feeder = basin.feeder;
          book.settings = [{ at: FIRST_DAY, value: 0 }];
        }
        basin.setting = one.to;
        book.settings?.push({ at: at + millisecondsInHour, value: one.to });
        break;
      case "cover":
        basin.own.unbound *= TRUE_COVER.sun;
        basin.own.bound *= TRUE_COVER.sun;
        basin.own.evaporation *= TRUE_COVER.evaporation;
        basin.own.gas *= TRUE_COVER.gas;
        break;
      case "stabiliser":
        basin.stabiliser = one.level;
        break;
      case "between":
        basin.between = one;
    }
  }
}

/** Days between calls, so many a week. */
const RHYTHMS: Record<number, readonly number[]> = {
  1: [7],
  2: [3, 4],
  3: [2, 2, 3],
  4: [2, 2, 2, 1],
  5: [1, 1, 2, 1, 2],
  6: [1, 1, 1, 1, 1, 2],
  7: [1],
};
/** A cover does not do quite what it is thought to. */
const TRUE_COVER = { sun: 0.38, evaporation: 0.4, gas: 0.6 } as const;
/** People forget a dose in ten, and to say so of another. */
const GIVEN = 0.9;
const TOLD = 0.9;

function theirDoses({ between }: HiddenBasin, from: number, until: number): number[] {
  if (!between) return [];
  const days = (until - from) / millisecondsInDay;
  return Array.from(
    { length: dosesIn(days, between.everyDays) },
    (_, index) => from + (index + 1) * between.everyDays * millisecondsInDay,
  );
}

/** @returns money for it */
function giveTheirs(basin: HiddenBasin, book: BasinLog, at: number, random: Random): number {
  const { between } = basin;
  if (!between) return 0;
  const isGiven = random() < GIVEN;
  const isTold = isGiven && random() < TOLD;
  const { product, strength, grams } = between;
  if (isGiven) pour(basin, product, strength, grams, Math.exp(0.2 * normal(random)));
  book.visits.push({
    at,
    readings: [],
    doses: [{ at, product, strength, grams, chance: isTold ? SAID : UNSAID }],
  });
  return isGiven ? (grams / 1000) * (PRICES[product] ?? 5) : 0;
}

/** A dose that was said to be given, and one of which nobody said a word. */
const SAID = 0.98;
const UNSAID = 0.5;

/** As the page shows it: chlorine that is gone is 0.0, and was told so, whichever of two thousandths is more. */
const SHOWN: Partial<Record<Steered, (value: number) => number>> = {
  freeChlorine: (value) => Math.round(value * 10) / 10,
};

function account(tally: Tally, { expected, warned }: Deed, basin: HiddenBasin, isLearned: boolean): void {
  const truth = truthOf(basin);
  const held = (quantity: Steered) => {
    const told = expected?.[quantity];
    const shown = SHOWN[quantity] ?? ((value: number) => value);
    if (!told) return null;
    return shown(truth[quantity]) >= shown(told.low) && shown(truth[quantity]) <= shown(told.high);
  };
  if (!isLearned) return;
  const ph = held("ph");
  const chlorine = held("freeChlorine");
  if (ph !== null) tally.phTold++;
  if (ph) tally.phHeld++;
  if (chlorine !== null) tally.chlorineTold++;
  if (chlorine) tally.chlorineHeld++;
  const { low } = limitsOf(basin, truth, "freeChlorine");
  const isShort = low !== null && truth.freeChlorine < low;
  if (isShort) tally.shortfalls++;
  if (warned !== undefined) {
    tally.warnings++;
    if (isShort) tally.warningsCame++;
  } else if (isShort) tally.shortfallsUnwarned++;
}

function watch(tally: Tally, basin: HiddenBasin): void {
  const water = truthOf(basin);
  const chlorine = limitsOf(basin, water, "freeChlorine");
  const isUnder = chlorine.low !== null && water.freeChlorine < chlorine.low;
  const index = saturation(water).full.corrected;
  tally.hours++;
  if (isUnder) tally.under++;
  if (chlorine.high !== null && water.freeChlorine > chlorine.high) tally.over++;
  if (water.ph > 7.8) tally.phHigh++;
  if (water.ph < 7.2) tally.phLow++;
  if (!isUnder && water.ph <= 7.8 && water.ph >= 7.2) tally.right++;
  const { low } = limitsOf(basin, water, "totalAlkalinity");
  if (low !== null && water.totalAlkalinity < low) tally.alkalinityLow++;
  if (Math.abs(index) > 0.3) tally.indexOff++;
  if (index < -0.3) tally.indexLow++;
}

const OWN_RHYTHMS: Calendar = {
  first: (basins, until) => basins.map((basin, index) => callsOf(basin, index % 5, until)),
};

/** Days of the calls, from one on. */
function callsOf({ rhythm }: HiddenBasin, first: number, until: number): number[] {
  const days: number[] = [];
  let day = first;
  for (let turn = 0; day < until; turn++) {
    days.push(day);
    day += rhythm[turn % rhythm.length] as number;
  }
  return days;
}

function readAt(
  basin: HiddenBasin,
  visits: number,
  shelf: Shelf,
  at: number,
  random: Random,
): LoggedReading[] {
  const truth = truthOf(basin);
  const gauss = () => normal(random);
  const readings: LoggedReading[] = [];
  const counted = (quantity: keyof typeof DROPS) => {
    const { lot, worth } = shelf.bottle(quantity, at);
    const apparent = (Math.max(0, truth[quantity]) / worth) * (1 + 0.025 * gauss());
    const drop = DROPS[quantity];
    const drops = Math.max(0, Math.ceil(apparent / drop));
    readings.push({
      quantity,
      lot,
      value: drops * drop,
      low: Math.max(0, (drops - 1) * drop),
      high: drops * drop,
    });
  };
  counted("freeChlorine");
  const seen = truth.ph + 0.05 * gauss();
  const nearest = PH_STANDARDS.reduce((a, b) => (Math.abs(b - seen) < Math.abs(a - seen) ? b : a));
  const half = (seen > nearest ? 1 : -1) * 0.05;
  // Between two colours is told as such by a practised eye.
  const place = Math.abs(seen - nearest) > 0.05 ? nearest + 2 * half : nearest;
  readings.push({
    quantity: "ph",
    value: Math.round(place * 10) / 10,
    low: seen < 6.75 ? Number.NEGATIVE_INFINITY : place - 0.05,
    high: seen > 8.25 ? Number.POSITIVE_INFINITY : place + 0.05,
  });
  counted("totalAlkalinity");
  if (visits % 3 === 0) counted("calciumHardness");
  if (visits % 4 === 0 && basin.kind === "pool" && basin.outdoors) {
    const apparent = truth.cyanuricAcid * (1 + 0.04 * gauss());
    const mark = TUBE.reduce((a, b) => (Math.abs(b - apparent) < Math.abs(a - apparent) ? b : a));
    const index = TUBE.indexOf(mark);
    readings.push({
      quantity: "cyanuricAcid",
      value: mark,
      low: index > 0 ? (mark + (TUBE[index - 1] as number)) / 2 : 0,
      high: index < TUBE.length - 1 ? (mark + (TUBE[index + 1] as number)) / 2 : Number.POSITIVE_INFINITY,
    });
  }
  const { temperature } = truth;
  readings.push({
    quantity: "temperature",
    value: Math.round(temperature * 2) / 2,
    low: temperature - 0.5,
    high: temperature + 0.5,
  });
  return readings;
}

/** What was last read of each quantity. */
function lastRead(basin: HiddenBasin, { visits }: BasinLog): Sample {
  const read: Sample = { ...truthOf(basin), cyanuricAcid: 0, borate: 0 };
  for (const quantity of [...STEERED, "temperature"] as const) {
    const last = visits.flatMap(({ readings }) => readings).findLast((one) => one.quantity === quantity);
    if (last) read[quantity] = last.value;
  }
  return read;
}
