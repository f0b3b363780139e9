import { HABIT_NAMES, type HabitName, type HabitPrior, type Habits } from "../drift/habits";
import type { Figure } from "../uncertainty/figure";
import { NINETY } from "../uncertainty/normal";
import { BasinLearner } from "./basin-learner";
import { Shared } from "./belief";
import { type HabitFigures, habitFigures } from "./figures";
import {
  type BasinLog,
  type FeederSetting,
  type FirmLog,
  LEARNED,
  type Learned,
  type LoggedVisit,
} from "./log";
import { Lots } from "./lots";
import type { ForecastPoint } from "./outlook";
import type { Posterior } from "./posterior";
import type { Scales } from "./process-noise";
import { posteriorOf } from "./resume";
import { priorsOf } from "./start-water";
import { suspicionsOf } from "./suspicions";
import { FIRST_HABIT, VOLUME_DEVIATION } from "./unknowns";
import { POPULATIONS, type Suspicion, weigh } from "./weigh";

/** What a firm's log teaches. */
export interface FirmLearned {
  basins: BasinLearned[];
  suspicions: Suspicion[];
  calibration: Calibration;
}

export interface BasinLearned {
  id: string;
  /** Made from the posterior for people to read. */
  habits: HabitFigures;
  forecast: ForecastPoint[];
  /** All that is believed of it at the end of its log; null before its first reading. */
  posterior: Posterior | null;
  /** Its rates, at their medians. */
  rates: Habits;
  /** Doses that it rests on. */
  doses: number;
}

/** By how much the misses scatter more than was expected of them, as a variance; see `calibrationOf`. */
export type Calibration = Record<Learned, number>;

/** A pass tells of half of what the scales are off by: they are moved so much farther, as a power. */
const FASTER = 1.5;

/** Each starts again where the one before ended: once alone, a wrong volume is pulled back to the book. */
const PASSES = 3;

/** What happens at a basin, in the order of time over the whole firm. */
interface Event {
  at: number;
  basin: number;
  run(learner: BasinLearner, shared: Shared, lots: Lots): void;
}

/** A firm as it is known at the end of its log; what comes after is taken in without beginning anew. */
export class FirmLearner {
  private readonly events: Event[];
  private readonly learners: BasinLearner[];
  private readonly shared = new Shared();
  private readonly lots = new Lots(this.shared);

  private constructor(
    private readonly firm: FirmLog,
    priors: readonly Priors[],
    about: readonly (Float64Array | null)[],
    scales: readonly Scales[],
    volumes: readonly number[],
  ) {
    this.events = eventsOf(firm);
    this.learners = firm.basins.map(
      (basin, index) =>
        new BasinLearner(basin, firm, priors[index], about[index] ?? null, scales[index], volumes[index]),
    );
  }

  /**
   * Learns a firm. The same log gives the same answer, to the last bit.
   * @param progress told the share done; the work stops when it answers false
   * @returns null when it was stopped
   * @example FirmLearner.learn(log)?.answer().basins[0].habits.chlorineLoss
   */
  static learn(firm: FirmLog, progress?: (share: number) => boolean): FirmLearner | null {
    let learner = new FirmLearner(firm, firm.basins.map(priorsOf), [], [], []);
    for (let pass = 0; ; pass++) {
      const told = (share: number) => progress?.((pass + share) / PASSES) !== false;
      if (!learner.run(told)) return null;
      if (pass === PASSES - 1) return learner;
      learner = learner.again();
    }
  }

  /** Goes through the log once. @returns whether it came to its end */
  private run(told: (share: number) => boolean): boolean {
    for (const [index, event] of this.events.entries()) {
      if (index % 64 === 0) {
        if (!told(index / this.events.length)) return false;
        this.lots.retire(event.at, (place) => {
          for (const { belief } of this.learners) belief?.cut(this.shared, place);
        });
      }
      event.run(this.learners[event.basin] as BasinLearner, this.shared, this.lots);
    }
    return true;
  }

