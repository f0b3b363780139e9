import { millisecondsInDay } from "date-fns/constants";
import { withDoses } from "../dosing/horizon/between";
import { gapHabits, leaveOut, readDraw, skyOver } from "../dosing/horizon/draws";
import type { Between, HorizonProblem } from "../dosing/horizon/problem";
import { fullShelf } from "../dosing/plan/fetch";
import type { Goals } from "../dosing/plan/goals";
import type { PlanProduct } from "../dosing/plan/input";
import { type DriftStep, type DriftTrace, driftOver, stepsBetween } from "../drift/drift";
import type { FeederKind, Habits } from "../drift/habits";
import { surroundingsOf } from "../drift/surroundings";
import { USUAL_FILL } from "../learning/start-water";
import { CONSERVED } from "../products/effects";
import { seeded } from "../random";
import { drawerOf } from "../uncertainty/gaussian";
import { chargeAt } from "../water/charge";
import { solvePh } from "../water/equilibrium";
import { asRead, molar } from "../water/molar";
import { activity, type Totals, totalsOf } from "../water/sample";
import { COVERED } from "./means";
import { kitOf, type Targets, tend } from "./tender";

/** Four weeks of a basin under one way of keeping it, as often as they may come. */

/** How a basin is kept. */
export interface Regime {
  /** ms since 1970, in their order: the calls after now. */
  calls: readonly number[];
  feeder: FeederKind;
  /** mg/L of chlorine a day. */
  fed: number;
  goals: Goals;
  /** Kept at this, mg/L; null: as it stands. */
  stabiliser: number | null;
  covered: boolean;
  between: Between | null;
}

/** Shares of the time and money of each draw. */
export interface Walked {
  right: Float64Array;
  under: Float64Array;
  over: Float64Array;
  phHigh: Float64Array;
  phLow: Float64Array;
  /** For what is poured at the calls, in all of the time. */
  money: Float64Array;
  /** Stabiliser at the end, mg/L. */
  stabiliser: Float64Array;
  /**
   * Of each gap, at each step's end: mean chlorine, the share of draws under the floor, and the share of them in
   * which chlorine and pH are right.
   */
  gaps: { chlorine: Float64Array; under: Float64Array; right: Float64Array; hours: number }[];
  /** What each call leaves. */
  targets: Targets[];
  /** What chlorine would have to be left to last nine times in ten, mg/L, before the set's limit binds. */
  wanted: number[];
}

/** Laymen forget one dose in so many. */
const FORGOTTEN = 0.07;
const SEED = 7;
const DRAWS_FOR_TARGETS = 16;
/** What is left is so that it lasts nine times in ten. */
const LASTS = 0.9;
/** pH is left so that it ends inside so often. */
const PH_STAYS = 0.85;
/** It is not left nearer to its lower limit than this. */
const OFF_LOW = 0.08;

/** What all walks of a problem share. */
export class Walker {
  readonly start: Totals;
  readonly fill: Totals;
  readonly products: readonly PlanProduct[];
  readonly draws: { water: Totals; own: Habits; volume: number }[];

  constructor(
    readonly problem: HorizonProblem,
    count: number,
  ) {
    const { input } = problem.still;
    this.start = totalsOf(input.water);
    this.fill = totalsOf(input.fill ?? USUAL_FILL);
    this.products = fullShelf(input);
    const random = seeded(SEED);
    const draw = drawerOf(problem.believed);
    this.draws = Array.from({ length: count }, () => readDraw(this, draw(random)));
  }

