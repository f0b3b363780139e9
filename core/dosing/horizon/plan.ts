import type { ProductId } from "../../products/products";
import { TRAITS } from "../../products/traits";
import type { Figure } from "../../uncertainty/figure";
import { readingsOf } from "../../water/equilibrium";
import { type Amounts, waterAfter } from "../plan/amounts";
import { type Fetch, fullShelf, lacking } from "../plan/fetch";
import { STEERED, type Steered } from "../plan/goals";
import { predicted } from "../plan/predict";
import type { Solver } from "../plan/programme";
import { type ShownPlan, shownOf } from "../plan/shown";
import type { PlanStep } from "../plan/steps";
import type { Ahead, Schedule } from "./ahead";
import type { HorizonWeights } from "./asked";
import { minutesOf, type TimedPour } from "./clock";
import { drawn, figureOf } from "./draws";
import { type LeftOut, withinMinutes } from "./fit";
import { type Leave, leaveOf, opensAt } from "./leave";
import type { HorizonProblem } from "./problem";
import { type Project, projectsOf } from "./projects";
import {
  type IndexMoved,
  indexMoved,
  type OpenReading,
  openReadings,
  type Reason,
  reasonsOf,
  withLeftOut,
} from "./reasons";
import { type SolvedHorizon, solveHorizon } from "./solve";
import { priceOf } from "./worth";

/** A plan with a clock: what is poured now, what is set before leaving, what comes at the next calls, what takes days. */
export interface HorizonPlan {
  name: HorizonName;
  /** What is poured now: as a page leads through it and a visit keeps it. */
  now: ShownPlan;
  pours: TimedPour[];
  /** What each product of today is for, and what comes without it. */
  reasons: Reason[];
  leave: Leave[];
  calls: CallToCome[];
  projects: Project[];
  /** Each reading as the next calls will find it, before anything is added, with its central 90 %. */
  promised: Promised[];
  /** Minutes from the first pour to the last. */
  minutes: number;
  /** When bathing may start again, ms since 1970; null until a retest says so. */
  opens: number | null;
  cost: { now: number; ahead: number };
  leftOut: LeftOut[];
  /** Readings that are outside, or will be, and what becomes of them. */
  open: OpenReading[];
  /** The saturation index where today's pours take it farther outside; else null. */
  indexMoved: IndexMoved | null;
  /** What the shelf lacks to bring home what stays open, for today. */
  fetch: Fetch[];
}

export const HORIZON_NAMES = ["balanced", "cheapest", "fewest-products", "no-acid"] as const;
export type HorizonName = (typeof HORIZON_NAMES)[number];

export interface CallToCome {
  at: number;
  doses: { product: string; compound: ProductId; grams: number }[];
}

export interface Promised {
  at: number;
  readings: Record<Steered, Figure>;
}

const WEIGHING: Record<HorizonName, Partial<HorizonWeights>> = {
  balanced: {},
  cheapest: { product: 0.0025, offAim: 0, unsure: 0.1 },
  "fewest-products": { product: 0.6, offAim: 0.01 },
  "no-acid": {},
};

/** Draws behind what is promised. */
const DRAWS = 160;

/**
 * The plan of one name; null for one that is the same as the balanced one by its nature.
 * @throws InputFault for a water, a volume or a product off its limits
 * @example horizonPlan(horizon, solver).name // "balanced"
 */
export function horizonPlan(
  problem: HorizonProblem,
  solver: Solver,
  name: HorizonName = "balanced",
): HorizonPlan {
  const posed = name === "no-acid" ? withoutAcid(problem) : problem;
  const { solved, pours, steps, leftOut } = withinMinutes(posed, solver, WEIGHING[name]);
  const { ahead, schedule } = solved;
  const { input } = posed.still;
  const amounts: Amounts = { grams: schedule.grams[0] ?? new Map(), replaced: 0, aerated: 0 };
  const draws = drawn(ahead, schedule, DRAWS);
  const promised = posed.calls.map(
    (at, index): Promised => ({
      at,
      readings: figuresOf(draws.found[index + 1] as Record<Steered, Float64Array>),
    }),
  );
  const minutes = minutesOf(pours);
  const open = withLeftOut(openReadings(posed, solved), leftOut);
  const opens = opensAt(posed, amounts, minutes);
  return {
    name,
    now: nowOf(posed, amounts, steps, solved.settled),
    pours,
    reasons: reasonsOf(posed, solved),
    leave: leaveOf(posed, solved, draws.found[1], opens, minutes),
    calls: posed.calls.map((at, index) => ({ at, doses: dosesOf(posed, schedule.grams[index + 1]) })),
    projects: projectsOf(posed),
    promised,
    minutes,
    opens,
    cost: {
      now: priceOf(amounts.grams, input),
      ahead: aheadCost(posed, ahead, schedule),
    },
    leftOut,
    open,
    indexMoved: indexMoved(posed, solved),
    fetch: toFetch(posed, solved, open, solver, WEIGHING[name]),
  };
}

