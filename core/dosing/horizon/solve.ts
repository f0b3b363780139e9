import { InputFault } from "../../fault";
import { habitAt } from "../../learning/unknowns";
import { TRAITS } from "../../products/traits";
import { readingsOf } from "../../water/equilibrium";
import { molar } from "../../water/molar";
import type { Sample, Totals } from "../../water/sample";
import { STEERED, type Steered } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import { chargePerPh, referenceOf } from "../plan/linearise";
import { lpText, type Programme, type Solver, withChoice } from "../plan/programme";
import { chlorineGoal, TEST_STEP } from "../plan/weighing";
import { Ahead, type Course, NOTHING_DONE, type Schedule } from "./ahead";
import { allowedAt } from "./allowed";
import { type Asked, HORIZON_WEIGHTS, type HorizonWeights, type Tangent } from "./asked";
import { type Drawn, drawn, drawnToday, quantile } from "./draws";
import { type Moment, type Offsets, QUANTILES, type Readings } from "./moments";
import { leastOf } from "./pour-rows";
import type { HorizonProblem } from "./problem";
import { horizonProgramme } from "./programme";
import { termsOf } from "./terms";
import { worthOf } from "./worth";

export interface SolvedHorizon {
  ahead: Ahead;
  schedule: Schedule;
  course: Course;
  readings: Readings;
  /** What it is worth, by the waters that it comes to; the least is the best. */
  worth: number;
  /** The same of another schedule, by the same margins. */
  weigh: (schedule: Schedule, readings: Readings) => number;
  passes: number;
  /** Whether two passes agreed; the best is given where they did not. */
  settled: boolean;
}

export interface SolveOptions {
  weights?: Partial<HorizonWeights>;
  /** Most of each product today, g; what is not named has no such limit. */
  caps?: ReadonlyMap<string, number>;
  /** For today's pours; as long as it takes without it. */
  minutes?: number | null;
  /** Passes at most: a few where only what is about poured is asked for. */
  passes?: number;
}

const MOST_PASSES = 6;
/** Passes agree where no pH on the way differs by more than this, and no chlorine by more than a drop's quarter. */
const SETTLED = { ph: 0.01, chlorine: 0.1 } as const;
/** A basin whose log tells how its carbon dioxide leaves is surer of it than any is by its kind. */
const LEARNED_TO = 0.45;
const GAS = habitAt("gasExchange");
/** Draws that tell how far inside its limits a reading is to stand. */
const DRAWS = 48;
/** Of today's pH alone, which acid is held to. */
const TODAY_DRAWS = 240;
/** Nine chances in ten on the side that is looked at. */
const ONE_IN_TEN = 0.1;

/**
 * What to give today and at the next calls, at least cost: passes of a mixed-integer programme, each straight
 * about the course of the pass before, until the whole drift agrees with it.
 * @throws InputFault for a water, a volume or a product off its limits
 */
export function solveHorizon(
  problem: HorizonProblem,
  solver: Solver,
  { weights: own = {}, caps = new Map(), minutes = null, passes = MOST_PASSES }: SolveOptions = {},
): SolvedHorizon {
  const weights = { ...HORIZON_WEIGHTS, ...own };
  const { ahead, unpoured, sureToday } = leftToItself(problem);
  const { input } = problem.still;
  const isFed = problem.feeder !== null;
  const fedNow = isFed ? problem.rates.feeder : 0;
  const still: Schedule = { ...NOTHING_DONE, fed: fedNow };
  let course = ahead.course(still);
  let readings = readingsAlong(course);
  const phStep = TEST_STEP.ph * chargePerPh(referenceOf(ahead.start, input.water.ph), input.water.ph + 0.1);
  const floor = goalAt(input, input.water).low;
  const holds = isFed && (floor === null || feederHolds(ahead, floor));
  const allowed = allowedAt(input, readings.found, {
    chlorinated: chlorinatedPh(ahead, input),
    nextPh: likely(unpoured.found[1]?.ph ?? Float64Array.of(input.water.ph)),
    nextChlorine: likely(unpoured.found[1]?.freeChlorine ?? Float64Array.of(input.water.freeChlorine)),
    doubtful: problem.doubtfulDemand,
    isFed,
    holds,
    phStep,
    floor,
    isLearned: (problem.believed.covariance[GAS]?.[GAS] ?? 1) <= LEARNED_TO ** 2,
  });
  let schedule = still;
  let offsets = offsetsOf(input, unpoured, readings);
  let sureLow = lowMargin(sureToday, readings.after[0]);
  let best: Omit<SolvedHorizon, "passes" | "settled"> | null = null;
  let fixed: ReadonlyMap<string, number> | null = null;
  for (let pass = 1; ; pass++) {
    const asked: Asked = {
      ahead,
      input,
      weights,
      allowed,
      caps,
      minutes,
      offsets,
      sureLow,
      chlorine: {
        found: readings.found.map((one) => goalAt(input, one)),
        after: readings.after.map((one, call) => leftGoal(input, one, call, readings.found[call])),
        mid: readings.mid.map((one) => goalAt(input, one)),
      },
    };
    const terms = termsOf(asked);
    const programme = horizonProgramme(asked, tangentAt(ahead, course, readings, schedule.fed), terms);
    // The first pass only tells where the water goes: which bottles it takes is chosen once that is known.
    const posed = fixed ? withChoice(programme, fixed) : pass === 1 ? relaxed(programme) : programme;
    const values: ReadonlyMap<string, number> | null = solver(lpText(posed));
    if (!values) {
      if (best) return { ...best, passes: pass, settled: false };
      throw new InputFault("inconsistent", "plan", "no solution");
    }
    if (pass > 1) fixed ??= values;
    const next = scheduleOf(ahead, values, fedNow, phStep);
    const nextCourse = ahead.course(next);
    const nextReadings = readingsAlong(nextCourse);
    const moved = apart(readings, nextReadings);
    schedule = next;
    course = nextCourse;
    readings = nextReadings;
    // How sure it is hangs a little on what is given: told anew once that is chosen.
    if (pass === 2) {
      offsets = offsetsOf(input, drawn(ahead, schedule, DRAWS), readings);
      sureLow = lowMargin(drawnToday(ahead, schedule.grams[0] ?? new Map(), TODAY_DRAWS), readings.after[0]);
    }
    const weighed = { ...asked, offsets, sureLow };
    const held = termsOf(weighed);
    const weigh: SolvedHorizon["weigh"] = (other, found) => worthOf(weighed, held, other, found);
    const worth = weigh(schedule, readings);
    // What was found before the margins were known was found for another aim.
    if (pass <= 2 || !best || worth < best.worth) best = { ahead, schedule, course, readings, worth, weigh };
    if (pass > 2 && moved.ph < SETTLED.ph && moved.chlorine < SETTLED.chlorine)
      return { ahead, schedule, course, readings, worth, weigh, passes: pass, settled: true };
    if (pass === passes) return { ...best, passes: pass, settled: false };
  }
}