  /** @param called whether somebody is there at the start too */
  walk(regime: Regime, called = true): Walked {
    const few = this.draws.length;
    const { problem, fill } = this;
    const { litres } = problem.still.input;
    const gaps = this.gapsOf(regime);
    const byLength = new Map<number, ReturnType<Walker["targetsOf"]>>();
    const targets = gaps.map((steps) => {
      const known = byLength.get(steps.length) ?? this.targetsOf(regime, steps);
      byLength.set(steps.length, known);
      return known;
    });
    const kit = kitOf(this.products);
    const tended = { goals: regime.goals, kit, litres, stabiliser: regime.stabiliser };
    const columns = () => new Float64Array(few);
    const walked: Walked = {
      right: columns(),
      under: columns(),
      over: columns(),
      phHigh: columns(),
      phLow: columns(),
      money: columns(),
      stabiliser: columns(),
      gaps: gaps.map((steps) => ({
        chlorine: new Float64Array(steps.length),
        under: new Float64Array(steps.length),
        right: new Float64Array(steps.length),
        hours: steps.length > 0 ? (steps[0] as DriftStep).days * 24 : 0,
      })),
      targets: targets.map(({ targets: one }) => one),
      wanted: targets.map(({ wanted }) => wanted),
    };
    for (let index = 0; index < few; index++) {
      const random = seeded(SEED * 1000 + index);
      const { own, volume, water: drawn } = this.draws[index] as (typeof this.draws)[number];
      const water = { ...drawn };
      let total = 0;
      let ph = START_PH;
      // Of what is fed and of what they give, over what was said at first: each call sets it by what it finds.
      let tuned = 1;
      gaps.forEach((steps, gap) => {
        const conditions = (steps[0] as DriftStep).conditions;
        ph = solvePh(conditions, water, water.alkalinity, ph).ph;
        const { targets: to } = targets[gap] as (typeof targets)[number];
        if (gap > 0) tuned = tunedBy(tuned, asRead.chlorine(water.chlorine), keptAt(regime.goals));
        if (gap > 0 || called)
          (walked.money[index] as number) += tend(water, ph, conditions, tended, to, volume, random);
        const days = steps.reduce((sum, step) => sum + step.days, 0);
        const sky = skyOver(days, random);
        let habits = own;
        let before = this.stand(water, regime, steps[0] as DriftStep, ph);
        steps.forEach((step, at) => {
          const { given, ...plain } = step;
          // Each day has its own bathers: a water that is right in the mean may be under its floor on one of them.
          if (at % DAY_STEPS === 0) {
            const ofDay = gapHabits(own, regime.fed * tuned, 1, problem, random, sky);
            habits = regime.covered ? coverOver(ofDay) : ofDay;
          }
          if (given && random() >= FORGOTTEN)
            for (const name of CONSERVED) water[name] += (given[name] * tuned) / volume;
          driftOver(water, habits, regime.feeder, [plain], fill);
          const after = this.stand(water, regime, step, before.ph);
          ph = after.ph;
          count(walked, index, step.days, before, after);
          const note = walked.gaps[gap] as Walked["gaps"][number];
          (note.chlorine[at] as number) += asRead.chlorine(water.chlorine) / few;
          (note.under[at] as number) += (after.isUnder ? 1 : 0) / few;
          (note.right[at] as number) += (isRight(after) ? 1 : 0) / few;
          before = after;
          total += step.days;
        });
        leaveOut(water, days, problem.believed, random);
      });
      for (const name of ["right", "under", "over", "phHigh", "phLow"] as const)
        walked[name][index] = Math.min(1, (walked[name][index] as number) / total);
      walked.stabiliser[index] = asRead.cyanurate(water.cyanurate);
    }
    return walked;
  }

  /**
   * Chlorine lost a day at the medians, as a rate, 1/day.
   * @param kept mg/L where it is held there, as a feeder does; else it falls from its aim
   */
  lossOf(regime: Regime, kept?: number): number {
    const [steps = []] = this.gapsOf({ ...regime, between: null });
    const trace: DriftTrace = { chlorineKept: 1, moreKept: 1, darkVariance: 0, feederVariance: 0 };
    const { goals, stabiliser, covered } = regime;
    const water = { ...this.start, chlorine: molar.chlorine(kept ?? goals.freeChlorine.aim) };
    if (stabiliser !== null) water.cyanurate = Math.max(water.cyanurate, molar.cyanurate(stabiliser));
    settle(water, (steps[0] as DriftStep).conditions, START_PH);
    const own = { ...this.problem.rates, feeder: 0 };
    const day = steps.slice(0, DAY_STEPS);
    for (const step of day) {
      driftOver(water, covered ? coverOver(own) : own, "none", [step], this.fill, trace);
      if (kept !== undefined) water.chlorine = molar.chlorine(kept);
    }
    return -Math.log(trace.chlorineKept) / day.reduce((sum, { days }) => sum + days, 0);
  }

