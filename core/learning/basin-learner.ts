import { millisecondsInDay } from "date-fns/constants";
import { stepsBetween } from "../drift/drift";
import { HABIT_NAMES, type HabitPrior, type Habits } from "../drift/habits";
import { type Surroundings, surroundingsOf } from "../drift/surroundings";
import { effectPerGram } from "../products/products";
import { solvePh } from "../water/equilibrium";
import { molar } from "../water/molar";
import { activity, carbonCharge, conditionsOf, type Sample, type Totals } from "../water/sample";
import { BasinBelief, type Measure, type Shared } from "./belief";
import { type DriftOfBasin, identity, linearizedDrift } from "./linearized-drift";
import {
  type BasinLog,
  type FeederSetting,
  type FirmLog,
  type FreshWater,
  isLearned,
  LEARNED,
  type Learned,
  type LoggedDose,
  type LoggedReading,
  type LoggedVisit,
} from "./log";
import type { Lot, Lots } from "./lots";
import { measured } from "./measured";
import type { Posterior } from "./posterior";
import {
  BATHERS,
  CHLORINE_DAYS,
  CHLORINE_LEFT_OUT,
  FEEDER_SCATTER,
  LEFT_OUT,
  type Scales,
  TOLD_BY,
  UNSCALED,
} from "./process-noise";
import { foundBy } from "./reading";
import { priorsOf, sampleOr, totalsNear, UNREAD, USUAL_FILL, usualWater } from "./start-water";
import {
  FIRST_HABIT,
  habitAt,
  MILLI,
  type Start,
  startOfHabits,
  TOTALS,
  UNKNOWNS,
  VOLUME,
  VOLUME_DEVIATION,
  WANDERS,
} from "./unknowns";

/** Something in a log that drift, doses and scatter do not explain. */
export interface Jump {
  at: number;
  quantity: Learned;
  expected: number;
  found: number;
  deviations: number;
}

/** What one reading says of a bottle or of a delivery by itself. */
export interface LotUse {
  code: Lot["code"];
  lot: string;
  at: number;
  /** Of a bottle: found over expected of a drop as its label says. Of a delivery: its strength over the label's. */
  ratio: number;
}

/** How far a reading was from what was expected, for the calibration. */
export interface Miss {
  quantity: Learned;
  innovation: number;
  /** Variance that was expected of it, the reading's own included. */
  variance: number;
}

/** Of a basin's evaporation beside the climate's, as the deviation of its logarithm. */
const OWN_EVAPORATION = 0.6;
/** Grams are weighed and measured to about this. */
const DOSE_SCATTER = 0.04;
/** What the people there measure out. */
const SPOON_SCATTER = 0.2;
/** Of what nobody wrote down, carbon and alkalinity may go so far apart, as a share. */
const APART = 0.2;
/** A habit that is none here starts out surer than this. */
const KNOWN = 0.01;
/**
 * How far a week's fresh water is from what a habit makes of it, as the deviation of its logarithm: rain, a tap left
 * open, a level that was not the same; and of one day alone.
 */
const METERED = 0.2;
const METERED_A_DAY = 0.6;
/** So many standard deviations off, a reading tells of something that nobody wrote down. */
const JUMP = 4;

/** A feeder that is set to less is off. mg/L a day */
const LEAST_SETTING = 0.01;

/** Learns one basin from its log, visit by visit, beside what the firm shares. */
export class BasinLearner {
  readonly around: Surroundings;
  readonly fill: Totals;
  readonly jumps: Jump[] = [];
  readonly misses: Miss[] = [];
  readonly uses: LotUse[] = [];
  /** Deliveries that went in since the visit before. */
  private given = new Set<string>();
  /** The basin's unknowns; null before its first reading. */
  belief: BasinBelief | null = null;
  at = 0;
  visits = 0;
  /** The newest reading of each that it ever had. */
  readonly newest = new Map<Learned, { at: number; value: number }>();
  /** When the water's warmth was last read, and what. °C */
  temperature: { at: number; value: number } | null = null;
  /** What its feeder is set to give, mg/L of chlorine a day; null where nobody wrote it down. */
  setting: number | null = null;
  /** Volume and habits about which drift and doses are taken as straight. */
  private about: Float64Array;
  private readonly start: Start;
  /** Totals that carry what does not drift: temperature, solids, salt. */
  base: Totals;
  private readonly drifts: DriftOfBasin;

