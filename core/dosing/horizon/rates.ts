import { millisecondsInDay } from "date-fns/constants";
import { drift } from "../../drift/drift";
import { type DriftPlace, HABIT_NAMES, type HabitName, type Habits, usualHabits } from "../../drift/habits";
import type { Surroundings } from "../../drift/surroundings";
import { type HabitFigures, KEPT_PH } from "../../learning/figures";
import { UNSCALED } from "../../learning/process-noise";
import { totalsNear } from "../../learning/start-water";
import { FIRST_HABIT, habitAt, MILLI, TOTALS, UNKNOWNS, VOLUME } from "../../learning/unknowns";
import type { Figure } from "../../uncertainty/figure";
import { NINETY } from "../../uncertainty/normal";
import { type Spread, usualSpreads } from "../../uncertainty/spread";
import { readingsOf } from "../../water/equilibrium";
import { asRead } from "../../water/molar";
import { crossing } from "../../water/root";
import type { Sample, Totals } from "../../water/sample";
import { STEERED, type Steered } from "../plan/goals";
import type { Believed } from "./problem";

/** Rates with how unsure each is, as a plan over several calls takes them. */
export interface Rates {
  rates: Habits;
  unsure: Record<HabitName, number>;
}

/** The deviation of a volume's logarithm where nobody says how sure it is. */
export const USUAL_VOLUME = 0.05;

/**
 * What is believed where no log tells it: today's readings by their spreads, and these rates.
 * @param spreads of the readings; as usual tests have them without it
 */
export function believedBy(
  sample: Sample,
  { rates, unsure }: Rates,
  unsureVolume = USUAL_VOLUME,
  spreads: Record<Steered, Spread> = usualSpreads(sample),
): Believed {
  const totals = totalsNear(sample);
  const mean = [
    ...TOTALS.map((name) => totals[name] * MILLI),
    ...HABIT_NAMES.map((name) => Math.log(rates[name])),
    0,
  ];
  const covariance = Array.from({ length: UNKNOWNS }, () => new Array<number>(UNKNOWNS).fill(0));
  for (const quantity of STEERED) {
    const { low, high, deviation: scatter } = spreads[quantity];
    const sure = Math.sqrt((high - low) ** 2 / 12 + ((scatter * (low + high)) / 2) ** 2);
    if (sure === 0) continue;
    // Totals by this one reading alone, a deviation to either side.
    const moved = [1, -1].map((side) =>
      totalsNear({ ...sample, [quantity]: Math.max(0, sample[quantity] + side * sure) }),
    ) as [Totals, Totals];
    const slope = TOTALS.map((name) => ((moved[0][name] - moved[1][name]) / 2) * MILLI);
    slope.forEach((one, row) => {
      slope.forEach((other, column) => {
        (covariance[row] as number[])[column] =
          ((covariance[row] as number[])[column] as number) + one * other;
      });
    });
  }
  HABIT_NAMES.forEach((name, index) => {
    const at = FIRST_HABIT + index;
    (covariance[at] as number[])[at] = unsure[name] ** 2;
  });
  // Of sun on bound and on unbound chlorine nobody knows one better than the other.
  const [one, other] = [habitAt("sunUnbound"), habitAt("sunBound")];
  (covariance[one] as number[])[other] = unsure.sunUnbound * unsure.sunBound;
  (covariance[other] as number[])[one] = unsure.sunUnbound * unsure.sunBound;
  (covariance[VOLUME] as number[])[VOLUME] = unsureVolume ** 2;
  return { mean, covariance, scales: UNSCALED };
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
const WEEK = 7;
const MONTH = 30;

/** Habits as they are told: losses by the day, climbs by the month, each with its interval. */
export type ToldHabits = Partial<
  Pick<HabitFigures, "chlorineLoss" | "phRise" | "calciumClimb" | "alkalinityChange" | "stabiliserClimb">
> & { feeder?: Figure | undefined; litres?: Figure | undefined; about?: HabitFigures["about"] };

/** mg/L */
const USUAL_CHLORINE = 3;

/** Half of a central 90 %, as the deviation of a logarithm. */
const deviation = ({ low, high }: Figure, of: number): number =>
  Math.min(1, Math.max(LEAST_UNSURE, (high - low) / (2 * NINETY * Math.max(1e-6, Math.abs(of)))));

/**
 * Rates that make a water do what is told of it: its chlorine loss in a day, its rise of pH and its calcium's
 * climb over a week. What is not told is as usual there.
 * @param sample the water now; what is told carries along the one that it was told for, and its week
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
  const { about } = told;
  // A share that nobody says for which water is one of a usual chlorine.
  const water = totalsNear(about?.water ?? { ...sample, ph: KEPT_PH, freeChlorine: USUAL_CHLORINE });
  const sky = about
    ? { location: around.location, clearness: () => about.sun, temperature: () => about.water.temperature }
    : around;
  const begin = about?.from ?? from;
  const rates = { ...usual.rates };
  const unsure = { ...usual.unsure };
  if (told.feeder && place.feeder !== "none") {
    rates.feeder = Math.max(1e-3, told.feeder.value);
    unsure.feeder = deviation(told.feeder, told.feeder.value);
  }
  const run = (own: Habits, start: Totals, days: number) =>
    drift(start, own, place.feeder, fill, sky, begin, begin + days * millisecondsInDay);
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