/** What a full shelf would give today, with time enough, beyond what is there, where something stays open for want of it. */
function toFetch(
  posed: HorizonProblem,
  { schedule, worth }: SolvedHorizon,
  open: readonly OpenReading[],
  solver: Solver,
  weights: Partial<HorizonWeights>,
): Fetch[] {
  const { input } = posed.still;
  const today = schedule.grams[0] ?? new Map<string, number>();
  const isShort = input.products.some(
    ({ key, stock }) => stock !== null && (today.get(key) ?? 0) > stock * NEARLY_ALL,
  );
  const isUnderFloor = open.some(
    ({ quantity, value, limit }) => quantity === "freeChlorine" && value < limit,
  );
  if (
    !isShort &&
    !isUnderFloor &&
    !open.some(({ becomes }) => ["no-product", "left-out", "conflict"].includes(becomes))
  )
    return [];
  const full = fullShelf(input);
  const better = solveHorizon(
    { ...posed, still: { ...posed.still, input: { ...input, products: full } } },
    solver,
    {
      weights,
      minutes: null,
      passes: 3,
    },
  );
  return better.worth < worth ? lacking(input, full, better.schedule.grams[0] ?? new Map()) : [];
}

/** A bottle that is poured out to here is short. */
const NEARLY_ALL = 0.98;

/**
 * Ways that differ in what a person cares about, the balanced one first; those that come to the same are left out.
 * @example horizonPlans(horizon, solver)[0].name // "balanced"
 */
export function horizonPlans(problem: HorizonProblem, solver: Solver): HorizonPlan[] {
  const plans: HorizonPlan[] = [];
  for (const name of HORIZON_NAMES) {
    const [first] = plans;
    if (name === "no-acid" && first && !first.pours.some(({ compound }) => TRAITS[compound].use === "acid"))
      continue;
    const plan = horizonPlan(problem, solver, name);
    if (!plans.some((other) => isSame(other, plan))) plans.push(plan);
  }
  return plans;
}

/** Two plans are one where nobody could tell today's pours apart. */
function isSame(a: HorizonPlan, b: HorizonPlan): boolean {
  const grams = ({ pours }: HorizonPlan) => {
    const sum = new Map<string, number>();
    for (const { product, grams: some } of pours) sum.set(product, (sum.get(product) ?? 0) + some);
    return sum;
  };
  const [one, other] = [grams(a), grams(b)];
  return [...new Set([...one.keys(), ...other.keys()])].every((key) => {
    const [x, y] = [one.get(key) ?? 0, other.get(key) ?? 0];
    return Math.abs(x - y) <= 0.1 * Math.max(x, y);
  });
}

function withoutAcid(problem: HorizonProblem): HorizonProblem {
  const { input } = problem.still;
  const products = input.products.filter(({ product }) => TRAITS[product].use !== "acid");
  return { ...problem, still: { ...problem.still, input: { ...input, products } } };
}

function nowOf({ still }: HorizonProblem, amounts: Amounts, steps: PlanStep[], settled: boolean): ShownPlan {
  const { input, spreads } = still;
  const after = readingsOf(waterAfter(input, amounts));
  return shownOf({
    cost: priceOf(amounts.grams, input),
    before: input.water,
    after,
    intervals: predicted(input, amounts, spreads ? { spreads } : {}),
    steps,
    settled,
  });
}

const figuresOf = (columns: Record<Steered, Float64Array>): Record<Steered, Figure> =>
  Object.fromEntries(STEERED.map((name) => [name, figureOf(columns[name])])) as Record<Steered, Figure>;

function dosesOf(
  { still }: HorizonProblem,
  grams: ReadonlyMap<string, number> | undefined,
): CallToCome["doses"] {
  return still.input.products.flatMap(({ key, product }) => {
    const some = grams?.get(key) ?? 0;
    return some > 0 ? [{ product: key, compound: product, grams: some }] : [];
  });
}

const aheadCost = ({ still, feeder }: HorizonProblem, ahead: Ahead, { grams, fed }: Schedule): number => {
  const later = grams.slice(1).reduce((sum, one) => sum + priceOf(one, still.input), 0);
  const days = ahead.days.reduce((sum, one) => sum + one, 0);
  const chlorine = feeder ? ((fed * days * still.input.litres) / 1e6) * feeder.pricePerKg : 0;
  return later + chlorine;
};
