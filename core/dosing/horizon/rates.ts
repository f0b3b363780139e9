import { millisecondsInDay } from "date-fns/constants";
import { drift } from "../../drift/drift";
import { type DriftPlace, HABIT_NAMES, type HabitName, type Habits, usualHabits } from "../../drift/habits";
import type { Surroundings } from "../../drift/surroundings";
import type { HabitFigures } from "../../learning/figures";
import type { Figure } from "../../uncertainty/figure";
import { NINETY } from "../../uncertainty/normal";
import { readingsOf } from "../../water/equilibrium";
import { asRead } from "../../water/molar";
import { crossing } from "../../water/root";
import { type Sample, type Totals, totalsOf } from "../../water/sample";

/** Rates with how unsure each is, as a plan over several calls takes them. */
export interface Rates {
  rates: Habits;
  unsure: Record<HabitName, number>;
}

/** What is usual in such a place, and how far places differ. */
export function usualRates(place: DriftPlace): Rates {
  const usual = usualHabits(place);
  const rates = {} as Habits;
  const unsure = {} as Record<HabitName, number>;
  for (const name of HABIT_NAMES) {
    rates[name] = usual[name].median;
    // A place out at the end of its kind is one of a few: what is planned for is most of them.
    unsure[name] = Math.min(MOST_UNSURE, usual[name].deviation);
  }
  return { rates, unsure };
}

const MOST_UNSURE = 0.6;
/** The least that anything is known to. */
const LEAST_UNSURE = 0.05;
/** About where waters are kept: the farther over it, the slower they rise. */
const KEPT_PH = 7.5;
const WEEK = 7;
const MONTH = 30;

/** Habits as they are told: losses by the day, climbs by the month, each with its interval. */
export type ToldHabits = Partial<
  Pick<HabitFigures, "chlorineLoss" | "phRise" | "calciumClimb" | "alkalinityChange" | "stabiliserClimb">
> & { feeder?: Figure | undefined; litres?: Figure | undefined };

/** Half of a central 90 %, as the deviation of a logarithm. */
const deviation = ({ low, high }: Figure, of: number): number =>
  Math.min(1, Math.max(LEAST_UNSURE, (high - low) / (2 * NINETY * Math.max(1e-6, Math.abs(of)))));

/**
 * Rates that make a water do what is told of it: its chlorine loss in a day, its rise of pH and its calcium's
 * climb over a week. What is not told is as usual there.
 * @param sample the water now; told is what it does about the pH at which it is kept
 * @param told see `HabitFigures`
 */
export function ratesFrom(
  told: ToldHabits,
  place: DriftPlace,
  sample: Sample,
  fill: Totals,
  around: Surroundings,
  from: number,
): Rates {
  const usual = usualRates(place);
  const water = totalsOf({ ...sample, ph: KEPT_PH });
  const rates = { ...usual.rates };
  const unsure = { ...usual.unsure };
  if (told.feeder && place.feeder !== "none") {
    rates.feeder = Math.max(1e-3, told.feeder.value);
    unsure.feeder = deviation(told.feeder, told.feeder.value);
  }
  const run = (own: Habits, start: Totals, days: number) =>
    drift(start, own, place.feeder, fill, around, from, from + days * millisecondsInDay);
  // A water without chlorine says nothing of what it would lose.
  const charged =
    asRead.chlorine(water.chlorine) > 0.5
      ? water
      : { ...water, chlorine: 4e-5, alkalinity: water.alkalinity + 2e-5 };
  if (told.chlorineLoss) {
    const { value } = told.chlorineLoss;
    const lossOf = (factor: number) =>
      1 - run(withLoss(rates, factor), charged, 1).chlorine / charged.chlorine - Math.min(0.98, value);
    const factor = between(lossOf);
    Object.assign(rates, withLoss({ ...rates }, factor), { feeder: rates.feeder });
    // The share that is lost tells its rate: r = −ln(1 − loss).
    const rate = (share: number) => -Math.log(1 - Math.min(0.98, Math.max(0.001, share)));
    const figure = told.chlorineLoss;
    const by = Math.min(
      1,
      Math.max(
        LEAST_UNSURE,
        (rate(figure.high) - rate(figure.low)) / (2 * NINETY * Math.max(0.01, rate(value))),
      ),
    );
    for (const name of ["darkDemand", "sunUnbound", "sunBound"] as const) unsure[name] = by;
  }
  if (told.calciumClimb) {
    const wanted = (told.calciumClimb.value / MONTH) * WEEK;
    const climb = (factor: number) =>
      asRead.calcium(
        run({ ...rates, evaporation: usual.rates.evaporation * factor }, water, WEEK).calcium - water.calcium,
      ) - wanted;
    rates.evaporation = usual.rates.evaporation * between(climb);
  }
  if (told.phRise) {
    const { value } = told.phRise;
    const rise = (factor: number) =>
      (readingsOf(run({ ...rates, gasExchange: usual.rates.gasExchange * factor }, water, WEEK)).ph -
        KEPT_PH) /
        WEEK -
      value;
    rates.gasExchange = usual.rates.gasExchange * between(rise);
    unsure.gasExchange = Math.min(MOST_UNSURE, deviation(told.phRise, Math.max(0.01, Math.abs(value))));
  }
  return { rates, unsure };
}

/** Chlorine's ways to be lost, all by one factor; nothing fed. */
const withLoss = (rates: Habits, factor: number): Habits => ({
  ...rates,
  darkDemand: rates.darkDemand * factor,
  sunUnbound: rates.sunUnbound * factor,
  sunBound: rates.sunBound * factor,
  feeder: 1e-9,
});

/** A factor on what is usual, between a tenth and ten times; the nearer end where none fits. */
function between(miss: (factor: number) => number): number {
  const low = Math.log(0.1);
  const high = Math.log(10);
  const of = (log: number) => miss(Math.exp(log));
  const [atLow, atHigh] = [of(low), of(high)];
  if (atLow * atHigh > 0) return Math.abs(atLow) < Math.abs(atHigh) ? 0.1 : 10;
  return Math.exp(crossing(of, low, high, 1e-3) ?? 0);
}