  constructor(
    readonly log: BasinLog,
    firm: Pick<FirmLog, "weather" | "location">,
    priors: Record<(typeof HABIT_NAMES)[number], HabitPrior> = priorsOf(log),
    about: Float64Array | null = null,
    readonly scales: Scales = UNSCALED,
    volumeDeviation: number = VOLUME_DEVIATION,
  ) {
    const temperatures = log.visits.flatMap(({ at, readings }) =>
      readings.flatMap(({ quantity, value }) => (quantity === "temperature" ? [{ at, value }] : [])),
    );
    this.around = surroundingsOf(log, firm.location, firm.weather, temperatures);
    this.fill = totalsNear(sampleOr(log.fill, USUAL_FILL));
    this.setting = log.settings?.[0]?.value ?? null;
    this.start = startOfHabits(priors, volumeDeviation);
    this.about = about ? Float64Array.from(about) : Float64Array.from(this.start.mean);
    this.base = totalsNear(usualWater(log));
    this.drifts = {
      feeder: log.feeder,
      fill: this.fill,
      waterOf: (unknowns) => this.waterOf(unknowns),
      habits: (unknowns) => this.habits(unknowns),
      isKnown: (column) => (this.start.deviation[column] as number) < KNOWN,
    };
  }

  /** Goes on from what was believed at the end of an earlier log. */
  static resumed(
    log: BasinLog,
    firm: Pick<FirmLog, "weather" | "location">,
    { at, mean, covariance, scales, still, newest, temperature }: Posterior,
  ): BasinLearner {
    const learner = new BasinLearner(log, firm, priorsOf(log), Float64Array.from(mean), scales);
    const belief = new BasinBelief(UNKNOWNS, mean, new Float64Array(UNKNOWNS));
    covariance.forEach((row, index) => {
      belief.ownCovariance.set(row, index * UNKNOWNS);
    });
    learner.base = { ...learner.base, ...totalsNear({ ...usualWater(log), ...still }) };
    learner.base = learner.waterOf(Float64Array.from(mean));
    learner.belief = belief;
    learner.at = at;
    learner.temperature = temperature;
    for (const quantity of LEARNED) {
      const read = newest[quantity];
      if (read) learner.newest.set(quantity, read);
    }
    return learner;
  }

  /** Takes a visit in: drift until then, its readings, what was replaced. Doses come by `dose`. */
  visit(visit: LoggedVisit, shared: Shared, lots: Lots): void {
    const learned = visit.readings.filter(isLearnedReading);
    for (const { quantity, value } of visit.readings)
      if (quantity === "temperature") this.temperature = { at: visit.at, value };
    const borate = visit.readings.find(({ quantity }) => quantity === "borate");
    if (!this.belief) {
      if (learned.length === 0) return;
      this.begin(visit, shared, lots);
    } else {
      this.drift(visit.at, shared);
      if (borate) this.setBorate(borate, shared);
      if (visit.fresh) this.takeFresh(visit.fresh, shared);
    }
    this.visits++;
    // Totals first: a pH is read in a water whose alkalinity is known.
    const order = ["cyanuricAcid", "totalAlkalinity", "calciumHardness", "freeChlorine", "ph"];
    for (const reading of [...learned].sort((a, b) => order.indexOf(a.quantity) - order.indexOf(b.quantity)))
      this.take(reading, visit, shared, lots);
    this.given.clear();
    if (visit.replaced) this.replace(visit.replaced, shared);
  }