  /** The next pass: from the same start, straight about where this one ended. */
  private again(): FirmLearner {
    const about = this.learners.map((learner) => learner.unknowns(this.shared));
    const scales = this.rescaled(FASTER);
    const volumes = this.learners.map((learner) => volumeDeviationOf(learner, this.shared));
    return new FirmLearner(this.firm, shrunk(this.firm.basins, about), about, scales, volumes);
  }

  /** What is left out scatters as it was found to scatter, of each basin. @param power over 1 to be there in fewer passes */
  private rescaled(power: number): Scales[] {
    const firm = calibrationOf(this.learners);
    return this.learners.map((learner) => {
      const own = calibrationAt(learner, firm);
      const next = { ...learner.scales };
      for (const quantity of LEARNED)
        next[quantity] = Math.min(100, Math.max(0.1, next[quantity] * own[quantity] ** power));
      return next;
    });
  }

  /** Takes one more visit in, and what its feeder was set to when it ended. */
  takeIn(basinId: string, visit: LoggedVisit, settings: readonly FeederSetting[] = []): void {
    const index = this.firm.basins.findIndex(({ id }) => id === basinId);
    const learner = this.learners[index];
    if (!learner) return;
    learner.visit(visit, this.shared, this.lots);
    for (const dose of [...visit.doses].sort((a, b) => a.at - b.at))
      learner.dose({ ...dose, at: Math.max(visit.at, dose.at) }, this.shared, this.lots);
    for (const setting of settings) learner.set(setting, this.shared);
  }

  answer(): FirmLearned {
    const calibration = calibrationOf(this.learners);
    const suspicions = suspicionsOf(this.firm, this.learners, this.shared, this.lots);
    const basins = this.firm.basins.map((_, index) => this.answerOf(index, calibration));
    return { basins, suspicions, calibration };
  }

  /** One basin's habits, and the forecast for these times or those of its log. */
  answerOf(index: number, calibration = calibrationOf(this.learners), times?: number[]): BasinLearned {
    const { id, ahead, visits } = this.firm.basins[index] as BasinLog;
    const learner = this.learners[index] as BasinLearner;
    const habits = habitFigures(learner, this.shared);
    const own = calibrationAt(learner, calibration);
    const forecast = learner.ahead(times ?? ahead, this.shared, () => forecastOf(learner, this.shared, own));
    const doses = visits.reduce((sum, visit) => sum + visit.doses.length, 0);
    const rates = learner.habits(learner.unknowns(this.shared) ?? learner.startMean());
    return { id, habits, rates, forecast, doses, posterior: posteriorOf(learner, this.shared) };
  }
}

/** See `FirmLearner.learn`. @example learnFirm({ basins: [], weather: [], location: { latitude: 40, longitude: 0 } }).suspicions // [] */
export const learnFirm = (firm: FirmLog, progress?: (share: number) => boolean): FirmLearned | null =>
  FirmLearner.learn(firm, progress)?.answer() ?? null;

type Priors = Record<HabitName, HabitPrior>;

export function eventsOf({ basins }: FirmLog): Event[] {
  const events: Event[] = [];
  basins.forEach((log, basin) => {
    for (const visit of log.visits) {
      events.push({
        at: visit.at,
        basin,
        run: (learner, shared, lots) => learner.visit(visit, shared, lots),
      });
      for (const dose of visit.doses)
        events.push({
          at: Math.max(visit.at, dose.at),
          basin,
          run: (learner, shared, lots) => learner.dose(dose, shared, lots),
        });
    }
  });
  // A feeder is set when somebody leaves: after what stands at the same moment.
  basins.forEach((log, basin) => {
    for (const setting of log.settings ?? [])
      events.push({ at: setting.at, basin, run: (learner, shared) => learner.set(setting, shared) });
  });
  // Stable: what stands first in the log comes first at the same moment.
  return events.sort((a, b) => a.at - b.at);
}

/**
 * How unsure a volume is at the start of the next pass: where the log speaks for the book it holds the rest
 * of the firm in place, where it speaks against it, it may go.
 */