/** The pH once hypochlorite has lifted the chlorine to its aim; as it stands where it is there, or fed. */
function chlorinatedPh({ start, problem }: Ahead, input: PlanInput): number {
  const { aim, known, low } = goalAt(input, input.water);
  const short = molar.chlorine(aim) - start.chlorine;
  const isPoured = input.products.some(
    ({ product }) => TRAITS[product].use === "chlorine" && !TRAITS[product].stabilised,
  );
  if (!known || low === null || problem.feeder || short <= 0 || !isPoured) return input.water.ph;
  // An equivalent of alkalinity comes with each mole.
  return readingsOf({ ...start, chlorine: start.chlorine + short, alkalinity: start.alkalinity + short }).ph;
}

interface LeftToItself {
  ahead: Ahead;
  unpoured: Drawn;
  sureToday: Float64Array;
}
const left = new WeakMap<HorizonProblem, LeftToItself>();

/** A problem's water with nothing given: the same for every search that is made of it. */
function leftToItself(problem: HorizonProblem): LeftToItself {
  let known = left.get(problem);
  if (!known) {
    const ahead = new Ahead(problem);
    const fed = problem.feeder ? problem.rates.feeder : 0;
    known = {
      ahead,
      unpoured: drawn(ahead, { ...NOTHING_DONE, fed }, DRAWS),
      sureToday: drawnToday(ahead, new Map(), TODAY_DRAWS),
    };
    left.set(problem, known);
  }
  return known;
}

/** Whether the feeder at its most, once a jug has lifted the chlorine over its floor, keeps it there until the next call. */
function feederHolds(ahead: Ahead, floor: number): boolean {
  const { problem, start } = ahead;
  if (ahead.gaps.length === 0) return true;
  const lifted = molar.chlorine(floor + 2 * TEST_STEP.freeChlorine);
  const water = { ...start, chlorine: Math.max(start.chlorine, lifted) };
  const most = Math.max(problem.rates.feeder, problem.feeder?.most ?? 0);
  ahead.drift(water, 0, { ...problem.rates, feeder: most });
  return readingsOf(water).freeChlorine >= floor;
}

/** Where free chlorine is held when a call finds it: what is over then falls by itself. */
const goalAt = (input: PlanInput, holding: Sample) =>
  chlorineGoal({ goals: input.goals, water: { ...input.water, freeChlorine: 0 } }, holding);

/**
 * And where it is left: what is over today is not made more. What a later call finds at its limit or over is no
 * fault of what that call gives; nothing is given there.
 */
function leftGoal(input: PlanInput, holding: Sample, call: number, found: Sample | undefined) {
  const goal = goalAt(input, holding);
  if (goal.high === null) return goal;
  const { freeChlorine } = call === 0 ? input.water : (found ?? input.water);
  if (call === 0) return freeChlorine > goal.high ? { ...goal, high: freeChlorine, steer: false } : goal;
  return freeChlorine > goal.high - TEST_STEP.freeChlorine / 2 ? { ...goal, high: null } : goal;
}