  /** The steps of each gap; sun and doses as this regime has them. */
  gapsOf({ calls, between, feeder, covered }: Regime): DriftStep[][] {
    const { still, from, location, weather, outdoors } = this.problem;
    const place = { kind: still.setting.kind, outdoors, feeder };
    const around = surroundingsOf(place, location, weather, [
      { at: from, value: still.input.water.temperature },
    ]);
    return calls.map((call, index) => {
      const steps = stepsBetween(this.start, calls[index - 1] ?? from, call, around);
      const shaded = covered ? steps.map((step) => ({ ...step, sun: step.sun * COVERED.sun })) : steps;
      return withDoses(shaded, between, still.input.litres);
    });
  }

  /** What a call leaves so that it lasts over a gap. */
  targetsOf(regime: Regime, steps: readonly DriftStep[]): { targets: Targets; wanted: number } {
    const { goals, fed, feeder, covered, stabiliser } = regime;
    const { ph, freeChlorine } = goals;
    const first = (steps[0] as DriftStep).conditions;
    const leave = freeChlorine.aim;
    const needs: number[] = [];
    const ends: number[] = [];
    for (const { own, water: drawn } of this.draws.slice(0, DRAWS_FOR_TARGETS)) {
      const water = { ...drawn, chlorine: molar.chlorine(leave) };
      if (stabiliser !== null) water.cyanurate = Math.max(water.cyanurate, molar.cyanurate(stabiliser));
      const carbonate = Math.max(water.alkalinity, molar.alkalinity(goals.totalAlkalinity.low ?? 0));
      water.alkalinity = carbonate;
      settle(water, first, START_PH);
      const habits = covered ? coverOver({ ...own, feeder: fed }) : { ...own, feeder: fed };
      let need = 0;
      let kept = 1;
      let isAlone = true;
      let end = START_PH;
      for (const step of steps) {
        if (step.given) isAlone = false;
        const trace: DriftTrace = { chlorineKept: 1, moreKept: 1, darkVariance: 0, feederVariance: 0 };
        driftOver(water, habits, feeder, [step], this.fill, trace);
        kept *= trace.moreKept;
        const { ph: now, floor } = this.stand(water, regime, step, end);
        end = now;
        // After their first dose it is theirs to keep.
        if (isAlone) need = Math.max(need, leave + (floor - asRead.chlorine(water.chlorine)) / kept);
      }
      needs.push(need);
      ends.push(end);
    }
    // What is fed or given from then on goes on from there.
    const goesOn = feeder !== "none" || regime.between ? keptAt(goals) : freeChlorine.aim;
    const wanted = Math.max(freeChlorine.aim, goesOn, quantileOf(needs, LASTS));
    // What a feeder holds by itself is not poured on top of it.
    const holds = feeder !== "none" && quantileOf(needs, 0.5) <= goesOn;
    const most = freeChlorine.high ?? goals.mostChlorine;
    const rise = quantileOf(ends, PH_STAYS) - (ph.high ?? Number.POSITIVE_INFINITY);
    const low = (ph.low ?? START_PH - OFF_LOW) + OFF_LOW;
    return {
      targets: {
        chlorine: Math.min(most, holds ? goesOn : wanted),
        ph: Math.min(Math.max(low, ph.aim), Math.max(low, START_PH - rise)),
      },
      wanted,
    };
  }

  /** How a water stands against its goals. */
  private stand(water: Totals, { goals }: Regime, { conditions }: DriftStep, near: number): Stand {
    const { ph, hypochlorous } = solvePh(conditions, water, water.alkalinity, near);
    const chlorine = asRead.chlorine(water.chlorine);
    const { hypochlorousAcid, freeChlorine, chlorineCloses } = goals;
    let floor = freeChlorine.low ?? chlorineCloses.closeBelow ?? 0;
    let ceiling = freeChlorine.high;
    if (hypochlorousAcid) {
      // What holds the acid grows with it nearly in proportion.
      const each = chlorine / Math.max(1e-9, asRead.chlorine(hypochlorous));
      const foot = chlorineCloses.closeBelow ?? 0;
      floor = Math.max(foot, (hypochlorousAcid.low ?? 0) * each);
      ceiling = hypochlorousAcid.high === null ? null : Math.max(2 * foot, hypochlorousAcid.high * each);
    }
    return {
      ph,
      chlorine,
      floor,
      isUnder: chlorine < floor,
      isOver: ceiling !== null && chlorine > ceiling + 1e-6,
      isHigh: goals.ph.high !== null && ph > goals.ph.high,
      isLow: goals.ph.low !== null && ph < goals.ph.low,
    };
  }
}