  private begin(visit: LoggedVisit, shared: Shared, lots: Lots): void {
    const usual = usualWater(this.log);
    const known = visit.readings.filter((one) => isLearnedReading(one) || one.quantity === "borate");
    const read = Object.fromEntries(
      known.map((one) => [
        one.quantity,
        one.quantity === "borate" ? borateIn(one) : Number.isFinite(one.value) ? one.value : one.low,
      ]),
    );
    const temperature = this.around.temperature(visit.at);
    const sample = { ...usual, ...read, temperature } as Sample;
    sample.ph = Math.min(9, Math.max(6.5, sample.ph));
    this.base = totalsNear(sample);
    const mean = Float64Array.from(this.start.mean);
    TOTALS.forEach((name, index) => {
      mean[index] = this.base[name] * MILLI;
    });
    const deviation = Float64Array.from(this.start.deviation);
    const evaporation = habitAt("evaporation");
    // Most of what is not known of the evaporation is the climate's, and the same next door.
    deviation[evaporation] = Math.min(OWN_EVAPORATION, deviation[evaporation] as number);
    this.belief = new BasinBelief(UNKNOWNS, mean, deviation);
    this.unread(sample, this.belief);
    const hanging = new Float64Array(UNKNOWNS);
    hanging[evaporation] = 1;
    this.belief.hang(shared, lots.climate(`${this.log.kind} ${this.log.outdoors}`), hanging);
    this.at = visit.at;
  }

  /** Before anything was read every reading is unsure by itself; the totals are as unsure as they follow from it. */
  private unread(sample: Sample, belief: BasinBelief): void {
    const slopes = LEARNED.map((quantity) => {
      const step = quantity === "ph" ? 0.01 : Math.max(0.1, sample[quantity] * 0.01);
      const moved = totalsNear({ ...sample, [quantity]: sample[quantity] + step });
      return TOTALS.map((name) => (((moved[name] - this.base[name]) * MILLI) / step) * UNREAD[quantity]);
    });
    TOTALS.forEach((_, row) => {
      TOTALS.forEach((__, column) => {
        const both = slopes.reduce(
          (sum, slope) => sum + (slope[row] as number) * (slope[column] as number),
          0,
        );
        belief.setOwnCovariance(row, column, both);
      });
    });
  }

  /** The water that a vector of unknowns stands for. */
  waterOf(mean: ArrayLike<number>): Totals {
    const water = { ...this.base };
    TOTALS.forEach((name, index) => {
      water[name] = Math.max(0, mean[index] as number) / MILLI;
    });
    return water;
  }

  habits(mean: ArrayLike<number>): Habits {
    const habits = {} as Habits;
    HABIT_NAMES.forEach((name, index) => {
      habits[name] = Math.exp(Math.min(6, mean[FIRST_HABIT + index] as number));
    });
    // Where its setting is written down, what is learned of a feeder is what it gives over that.
    if (this.setting !== null) habits.feeder *= Math.max(LEAST_SETTING, this.setting);
    return habits;
  }

  /** The feeder is set anew. */
  set({ at, value }: FeederSetting, shared: Shared): void {
    this.drift(at, shared);
    this.setting = value;
  }

  /** Lets the basin drift to a moment. */
  drift(to: number, shared: Shared): void {
    const { belief } = this;
    if (!belief || to <= this.at) return;
    const processNoise = new Float64Array(UNKNOWNS);
    const days = (to - this.at) / millisecondsInDay;
    const mean = belief.mean(shared);
    const about = Float64Array.from(mean);
    about.set(this.about.subarray(FIRST_HABIT), FIRST_HABIT);
    const steps = stepsBetween(this.waterOf(about), this.at, to, this.around);
    const { map, constant, trace } = linearizedDrift(about, steps, this.drifts);
    TOTALS.forEach((name, index) => {
      if (name === "chlorine") {
        const now = constant[index] as number;
        let along = 0;
        for (let from = 0; from < UNKNOWNS; from++)
          along += (map[index * UNKNOWNS + from] as number) * (mean[from] as number);
        const stands = Math.max(0, now + along);
        processNoise[index] =
          this.scales.freeChlorine *
          ((BATHERS ** 2 * trace.darkVariance + FEEDER_SCATTER ** 2 * trace.feederVariance) * MILLI ** 2 +
            (CHLORINE_LEFT_OUT * stands) ** 2 * Math.min(days, CHLORINE_DAYS));
      } else processNoise[index] = this.scales[TOLD_BY[name]] * LEFT_OUT[name] ** 2 * days;
    });
    HABIT_NAMES.forEach((name, index) => {
      processNoise[FIRST_HABIT + index] = WANDERS[name] ** 2 * days;
    });
    belief.propagate(shared, map, constant, processNoise);
    this.at = to;
  }

