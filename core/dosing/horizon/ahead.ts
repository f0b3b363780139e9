import { type DriftStep, driftOver, stepsBetween } from "../../drift/drift";
import { HABIT_NAMES, type Habits } from "../../drift/habits";
import { surroundingsOf } from "../../drift/surroundings";
import { type LinearizedDrift, linearizedDrift } from "../../learning/linearized-drift";
import { USUAL_FILL } from "../../learning/start-water";
import { FIRST_HABIT, habitAt, MILLI, TOTALS, UNKNOWNS } from "../../learning/unknowns";
import { addShares } from "../../products/effects";
import { effectPerGram, type MolarEffect } from "../../products/products";
import { type Totals, totalsOf } from "../../water/sample";
import type { PlanProduct } from "../plan/input";
import { withDoses } from "./between";
import type { HorizonProblem } from "./problem";

/** Grams of each product at each call, now first, and what is set when leaving. */
export interface Schedule {
  grams: ReadonlyMap<string, number>[];
  /** Carbon dioxide that air drives out after each call, mmol/L. */
  aired: readonly number[];
  /** What the feeder gives from now on, mg/L a day. */
  fed: number;
}

export const NOTHING_DONE: Omit<Schedule, "fed"> = { grams: [], aired: [] };

/** The water at each call: as it is found, and after what was given. */
export interface Course {
  found: Totals[];
  after: Totals[];
  /** After the air that comes then. */
  aired: Totals[];
  /** Half way over each gap. */
  mid: Totals[];
}

/** What a problem's water drifts in: made once, and asked again and again. */
export class Ahead {
  readonly start: Totals;
  readonly fill: Totals;
  /** The steps between one call and the next. */
  readonly gaps: DriftStep[][];
  readonly days: number[];
  readonly feeder: "none" | "tablets" | "saltCell" | "pump";
  readonly products: readonly PlanProduct[];
  readonly effects: readonly MolarEffect[];
  readonly litres: number;

  constructor(readonly problem: HorizonProblem) {
    const { still, from, calls, weather, location, feeder } = problem;
    const { water, fill, products, litres } = still.input;
    this.start = totalsOf(water);
    this.fill = totalsOf(fill ?? USUAL_FILL);
    this.feeder = feeder?.kind ?? "none";
    this.products = products;
    this.litres = litres;
    this.effects = products.map((product) => effectPerGram(product));
    const place = { kind: still.setting.kind, outdoors: problem.outdoors, feeder: this.feeder };
    const around = surroundingsOf(place, location, weather, [{ at: from, value: water.temperature }]);
    const times = [from, ...calls];
    this.gaps = calls.map((call, index) =>
      withDoses(stepsBetween(this.start, times[index] as number, call, around), problem.between, litres),
    );
    this.days = this.gaps.map((steps) => steps.reduce((sum, { days }) => sum + days, 0));
  }

  /** Lets a water drift from one call to the next, in place. @param half way told when it is there */
  drift(water: Totals, gap: number, habits: Habits, half?: (water: Totals) => void): void {
    const steps = this.gaps[gap] as DriftStep[];
    const middle = half ? steps.length >> 1 : 0;
    if (middle > 0) driftOver(water, habits, this.feeder, steps.slice(0, middle), this.fill);
    half?.(water);
    driftOver(water, habits, this.feeder, steps.slice(middle), this.fill);
  }

  /** What is given, put into a water, in place. @param strength of each product over its label's */
  give(
    water: Totals,
    grams: ReadonlyMap<string, number> | undefined,
    volume = 1,
    strength?: Float64Array,
  ): void {
    if (!grams || grams.size === 0) return;
    addShares(
      water,
      this.effects,
      this.products.map(
        ({ key }, index) => ((grams.get(key) ?? 0) * (strength?.[index] ?? 1)) / (this.litres * volume),
      ),
    );
  }

  /** Air over a water, in place. @param millimoles of carbon dioxide, a litre */
  air(water: Totals, millimoles = 0): void {
    water.inorganicCarbon = Math.max(1e-5, water.inorganicCarbon - millimoles / MILLI);
  }

  /** The water under a schedule, by the whole of the drift. */
  course({ grams, aired, fed }: Schedule): Course {
    const habits = { ...this.problem.rates, feeder: fed };
    const found: Totals[] = [{ ...this.start }];
    const after: Totals[] = [];
    const out: Totals[] = [];
    const mid: Totals[] = [];
    for (let call = 0; call <= this.gaps.length; call++) {
      const water = { ...(found[call] as Totals) };
      this.give(water, grams[call]);
      after.push(water);
      const next = { ...water };
      this.air(next, aired[call]);
      out.push({ ...next });
      if (call === this.gaps.length) break;
      this.drift(next, call, habits, (half) => mid.push({ ...half }));
      found.push(next);
    }
    return { found, after, aired: out, mid };
  }

  /** A gap as straight about a water and a feeder. */
  linearized(gap: number, water: Totals, fed: number): LinearizedDrift {
    const about = new Float64Array(UNKNOWNS);
    TOTALS.forEach((name, index) => {
      about[index] = water[name] * MILLI;
    });
    const rates = { ...this.problem.rates, feeder: Math.max(LEAST_FED, fed) };
    HABIT_NAMES.forEach((name, index) => {
      about[FIRST_HABIT + index] = Math.log(rates[name]);
    });
    return linearizedDrift(about, this.gaps[gap] as DriftStep[], {
      feeder: this.feeder,
      fill: this.fill,
      waterOf: (unknowns) => {
        const moved = { ...water };
        TOTALS.forEach((name, index) => {
          moved[name] = Math.max(0, unknowns[index] as number) / MILLI;
        });
        return moved;
      },
      habits: (unknowns) => ({ ...rates, feeder: Math.exp(unknowns[FEEDER] as number) }),
      isKnown: (column) => column !== FEEDER || this.feeder === "none",
    });
  }
}

export const FEEDER = habitAt("feeder");
/** A feeder that gives less than this is off; its logarithm is taken here. mg/L a day */
export const LEAST_FED = 0.05;