interface Stand {
  ph: number;
  chlorine: number;
  floor: number;
  isUnder: boolean;
  isOver: boolean;
  isHigh: boolean;
  isLow: boolean;
}

const START_PH = 7.4;
/** Steps of a day. */
const DAY_STEPS = 4;

/** The carbon that goes with a water's alkalinity at a pH, in place: the charge is straight in it. */
function settle(water: Totals, conditions: DriftStep["conditions"], ph: number): void {
  const chargeOf = (inorganicCarbon: number) =>
    chargeAt(conditions, { ...water, inorganicCarbon }, activity(ph)).charge;
  const without = chargeOf(0);
  const each = (chargeOf(MILLIMOLE) - without) / MILLIMOLE;
  water.inorganicCarbon = Math.max(1e-5, (water.alkalinity - without) / each);
}
const MILLIMOLE = 1e-3;

/** Over its floor by so much chlorine that is fed is kept, for the scatter of the days. */
const KEPT_OVER = 1.5;

/** What a feeder is set to keep, mg/L. @example keptAt(goals) // 3 */
export function keptAt({ freeChlorine: { low, aim, high } }: Goals): number {
  return Math.min(high ?? Number.POSITIVE_INFINITY, Math.max(aim, KEPT_OVER * (low ?? 0)));
}

/** By the root of what is missing, and never by more than this at once. */
const TUNE_MOST = 1.4;
const tunedBy = (tuned: number, found: number, aim: number): number =>
  Math.min(
    TUNED_MOST,
    Math.max(
      1 / TUNED_MOST,
      tuned * Math.min(TUNE_MOST, Math.max(1 / TUNE_MOST, Math.sqrt((aim + 1) / (found + 1)))),
    ),
  );
const TUNED_MOST = 4;

/** Half a step belongs to how it began, half to how it ended. */
function count(walked: Walked, index: number, days: number, before: Stand, after: Stand): void {
  for (const stand of [before, after]) {
    const { isUnder, isOver, isHigh, isLow } = stand;
    if (isUnder) (walked.under[index] as number) += days / 2;
    if (isOver) (walked.over[index] as number) += days / 2;
    if (isHigh) (walked.phHigh[index] as number) += days / 2;
    if (isLow) (walked.phLow[index] as number) += days / 2;
    if (isRight(stand)) (walked.right[index] as number) += days / 2;
  }
}

/** Chlorine over its floor, and pH inside. */
const isRight = ({ isUnder, isHigh, isLow }: Stand): boolean => !isUnder && !isHigh && !isLow;

const coverOver = (habits: Habits): Habits => ({
  ...habits,
  evaporation: habits.evaporation * COVERED.evaporation,
  gasExchange: habits.gasExchange * COVERED.gas,
});

function quantileOf(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.round(share * (sorted.length - 1)))] as number;
}

/**
 * A basin as it is kept now, called at on these days.
 * @param calls ms since 1970, in their order
 */
export function regimeNow(
  { still, feeder, rates, between }: HorizonProblem,
  calls: readonly number[],
): Regime {
  const { goals, water } = still.input;
  const { low } = goals.cyanuricAcid;
  return {
    calls,
    feeder: feeder?.kind ?? "none",
    fed: feeder ? rates.feeder : 0,
    goals,
    stabiliser: low === null ? null : Math.max(low, water.cyanuricAcid),
    covered: false,
    between: between ?? null,
  };
}

/** Calls at even distances from now on, ms. @example evenCalls(0, 7, 28).length // 4 */
export const evenCalls = (from: number, every: number, days: number): number[] =>
  Array.from(
    { length: Math.round(days / every) },
    (_, index) => from + (index + 1) * every * millisecondsInDay,
  );
