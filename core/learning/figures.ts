import { millisecondsInDay } from "date-fns/constants";
import { drift } from "../drift/drift";
import { HABIT_NAMES, type Habits } from "../drift/habits";
import type { Figure } from "../uncertainty/figure";
import { NINETY } from "../uncertainty/normal";
import { asRead } from "../water/molar";
import { conditionsOf, type Sample, type Totals } from "../water/sample";
import type { BasinLearner } from "./basin-learner";
import type { Shared } from "./belief";
import type { Learned } from "./log";
import { readingIn } from "./measured";
import { totalsNear } from "./start-water";
import { FIRST_HABIT, UNKNOWNS, VOLUME } from "./unknowns";

/**
 * Habits as somebody would say them.
 * - litres: what the basin really holds
 * - chlorineLoss: share of the free chlorine lost in a day, nothing fed
 * - phRise: a day, by itself, over a week from 7.5, about which waters are kept: from 8 none rises any more
 * - alkalinityChange, calciumClimb, stabiliserClimb: mg/L a month, by itself
 * - feeder: chlorine that it is fed, mg/L a day
 */
export interface HabitFigures {
  litres: Figure;
  chlorineLoss: Figure;
  phRise: Figure;
  alkalinityChange: Figure;
  calciumClimb: Figure;
  stabiliserClimb: Figure;
  feeder?: Figure;
  /** The water and the week that they are told for. */
  about?: ToldFor;
}

export interface ToldFor {
  /** Where the week begins, ms since 1970. */
  from: number;
  /** At the pH from which the rise is told. */
  water: Sample;
  /** Share of a clear day's sun, in the mean of the week. */
  sun: number;
}

/** About where waters are kept: the farther over it, the slower they rise. */
export const KEPT_PH = 7.5;

const WEEK = 7;
const MONTH = 30;

export function habitFigures(learner: BasinLearner, shared: Shared): HabitFigures {
  const { belief, log } = learner;
  const mean = belief?.mean(shared) ?? learner.startMean();
  const covariance = belief?.covariance(shared) ?? learner.startCovariance();
  const size = UNKNOWNS;
  const values = (unknowns: Float64Array): number[] => figuresAt(learner, unknowns);
  const centre = values(mean);
  const names = ["litres", "chlorineLoss", "phRise", "alkalinityChange", "calciumClimb", "stabiliserClimb"];
  const columns = Array.from({ length: size }, (_, column) => column).filter(
    (column) => (covariance[column * size + column] as number) > 1e-12,
  );
  const slopes = columns.map((column) => {
    const step = 0.05 * Math.sqrt(covariance[column * size + column] as number);
    const moved = Float64Array.from(mean);
    moved[column] = (mean[column] as number) + step;
    return values(moved).map((value, index) => (value - (centre[index] as number)) / step);
  });
  const figure = (index: number): Figure => {
    let variance = 0;
    columns.forEach((row, i) => {
      columns.forEach((column, j) => {
        variance +=
          (slopes[i]?.[index] as number) *
          (covariance[row * size + column] as number) *
          (slopes[j]?.[index] as number);
      });
    });
    const value = centre[index] as number;
    const half = NINETY * Math.sqrt(Math.max(0, variance));
    return { value, low: value - half, high: value + half };
  };
  const logFigure = (index: number, scale: number): Figure => {
    const middle = mean[index] as number;
    const half = NINETY * Math.sqrt(Math.max(0, covariance[index * size + index] as number));
    return {
      value: scale * Math.exp(middle),
      low: scale * Math.exp(middle - half),
      high: scale * Math.exp(middle + half),
    };
  };
  const loss = figure(names.indexOf("chlorineLoss"));
  return {
    litres: logFigure(VOLUME, log.litres),
    chlorineLoss: { value: loss.value, low: Math.max(0, loss.low), high: Math.min(1, loss.high) },
    phRise: figure(names.indexOf("phRise")),
    alkalinityChange: figure(names.indexOf("alkalinityChange")),
    calciumClimb: figure(names.indexOf("calciumClimb")),
    stabiliserClimb: figure(names.indexOf("stabiliserClimb")),
    about: toldFor(learner, mean),
    ...(log.feeder === "none"
      ? {}
      : { feeder: logFigure(FIRST_HABIT + HABIT_NAMES.indexOf("feeder"), learner.setting ?? 1) }),
  };
}

/** The water at the pH at which it is kept, and the week before the log's end. */
function toldFor(learner: BasinLearner, unknowns: Float64Array): ToldFor {
  const { around, at } = learner;
  const from = at - millisecondsInDay * WEEK;
  const days = Array.from({ length: WEEK }, (_, day) => from + (day + 0.5) * millisecondsInDay);
  const mean = (of: (time: number) => number) => days.reduce((sum, day) => sum + of(day), 0) / WEEK;
  const water = {
    ...keptWater(learner.waterOf(unknowns)),
    temperature: mean((day) => around.temperature(day)),
  };
  return { from, water, sun: mean((day) => around.clearness(day)) };
}

function keptWater(totals: Totals): Sample {
  const conditions = conditionsOf(totals);
  const reading = (quantity: Learned) => Math.max(0, readingIn(totals, quantity, conditions));
  return {
    ph: KEPT_PH,
    totalAlkalinity: reading("totalAlkalinity"),
    calciumHardness: reading("calciumHardness"),
    cyanuricAcid: reading("cyanuricAcid"),
    freeChlorine: reading("freeChlorine"),
    borate: asRead.borate(totals.borate),
    temperature: totals.temperature,
    totalDissolvedSolids: totals.totalDissolvedSolids,
  };
}

/** The figures of one vector of unknowns, by letting its water drift for a day, a week and a month. */
function figuresAt(learner: BasinLearner, unknowns: Float64Array): number[] {
  const { log, fill, around, at } = learner;
  const water: Totals = learner.waterOf(unknowns);
  const habits: Habits = learner.habits(unknowns);
  const still = { ...habits, feeder: 1e-9 };
  const from = at - millisecondsInDay * WEEK;
  const run = (start: Totals, own: Habits, days: number) =>
    drift(start, own, log.feeder, fill, around, from, from + days * millisecondsInDay);
  const conditions = conditionsOf(water);
  const charged =
    water.chlorine > 1e-6 ? water : { ...water, chlorine: 4e-5, alkalinity: water.alkalinity + 2e-5 };
  const day = run(charged, still, 1);
  const week = run(water, habits, WEEK);
  const kept = totalsNear(keptWater(water));
  const risen = run(kept, habits, WEEK);
  const ph = (of: Totals) => readingIn(of, "ph", conditions);
  const alkalinity = (of: Totals) => readingIn(of, "totalAlkalinity", conditions);
  return [
    log.litres * Math.exp(unknowns[VOLUME] as number),
    1 - day.chlorine / charged.chlorine,
    (ph(risen) - KEPT_PH) / WEEK,
    ((alkalinity(week) - alkalinity(water)) / WEEK) * MONTH,
    (asRead.calcium(week.calcium - water.calcium) / WEEK) * MONTH,
    (asRead.cyanurate(week.cyanurate - water.cyanurate) / WEEK) * MONTH,
  ];
}