function volumeDeviationOf(learner: BasinLearner, shared: Shared): number {
  const volume = learner.volume(shared);
  const { deviation, wrongDeviation } = POPULATIONS.volume;
  if (!volume) return VOLUME_DEVIATION;
  const { wrong } = weigh(volume, volume.prior, POPULATIONS.volume);
  return Math.sqrt((1 - wrong) * deviation ** 2 + wrong * wrongDeviation ** 2);
}

/** Of what is known of the firm's other basins of a kind, so much is taken for a basin's own start. */
const FROM_OTHERS = 0.5;

/** Habits start from where the firm's basins of the same kind are, about. */
function shrunk(basins: readonly BasinLog[], found: readonly (Float64Array | null)[]): Priors[] {
  const kindOf = ({ kind, outdoors, feeder }: BasinLog) => `${kind} ${outdoors} ${feeder}`;
  return basins.map((basin) => {
    const usual = priorsOf(basin);
    const alike = basins.flatMap((other, index) =>
      kindOf(other) === kindOf(basin) && found[index] ? [found[index] as Float64Array] : [],
    );
    if (alike.length < 3) return usual;
    const entries = HABIT_NAMES.map((name, index): [string, HabitPrior] => {
      const { median, deviation } = usual[name];
      const mean = alike.reduce((sum, one) => sum + (one[FIRST_HABIT + index] as number), 0) / alike.length;
      const moved = Math.log(median) + FROM_OTHERS * (mean - Math.log(median));
      return [name, { median: Math.exp(moved), deviation: deviation * 0.85 }];
    });
    return Object.fromEntries(entries) as Priors;
  });
}

/** Misses that tell how well the intervals hold, at least. */
const ENOUGH_MISSES = 30;

/** How much wider than believed the misses scatter; jumps are left out by trimming both ends. */
export function calibrationOf(learners: readonly BasinLearner[]): Calibration {
  const calibration = {} as Calibration;
  for (const quantity of LEARNED) {
    const squares = learners
      .flatMap(({ misses }) => misses)
      .flatMap((miss) => (miss.quantity === quantity ? [miss.innovation ** 2 / miss.variance] : []))
      .sort((a, b) => a - b);
    const kept = squares.slice(0, Math.ceil(squares.length * 0.95));
    // The lower 95 % of squares of a standard normal have this mean.
    const mean = kept.reduce((sum, one) => sum + one, 0) / Math.max(1, kept.length) / 0.759;
    calibration[quantity] = squares.length < ENOUGH_MISSES ? 1 : Math.min(25, Math.max(0.3, mean));
  }
  return calibration;
}

/** Misses of the rest of the firm that a basin's own are weighed against. */
const FROM_THE_FIRM = 25;
/** A square beyond this, three deviations, is a jump and counts as this; the squares' mean is 0.985 then. */
const MOST_SQUARE = 9;
const CUT_MEAN = 0.985;

/**
 * The same for one basin: how its own misses scatter, and with few of them how the firm's do. A spa's chlorine is not
 * a covered pool's.
 */
export function calibrationAt({ misses }: Pick<BasinLearner, "misses">, firm: Calibration): Calibration {
  const calibration = { ...firm };
  for (const quantity of LEARNED) {
    const squares = misses.flatMap((miss) =>
      miss.quantity === quantity ? [Math.min(MOST_SQUARE, miss.innovation ** 2 / miss.variance)] : [],
    );
    const own = squares.reduce((sum, one) => sum + one, 0) / CUT_MEAN;
    calibration[quantity] = (FROM_THE_FIRM * firm[quantity] + own) / (FROM_THE_FIRM + squares.length);
  }
  return calibration;
}

function forecastOf(learner: BasinLearner, shared: Shared, calibration: Calibration) {
  const figures: Partial<Record<Learned, Figure>> = {};
  for (const quantity of LEARNED) {
    if (!learner.newest.has(quantity)) continue;
    const expected = learner.expected(quantity, shared);
    if (!expected) continue;
    const half = NINETY * Math.sqrt(expected.variance * calibration[quantity]);
    const least = quantity === "ph" ? Number.NEGATIVE_INFINITY : 0;
    figures[quantity] = {
      value: Math.max(least, expected.mean),
      low: Math.max(least, expected.mean - half),
      high: expected.mean + half,
    };
  }
  return figures;
}