  private take(
    reading: LoggedReading & { quantity: Learned },
    { at, green }: LoggedVisit,
    shared: Shared,
    lots: Lots,
  ): void {
    const { belief } = this;
    if (!belief) return;
    const first = !this.newest.has(reading.quantity);
    this.newest.set(reading.quantity, { at, value: reading.value });
    const mean = belief.mean(shared);
    const conditions = conditionsOf({ ...this.base, temperature: this.around.temperature(at) });
    const { value, slope } = measured(this.waterOf(mean), reading.quantity, conditions);
    const used = reading.lot === undefined ? null : lots.bottle(reading.lot, at);
    // A drop that is worth less than its label says is counted more often.
    const worth = used === null ? 1 : Math.exp(-used.mean);
    const row = slope.map((one) => one * worth);
    const expected = value * worth;
    const on = (used?.on ?? []).map(({ place, weight }) => ({ place, weight: -expected * weight }));
    let measure = belief.spread(shared, row, on);
    const found = foundBy(
      reading,
      { mean: expected, variance: measure.variance },
      this.scales[reading.quantity],
    );
    if (!found) return;
    const innovation = found.value - expected;
    const variance = measure.variance + found.variance;
    const deviations = innovation / Math.sqrt(variance);
    if (green && reading.quantity === "freeChlorine") {
      this.setChlorine(found, shared);
      return;
    }
    if (!first) this.misses.push({ quantity: reading.quantity, innovation, variance });
    if (!first && reading.lot !== undefined && value > 0)
      this.uses.push({ code: "bottle", lot: reading.lot, at, ratio: found.value / value });
    for (const lot of this.given) {
      const place = lots.placeOf(lot);
      const strength = place === null ? null : strengthBy(place, measure, innovation, variance, shared);
      if (strength !== null) this.uses.push({ code: "product", lot, at, ratio: strength });
    }
    if (
      !first &&
      Math.abs(deviations) > JUMP &&
      Number.isFinite(reading.low) &&
      Number.isFinite(reading.high)
    ) {
      this.jumps.push({ at, quantity: reading.quantity, expected, found: found.value, deviations });
      // Nobody wrote down why: the water is taken as it is read now, and the habits are left alone.
      this.jumped(reading.quantity, innovation);
      measure = belief.spread(shared, row, on);
    }
    belief.update(shared, measure, innovation, found.variance);
  }

  /**
   * Chlorine stands as it was read, whatever went before: nothing of it is a habit's. What went has taken its
   * equivalent of alkalinity along.
   */
  private setChlorine({ value, variance }: { value: number; variance: number }, shared: Shared): void {
    const map = identity();
    const constant = new Float64Array(UNKNOWNS);
    const noise = new Float64Array(UNKNOWNS);
    const row = TOTALS.indexOf("chlorine");
    const perMilligram = molar.chlorine(1) * MILLI;
    map[row * UNKNOWNS + row] = 0;
    constant[row] = Math.max(0, value) * perMilligram;
    noise[row] = variance * perMilligram ** 2;
    const alkalinity = TOTALS.indexOf("alkalinity");
    map[alkalinity * UNKNOWNS + row] = -1;
    constant[alkalinity] = constant[row] as number;
    this.belief?.propagate(shared, map, constant, noise);
  }

  /**
   * Borate stands as it was read. What it holds was in the alkalinity all along: the carbon is less by as much, so
   * that the pH is what it was.
   */
  private setBorate(reading: LoggedReading, shared: Shared): void {
    const { belief } = this;
    const value = borateIn(reading);
    const { low, high } = reading;
    if (!belief || !Number.isFinite(value)) return;
    const water = this.waterOf(belief.mean(shared));
    const conditions = conditionsOf({ ...water, temperature: this.around.temperature(this.at) });
    const { ph } = solvePh(conditions, water, water.alkalinity);
    // Carbon for each mole of borate, at this pH.
    const share = conditions.boric / (conditions.boric + activity(ph)) / carbonCharge(conditions, ph);
    const more = molar.borate(value) - water.borate;
    const constant = new Float64Array(UNKNOWNS);
    const noise = new Float64Array(UNKNOWNS);
    const carbon = TOTALS.indexOf("inorganicCarbon");
    constant[carbon] = -share * more * MILLI;
    const width = Number.isFinite(high - low) ? molar.borate(high - low) : 0;
    noise[carbon] = (share * width * MILLI) ** 2 / 12;
    belief.propagate(shared, identity(), constant, noise);
    this.base = { ...this.base, borate: molar.borate(value) };
  }