function tangentAt(
  ahead: Ahead,
  { found, after, aired, mid }: Course,
  readings: Readings,
  fed: number,
): Tangent {
  return {
    found: found.map((totals, call) => referenceOf(totals, (readings.found[call] as Sample).ph)),
    after: after.map((totals, call) => referenceOf(totals, (readings.after[call] as Sample).ph)),
    aired: aired.map((totals) => referenceOf(totals, readingsOf(totals).ph)),
    mid: mid.map((totals, gap) => referenceOf(totals, (readings.mid[gap] as Sample).ph)),
    drifts: ahead.gaps.map((_, gap) => ahead.linearized(gap, aired[gap] as Totals, fed)),
    fed,
  };
}

export const readingsAlong = ({ found, after, mid }: Course): Readings => ({
  found: found.map(readingsOf),
  after: after.map(readingsOf),
  mid: mid.map(readingsOf),
});

/** Less than this much of a product, mg/L, is none. */
const NONE = 1e-4;

function scheduleOf(
  ahead: Ahead,
  values: ReadonlyMap<string, number>,
  fedNow: number,
  phStep: number,
): Schedule {
  const calls = ahead.gaps.length + 1;
  const grams = Array.from({ length: calls }, (_, call) => {
    const poured = new Map<string, number>();
    ahead.products.forEach(({ key, product }, index) => {
      const perLitre = values.get(`x${call}_${index}`) ?? 0;
      const { use } = TRAITS[product];
      const effect = ahead.effects[index];
      // What nobody could measure is not thought of for a day to come either.
      const least = call > 0 && use && effect ? leastOf(use, effect, phStep) / 3 : NONE;
      if (perLitre > least) poured.set(key, (perLitre * ahead.litres) / 1000);
    });
    return poured;
  });
  const isSet = (values.get("yu") ?? 0) > 0.5;
  const aired = ahead.gaps
    .map((_, call) => values.get(`air${call}`) ?? 0)
    .map((one) => (one > 1e-3 ? one : 0));
  return { grams, aired, fed: isSet ? Math.max(0, values.get("u") ?? fedNow) : fedNow };
}

/** Bottles opened by parts. */
const relaxed = (programme: Programme): Programme => ({ ...programme, binaries: [] });

function apart(a: Readings, b: Readings): { ph: number; chlorine: number } {
  const most = (name: "ph" | "freeChlorine") =>
    Math.max(
      ...(["found", "after"] as const).flatMap((side) =>
        a[side].map((one, call) => Math.abs(one[name] - (b[side][call] as Sample)[name])),
      ),
    );
  return { ph: most("ph"), chlorine: most("freeChlorine") };
}

const zero = (): Offsets["found"][number] =>
  Object.fromEntries(STEERED.map((name) => [name, QUANTILES.map(() => 0)])) as Record<Steered, number[]>;

/** Where a reading will be, four times in five on either side. */
const likely = (draws: Float64Array): { low: number; high: number } => {
  const sorted = draws.filter((value) => !Number.isNaN(value)).sort();
  return { low: quantile(sorted, 0.2), high: quantile(sorted, 0.8) };
};

/** How far each reading's quantiles lie from what is expected of it, at each moment. */
/**
 * How far the quantiles of what may come lie from what is expected. Of chlorine it is a share: twice as much scatters
 * by twice as much, so that its offsets are told for a water that stands at its limit.
 */
function offsetsOf(input: PlanInput, draws: Drawn, readings: Readings): Offsets {
  const of = (kind: Moment["kind"]) =>
    draws[kind].map((columns, call) => {
      const offsets = zero();
      for (const name of STEERED) {
        const sorted = columns[name].filter((value) => !Number.isNaN(value)).sort();
        if (sorted.length === 0) continue;
        const expected = (readings[kind][call] as Sample)[name];
        const quantiles = QUANTILES.map((share) => quantile(sorted, share));
        if (name === "freeChlorine") {
          const { low, high } = goalAt(input, readings[kind][call] as Sample);
          offsets[name] = quantiles.map((value, index) => {
            const limit = index === MIDDLE ? null : index < MIDDLE ? low : high;
            if (limit === null || expected <= 0) return value - expected;
            const ratio = expected / Math.max(value, 1e-6);
            return limit * (1 - Math.min(MOST_RATIO, Math.max(1 / MOST_RATIO, ratio)));
          });
        } else offsets[name] = quantiles.map((value) => value - expected);
      }
      return offsets;
    });
  return { found: of("found"), after: of("after"), mid: of("mid") };
}

const MIDDLE = 2;
/** Chlorine that is expected, over what may come of it, at most: more is no margin but another pool. */
const MOST_RATIO = 3;

function lowMargin(draws: Float64Array, expected: Sample | undefined): number {
  const sorted = draws.filter((value) => !Number.isNaN(value)).sort();
  return expected && sorted.length > 0 ? Math.max(0, expected.ph - quantile(sorted, ONE_IN_TEN)) : 0;
}
