import type { ProductId } from "../../products/products";
import { carriedAtOnce, loadsOf, mostAtATime, TRAITS, USES, type Use } from "../../products/traits";
import type { Amounts } from "../plan/amounts";
import type { PlanInput } from "../plan/input";
import type { Solver } from "../plan/programme";
import { withPromises } from "../plan/promises";
import {
  ACID_CHLORINE_MINUTES,
  doseStep,
  lastRetest,
  type PlanStep,
  type StepSetting,
  WAIT_MINUTES,
} from "../plan/steps";
import { SAFE_WAY, safeWalk, wayOf } from "../plan/way";
import type { Schedule } from "./ahead";
import type { HorizonWeights } from "./asked";
import {
  jugsWithin,
  minutesOf,
  portionsWithin,
  poursOf,
  shortestOrder,
  type TimedPour,
  timed,
} from "./clock";
import type { HorizonProblem } from "./problem";
import { readingsAlong, type SolvedHorizon, solveHorizon } from "./solve";

/** What fits into the minutes of a call, and what is left out for it. */

/** What would be poured with more time, or on a safer way. */
export interface LeftOut {
  product: string;
  compound: ProductId;
  grams: number;
  why: "minutes" | "unsafe-way";
}

/** What is poured today, and its steps. */
export interface Fitted {
  solved: SolvedHorizon;
  pours: TimedPour[];
  steps: PlanStep[];
  leftOut: LeftOut[];
}

/** Products are left out one portion after another until what is left fits; no plan has more portions than these. */
const MOST_CUTS = 3;
type Caps = ReadonlyMap<string, number>;

/** What can really be poured of a solution: in a safe order, within the minutes. */
interface Poured {
  solved: SolvedHorizon;
  pours: TimedPour[];
  /** Whether all of it went in. */
  isWhole: boolean;
  isSafe: boolean;
  caps: Caps;
}

/**
 * The plan that fits: where all that is wished takes too long, the minutes are part of the programme; what the
 * clock then still does not stand is cut, a portion at a time. The best of what can really be poured is taken.
 */
export function withinMinutes(
  problem: HorizonProblem,
  solver: Solver,
  weights: Partial<HorizonWeights>,
): Fitted {
  const poured = (caps: Caps, minutes: number | null): Poured =>
    pouredOf(problem, solveHorizon(problem, solver, { weights, caps, minutes }), caps);
  const isBetter = byWorth(problem);
  const first = poured(new Map(), null);
  let best = first;
  let last = first;
  if (!first.isWhole) {
    last = poured(new Map(), problem.minutes);
    if (isBetter(last, best)) best = last;
  }
  const opened = first.isWhole ? null : openedWay(problem, first);
  if (opened && isBetter(opened, best)) best = opened;
  // What the programme takes for possible and the clock does not.
  for (let cut = 0; !last.isWhole && cut < MOST_CUTS; cut++) {
    const next = least(
      shorter(problem, last).map((caps) => poured(caps, problem.minutes)),
      isBetter,
    );
    if (!next) break;
    if (isBetter(next, best)) best = next;
    last = next;
  }
  return {
    solved: best.solved,
    pours: best.pours,
    steps: stepsOf(problem, best.pours),
    leftOut: leftOut(problem.still.input, first, best),
  };
}

/**
 * Some acid, the half hour, some chlorine: as many jugs of each as the minutes hold, no more than one portion. Where
 * acid opens the way for chlorine the programme, for which half of each is no better than all of one, does not find it.
 */
function openedWay(problem: HorizonProblem, first: Poured): Poured | null {
  const { input } = problem.still;
  const each = (problem.minutes - ACID_CHLORINE_MINUTES) / 2;
  const grams = new Map<string, number>();
  for (const product of input.products) {
    const { use, how } = TRAITS[product.product];
    const wish = wishedOf(first.solved, product.key);
    if (wish <= 0 || (use !== "acid" && use !== "chlorine")) continue;
    const jugs = jugsWithin(each, how);
    const some = Math.min(wish, mostAtATime(product, input.litres), jugs * carriedAtOnce(product.product));
    if (some > 0) grams.set(product.key, some);
  }
  if (grams.size < 2) return null;
  return pouredOf(problem, withGrams(first.solved, grams), new Map());
}

type Better = (a: Poured, b: Poured) => boolean;

const least = (all: readonly Poured[], isBetter: Better): Poured | null =>
  all.reduce<Poured | null>((best, one) => (best === null || isBetter(one, best) ? one : best), null);

/**
 * By worth; but in a water under its floor some chlorine goes before everything else, and where the pH stands so high
 * that chlorine has to wait, the acid that it waits for: a floor that falls with the pH, and chlorine that lasts longer
 * over it, make other things look as good, and nobody is safer for it.
 */
function byWorth({ still }: HorizonProblem): Better {
  const isHigh = still.input.water.ph > CHLORINE_WAITS;
  const first = ({ pours }: Poured): number => {
    if (!still.setting.sanitiserFirst) return 0;
    if (pours.some(({ compound }) => TRAITS[compound].use === "chlorine")) return 2;
    return isHigh && pours.some(({ compound }) => TRAITS[compound].use === "acid") ? 1 : 0;
  };
  return (a, b) => (first(a) === first(b) ? a.solved.worth < b.solved.worth : first(a) > first(b));
}

/** Hypochlorite lifts a pH over this one past what a safe way bears. */
const CHLORINE_WAITS = SAFE_WAY.ph.high - 0.15;