  /** What evaporated and what was lost with all it holds came in again by the meter: their sum, and the volume. */
  private takeFresh({ litresADay, days }: FreshWater, shared: Shared): void {
    const { belief } = this;
    if (!belief || !(litresADay > 0) || !(days > 0)) return;
    const mean = belief.mean(shared);
    const { evaporation, splashOut } = this.habits(mean);
    const used = evaporation + splashOut;
    const row = new Float64Array(UNKNOWNS);
    row[habitAt("evaporation")] = evaporation / used;
    row[habitAt("splashOut")] = splashOut / used;
    row[VOLUME] = 1;
    const innovation = Math.log(litresADay / this.log.litres / used) - (mean[VOLUME] as number);
    const variance = METERED ** 2 + METERED_A_DAY ** 2 / days;
    belief.update(shared, belief.spread(shared, row), innovation, variance);
  }

  private jumped(quantity: Learned, innovation: number): void {
    const { belief } = this;
    if (!belief) return;
    const amount = Math.abs(innovation);
    if (quantity === "freeChlorine") belief.loosen(4, (molar.chlorine(amount) * MILLI) ** 2);
    if (quantity === "cyanuricAcid") belief.loosen(3, (molar.cyanurate(amount) * MILLI) ** 2);
    if (quantity === "calciumHardness") belief.loosen(2, (molar.calcium(amount) * MILLI) ** 2);
    if (quantity === "totalAlkalinity") {
      // Bicarbonate, or other water, moves the carbon along; acid or soda ash moves it less.
      const moved = (molar.alkalinity(amount) * MILLI) ** 2;
      belief.loosenTogether(0, 1, moved);
      belief.loosen(1, APART ** 2 * moved);
    }
    if (quantity === "ph") belief.loosen(1, (0.25 * amount * (this.base.inorganicCarbon * MILLI)) ** 2);
  }

  private replace(share: number, shared: Shared): void {
    const { belief } = this;
    if (!belief) return;
    const map = identity();
    const constant = new Float64Array(UNKNOWNS);
    const noise = new Float64Array(UNKNOWNS);
    TOTALS.forEach((name, row) => {
      map[row * UNKNOWNS + row] = 1 - share;
      constant[row] = share * this.fill[name] * MILLI;
      // A share is told by eye.
      noise[row] = (0.1 * share * (this.base[name] - this.fill[name]) * MILLI) ** 2;
    });
    belief.propagate(shared, map, constant, noise);
    const { borate } = this.base;
    this.base = { ...this.base, borate: borate + share * (this.fill.borate - borate) };
  }

  /** Takes a dose in, after the drift until then. */
  dose(dose: LoggedDose, shared: Shared, lots: Lots): void {
    const { belief } = this;
    if (!belief) return;
    this.drift(dose.at, shared);
    const effect = effectPerGram(dose);
    const place = dose.lot === undefined ? null : lots.delivery(dose.lot, dose.at);
    if (dose.lot !== undefined) this.given.add(dose.lot);
    const mean = belief.mean(shared);
    const believed = place === null ? 0 : (shared.mean[place] as number);
    const scale = Math.exp(believed - (this.about[VOLUME] as number));
    const perLitre = ((dose.grams / this.log.litres) * scale * MILLI) as number;
    const { chance = 1 } = dose;
    const amounts = TOTALS.map((name) => effect[name] * perLitre * chance);
    // Of the full dose: by a spoon or a jug, and given or not.
    const scatter =
      dose.chance === undefined
        ? DOSE_SCATTER
        : Math.sqrt(SPOON_SCATTER ** 2 + (1 - chance) / Math.max(0.05, chance));
    const map = identity();
    const constant = new Float64Array(UNKNOWNS);
    const noise = new Float64Array(UNKNOWNS);
    amounts.forEach((amount, row) => {
      // Less per litre, the larger the basin is than its book.
      map[row * UNKNOWNS + VOLUME] = -amount;
      constant[row] = amount * (1 + (this.about[VOLUME] as number));
      noise[row] = (scatter * amount) ** 2;
      const left = (mean[row] as number) + amount;
      if (left < 0) constant[row] = (constant[row] as number) - left;
    });
    belief.propagate(shared, map, constant, noise);
    // No unknown: it goes with the water alone, and is read now and then.
    if (effect.borate !== 0)
      this.base = { ...this.base, borate: this.base.borate + (effect.borate * perLitre * chance) / MILLI };
    if (place !== null) {
      const hanging = new Float64Array(UNKNOWNS);
      hanging.set(amounts);
      belief.hang(shared, place, hanging);
    }
  }

