import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { carbonDioxideAtRest, carbonDioxideShare } from "../products/effects";
import { normal, type Random } from "../random";
import { solvePh } from "../water/equilibrium";
import { molar } from "../water/molar";
import { activity, conditionsOf } from "../water/sample";
import { type Day, FIRST_DAY, type HiddenBasin, pour } from "./hidden-basin.fixtures";

/** Two worlds, an hour at a time. Neither is the learner's; the second shares no law of loss with it. */

export type Hour = (basin: HiddenBasin, at: number, day: Day, random: Random) => void;

const DT = 1 / 24;

/** Height of the sun, 0…1, by a season of its own. */
function sunAt(at: number): number {
  const clock = (at % millisecondsInDay) / millisecondsInHour;
  const day = (at - FIRST_DAY) / millisecondsInDay;
  const season = 0.62 + 0.24 * Math.sin(((day + 15) / 365) * 2 * Math.PI);
  return clock > 5.5 && clock < 19 ? Math.sin(((clock - 5.5) / 13.5) * Math.PI) * (0.8 + 0.3 * season) : 0;
}

function warm(basin: HiddenBasin, air: number): void {
  const { water, kind, outdoors } = basin;
  water.temperature = kind === "spa" ? 38 : outdoors ? 0.985 * water.temperature + 0.015 * (air + 4) : 28;
}

function equilibrium({ water }: HiddenBasin) {
  const conditions = conditionsOf(water);
  const { ph, hypochlorous } = solvePh(conditions, water, water.alkalinity);
  const h = activity(ph);
  const unbound =
    water.chlorine > 0 ? Math.min(1, (hypochlorous * (1 + conditions.hypochlorous / h)) / water.chlorine) : 1;
  const excess =
    water.inorganicCarbon * carbonDioxideShare(conditions, h) - carbonDioxideAtRest(water.temperature);
  return { unbound, excess };
}

/** What a feeder gives in an hour, mol/L; it stands still for days, now and then. */
function fedIn(basin: HiddenBasin, at: number, random: Random, shape: number): number {
  if (basin.feeder === "none") return 0;
  if (at > basin.outageUntil && random() < 0.01 / 24)
    basin.outageUntil = at + (1 + 2 * random()) * millisecondsInDay;
  const clock = (at % millisecondsInDay) / millisecondsInHour;
  const running = clock >= 8 && clock < 20 ? 2 : 0;
  return at > basin.outageUntil
    ? molar.chlorine(basin.setting * basin.feederWorth * shape) * running * DT
    : 0;
}

function feed(basin: HiddenBasin, fed: number, spent: number): void {
  const { water, feeder } = basin;
  water.chlorine = Math.max(0, water.chlorine + fed - spent);
  water.alkalinity += (feeder === "tablets" ? 0 : fed) - spent;
  if (feeder === "tablets") water.cyanurate += fed / 3;
}

/** Other water for a share of it. */
function exchange({ water, fill }: HiddenBasin, topped: number, lost: number): void {
  for (const key of ["alkalinity", "inorganicCarbon", "calcium"] as const)
    water[key] += topped * fill[key] + lost * (fill[key] - water[key]);
  water.cyanurate *= 1 - (lost + 0.0009 * DT);
  water.chlorine *= 1 - lost;
}

/** Chlorine goes by shares: so much of what is there, in the dark and in the sun. */
export const byShares: Hour = (basin, at, day, random) => {
  const { water, own } = basin;
  warm(basin, day.air);
  const { unbound, excess } = equilibrium(basin);
  const sun = sunAt(at) * day.clear;
  const warmth = 2 ** ((water.temperature - 27) / 10);
  const rate = own.dark * warmth * day.bathing + sun * (own.unbound * unbound + own.bound * (1 - unbound));
  feed(basin, fedIn(basin, at, random, 1), water.chlorine * (1 - Math.exp(-rate * DT)));
  water.inorganicCarbon -= excess * own.gas * day.wind * DT;
  exchange(basin, own.evaporation * (0.4 + sun * 1.6) * DT, own.splash * day.bathing * DT);
};

/** mg/L of chlorine that a day's usual bathers and leaves take of a pool, over its dark rate. */
const LOAD = 2.2;
/** Of the same rate, so much stays a share of what is there. */
const STAYS = 0.35;
/** A day in so many is a party. */
const PARTY = { chance: 0.02, load: 4 };

/**
 * Bathers take milligrams and not shares, the sun takes hardly anything but what is unbound, wind works by its
 * square, it rains, filters are washed, and somebody pours without writing it down.
 */
export const byLoads: Hour = (basin, at, day, random) => {
  const { water, own, kind } = basin;
  warm(basin, day.air);
  const { unbound, excess } = equilibrium(basin);
  const clock = Math.floor((at % millisecondsInDay) / millisecondsInHour);
  const sun = sunAt(at) * day.clear ** 1.3;
  const warmth = 2.4 ** ((water.temperature - 27) / 10);
  const party = clock === 14 && random() < PARTY.chance ? PARTY.load : 0;
  const swims = clock >= 10 && clock < 22 ? 2 : 0;
  const load = molar.chlorine(own.dark * LOAD * warmth) * (day.bathing * swims * DT + party / 3);
  const rate = own.dark * STAYS * warmth + sun * (own.unbound * 1.15 * unbound + own.bound * 0.4);
  const spent = Math.min(water.chlorine, load + water.chlorine * (1 - Math.exp(-rate * DT)));
  // Tablets wear away between two fillings; a cell makes less in cold water.
  const age = (at - basin.filledAt) / millisecondsInDay;
  const shape =
    basin.feeder === "tablets"
      ? Math.max(0.5, 1.25 - 0.07 * age)
      : basin.feeder === "saltCell"
        ? Math.min(1, 0.6 + 0.4 * ((water.temperature - 12) / 12))
        : 1;
  feed(basin, fedIn(basin, at, random, shape), spent);
  const gust = (0.5 + 0.5 * day.wind * day.wind) * (kind === "spa" ? 0.6 + 0.8 * (swims / 2) : 1);
  water.inorganicCarbon -= excess * own.gas * gust * 0.9 * DT;
  const raining = basin.outdoors && kind === "pool" ? day.rain * DT : 0;
  const washed = clock === 9 && Math.floor((at - FIRST_DAY) / millisecondsInDay) % 10 === 4 ? 0.02 : 0;
  exchange(
    basin,
    own.evaporation * Math.max(0.2, (day.air - 5) / 15) * DT,
    own.splash * day.bathing * DT + washed,
  );
  for (const key of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const)
    water[key] *= 1 - raining;
  if (own.helper > 0 && clock === 18 && random() < 1 / 6)
    pour(
      basin,
      "sodium-hypochlorite",
      0.1,
      own.helper * basin.litres * 0.01 * Math.exp(0.3 * normal(random)),
      1,
    );
};

export const WORLDS = { byShares, byLoads } as const;
export type World = keyof typeof WORLDS;