function pouredOf(problem: HorizonProblem, solved: SolvedHorizon, caps: Caps): Poured {
  const { input, setting } = problem.still;
  const amounts: Amounts = { grams: solved.schedule.grams[0] ?? new Map(), replaced: 0, aerated: 0 };
  const { way, pours } = shortestWay(input, amounts, setting, problem.minutes);
  const fitting = pours.filter(({ ends }) => ends <= problem.minutes);
  const isWhole = way.complete && fitting.length === pours.length;
  return {
    solved: isWhole ? solved : given(solved, fitting),
    pours: isWhole ? pours : fitting,
    isWhole,
    isSafe: way.complete,
    caps,
  };
}

/**
 * The school's order; where that takes too long the one that does not begin with chlorine, since high as the pH is,
 * chlorine may have to wait for some acid anyway; and where that does too, the shortest of all that are safe.
 */
function shortestWay(input: PlanInput, amounts: Amounts, setting: StepSetting, minutes: number) {
  const of = (own: StepSetting) => {
    const way = wayOf(input, amounts, own);
    return { way, pours: timed(poursOf(way.steps), own.kind) };
  };
  const fits = ({ way, pours }: ReturnType<typeof of>) => way.complete && minutesOf(pours) <= minutes;
  const first = of(setting);
  if (fits(first)) return first;
  let best = first;
  if (setting.sanitiserFirst) {
    const other = of({ ...setting, sanitiserFirst: false });
    if (other.way.complete && (!first.way.complete || minutesOf(other.pours) < minutesOf(first.pours)))
      best = other;
  }
  if (!best.way.complete || fits(best)) return best;
  const shortest = shortestOrder(best.pours, setting.kind, safeWalk(input));
  return shortest && minutesOf(shortest) < minutesOf(best.pours) ? { ...best, pours: shortest } : best;
}

/**
 * Each way of saving minutes: one portion less of a product, or as many as will not fit anyway; and none of a use that
 * several products could serve, so that no other bottle takes its place.
 */
function shorter({ still, minutes }: HorizonProblem, { solved, caps }: Poured): Caps[] {
  const { input } = still;
  const without = USES.flatMap((use): Caps[] => {
    const serving = input.products.filter(({ product }) => TRAITS[product].use === use);
    if (serving.length < 2 || serving.every(({ key }) => wishedOf(solved, key) <= 0)) return [];
    return [new Map([...caps, ...serving.map(({ key }) => [key, 0] as const)])];
  });
  const less = input.products.flatMap((product): Caps[] => {
    const grams = wishedOf(solved, product.key);
    if (grams <= 0) return [];
    const most = mostAtATime(product, input.litres);
    const portions = Math.ceil(grams / most - 1e-9);
    const fits = Math.min(portions - 1, portionsWithin(minutes, TRAITS[product.product].how));
    return [new Map(caps).set(product.key, fits * most)];
  });
  return [...less, ...without];
}

/** What the programme wanted of a product today, poured or not. */
const wishedOf = ({ wished, schedule }: SolvedHorizon & { wished?: Schedule }, key: string): number =>
  (wished ?? schedule).grams[0]?.get(key) ?? 0;

/** The schedule with what was really poured today, and what was wished beside it. */
function given(solved: SolvedHorizon, pours: readonly TimedPour[]): SolvedHorizon & { wished: Schedule } {
  const grams = new Map<string, number>();
  for (const pour of pours) grams.set(pour.product, (grams.get(pour.product) ?? 0) + pour.grams);
  return { ...withGrams(solved, grams), wished: solved.schedule };
}

/** The same with other pours today. */
function withGrams(solved: SolvedHorizon, grams: ReadonlyMap<string, number>): SolvedHorizon {
  const schedule: Schedule = { ...solved.schedule, grams: [grams, ...solved.schedule.grams.slice(1)] };
  const course = solved.ahead.course(schedule);
  const readings = readingsAlong(course);
  return { ...solved, schedule, course, readings, worth: solved.weigh(schedule, readings) };
}

/** Each portion is a step of its own: one card, one tick, and the wait until the next. */
function stepsOf({ still, minutes }: HorizonProblem, pours: readonly TimedPour[]): PlanStep[] {
  const { input, setting, spreads } = still;
  const steps: PlanStep[] = pours.flatMap((pour, index): PlanStep[] => {
    const product = input.products.find(({ key }) => key === pour.product);
    if (!product) return [];
    const next = pours[index + 1];
    const waitMinutes = next ? Math.max(0, next.begins - pour.ends) : 0;
    return [
      {
        ...doseStep(product, pour.grams, input.litres, setting),
        portions: 1,
        portionGrams: pour.grams,
        loads: loadsOf(product.product, pour.grams),
        waitMinutes,
      },
    ];
  });
  const last = steps.at(-1);
  if (!last) return [];
  const used = input.products.filter(({ key }) => pours.some(({ product }) => product === key));
  const wait = WAIT_MINUTES[setting.kind];
  // Tested again while somebody is still there; else the sign stays until somebody tests.
  if (minutesOf(pours) + wait <= minutes) {
    last.waitMinutes = wait;
    steps.push(lastRetest(used, false));
  }
  return withPromises(input, steps, spreads ? { spreads } : {});
}

/** What is poured instead for the same use is not left out. */
function leftOut({ products }: PlanInput, first: Poured, best: Poured): LeftOut[] {
  const poured = (key: string) => best.solved.schedule.grams[0]?.get(key) ?? 0;
  const isReplaced = (key: string, use: Use | null) =>
    products.some((other) => other.key !== key && TRAITS[other.product].use === use && poured(other.key) > 0);
  return products.flatMap(({ key, product }) => {
    const wish = wishedOf(first.solved, key);
    const grams = wish - poured(key);
    const why = first.isSafe ? ("minutes" as const) : ("unsafe-way" as const);
    return wish > 0 && grams > 0.1 * wish && !isReplaced(key, TRAITS[product].use)
      ? [{ product: key, compound: product, grams, why }]
      : [];
  });
}