  /** What would be read of a quantity at the moment that was reached, and its variance without a test's own. */
  expected(quantity: Learned, shared: Shared): { mean: number; variance: number } | null {
    const { belief } = this;
    if (!belief) return null;
    const conditions = conditionsOf({ ...this.base, temperature: this.around.temperature(this.at) });
    const { value, slope } = measured(this.waterOf(belief.mean(shared)), quantity, conditions);
    return { mean: value, variance: belief.spread(shared, slope).variance };
  }

  /** Looks at moments to come, in their order, and comes back. */
  ahead<T>(times: readonly number[], shared: Shared, look: () => T): ({ at: number } & T)[] {
    const { belief, at } = this;
    this.belief = belief?.copy() ?? null;
    const seen = [...times]
      .sort((a, b) => a - b)
      .map((time) => {
        this.drift(time, shared);
        return { at: time, ...look() };
      });
    this.belief = belief;
    this.at = at;
    return seen;
  }

  /** The volume over the book's, as it is believed, and the variance under which that was found. */
  volume(shared: Shared): { mean: number; variance: number; prior: number } | null {
    const { belief } = this;
    if (!belief) return null;
    const row = new Float64Array(UNKNOWNS);
    row[VOLUME] = 1;
    return {
      mean: belief.mean(shared)[VOLUME] as number,
      variance: belief.spread(shared, row).variance,
      prior: (this.start.deviation[VOLUME] as number) ** 2,
    };
  }

  /** What is believed before anything was read. */
  startMean(): Float64Array {
    const mean = Float64Array.from(this.start.mean);
    TOTALS.forEach((name, index) => {
      mean[index] = this.base[name] * MILLI;
    });
    return mean;
  }

  startCovariance(): Float64Array {
    const covariance = new Float64Array(UNKNOWNS * UNKNOWNS);
    for (let row = 0; row < UNKNOWNS; row++)
      covariance[row * UNKNOWNS + row] = (this.start.deviation[row] as number) ** 2;
    return covariance;
  }

  /** Volume and habits as they are believed now. */
  unknowns(shared: Shared): Float64Array | null {
    return this.belief?.mean(shared) ?? null;
  }
}

/** A reading speaks of a delivery where one that is so much stronger would move it by more than all else scatters. */
const SPEAKS = 0.35;

/**
 * The strength of a delivery over its label's, by one reading alone.
 * @param measure of the reading, before it was taken in
 * @param innovation found less expected
 * @returns null where the reading hardly hangs on it
 */
function strengthBy(
  place: number,
  { common }: Measure,
  innovation: number,
  variance: number,
  shared: Shared,
): number | null {
  const own = shared.covariance[place * shared.stride + place] as number;
  const slope = (common[place] as number) / own;
  const rest = variance - slope * slope * own;
  if (!(Math.abs(slope) * SPEAKS > Math.sqrt(Math.max(0, rest)))) return null;
  return Math.exp((shared.mean[place] as number) + innovation / slope);
}

/** Borate as a water has it: of "at most" half, see `waterFromReadings`. mg/L */
const borateIn = ({ value, low }: LoggedReading): number => (Number.isFinite(low) ? value : value / 2);

const isLearnedReading = (reading: LoggedReading): reading is LoggedReading & { quantity: Learned } =>
  isLearned(reading.quantity);
