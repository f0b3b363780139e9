import type { ProductId } from "../../products/products";
import { isChlorine, mostAtATime } from "../../products/traits";
import { readingsOf } from "../../water/equilibrium";
import type { Amounts } from "../plan/amounts";
import type { PlanInput } from "../plan/input";
import type { Solver } from "../plan/programme";
import { withPromises } from "../plan/promises";
import { doseStep, lastRetest, type PlanStep, type StepSetting, WAIT_MINUTES } from "../plan/steps";
import { wayOf } from "../plan/way";
import type { Schedule } from "./ahead";
import { minutesOf, portionsWithin, poursOf, type TimedPour, timed } from "./clock";
import type { HorizonProblem } from "./problem";
import type { HorizonWeights } from "./programme";
import { type SolvedHorizon, solveHorizon } from "./solve";

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
const MOST_CUTS = 24;
type Caps = ReadonlyMap<string, number>;

/** The plan that fits: what takes too long is cut, one portion after another, whichever is missed least. */
export function withinMinutes(
  problem: HorizonProblem,
  solver: Solver,
  weights: Partial<HorizonWeights>,
): Fitted {
  const { input, setting } = problem.still;
  const wished = solveHorizon(problem, solver, { weights });
  let solved = wished;
  let caps: Caps = new Map();
  for (let cut = 0; ; cut++) {
    const amounts: Amounts = { grams: solved.schedule.grams[0] ?? new Map(), replaced: 0, aerated: 0 };
    const { way, pours } = shortestWay(input, amounts, setting, problem.minutes);
    if (minutesOf(pours) <= problem.minutes || cut === MOST_CUTS) {
      const fitting = pours.filter(({ ends }) => ends <= problem.minutes);
      if (!way.complete || fitting.length < pours.length) solved = given(solved, fitting);
      return {
        solved,
        pours: fitting,
        steps: stepsOf(problem, fitting),
        leftOut: leftOut(input, wished, solved, way.complete),
      };
    }
    const tried = shorter(problem, pours, caps).map((less) => ({
      less,
      found: solveHorizon(problem, solver, { weights, caps: less }),
    }));
    const best = tried.reduce((a, b) => (b.found.worth < a.found.worth ? b : a));
    caps = best.less;
    solved = best.found;
  }
}

/**
 * The school's order, or where that takes too long the one that does not begin with chlorine: high as the pH is,
 * chlorine may have to wait for some acid anyway.
 */
function shortestWay(input: PlanInput, amounts: Amounts, setting: StepSetting, minutes: number) {
  const of = (own: StepSetting) => {
    const way = wayOf(input, amounts, own);
    return { way, pours: timed(poursOf(way.steps), own.kind) };
  };
  const first = of(setting);
  if (!setting.sanitiserFirst || (first.way.complete && minutesOf(first.pours) <= minutes)) return first;
  const other = of({ ...setting, sanitiserFirst: false });
  const isBetter =
    other.way.complete && (!first.way.complete || minutesOf(other.pours) < minutesOf(first.pours));
  return isBetter ? other : first;
}

/** Each way of saving minutes by one portion less of a product, or by as many as will not fit anyway. */
function shorter({ still, minutes }: HorizonProblem, pours: readonly TimedPour[], caps: Caps): Caps[] {
  const now = minutesOf(pours);
  // Chlorine that is under its floor closes the basin: it is given whatever else waits.
  const first = still.setting.sanitiserFirst;
  const all = [...new Set(pours.map(({ product }) => product))];
  const others = all.filter(
    (key) => !first || !pours.some(({ product, compound }) => product === key && isChlorine(compound)),
  );
  const keys = others.length > 0 ? others : all;
  const ways = keys.map((key) => {
    const own = pours.filter(({ product }) => product === key);
    const last = own.at(-1) as TimedPour;
    const saved =
      now -
      minutesOf(
        timed(
          pours.filter((pour) => pour !== last),
          still.setting.kind,
        ),
      );
    const fits = Math.min(own.length - 1, portionsWithin(minutes, last.how));
    const product = still.input.products.find((one) => one.key === key);
    const most = product ? fits * mostAtATime(product, still.input.litres) : 0;
    return { saved, caps: new Map(caps).set(key, most) };
  });
  const saving = ways.filter(({ saved }) => saved > 0);
  return (saving.length > 0 ? saving : ways).map((way) => way.caps);
}

/** The schedule with what was really poured today. */
function given(solved: SolvedHorizon, pours: readonly TimedPour[]): SolvedHorizon {
  const grams = new Map<string, number>();
  for (const pour of pours) grams.set(pour.product, (grams.get(pour.product) ?? 0) + pour.grams);
  const schedule: Schedule = { ...solved.schedule, grams: [grams, ...solved.schedule.grams.slice(1)] };
  const course = solved.ahead.course(schedule);
  return {
    ...solved,
    schedule,
    course,
    readings: { found: course.found.map(readingsOf), after: course.after.map(readingsOf) },
  };
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

function leftOut(
  { products }: PlanInput,
  wished: SolvedHorizon,
  solved: SolvedHorizon,
  isComplete: boolean,
): LeftOut[] {
  return products.flatMap(({ key, product }) => {
    const wish = wished.schedule.grams[0]?.get(key) ?? 0;
    const grams = wish - (solved.schedule.grams[0]?.get(key) ?? 0);
    return grams > 0.1 * wish && wish > 0
      ? [
          {
            product: key,
            compound: product,
            grams,
            why: isComplete ? ("minutes" as const) : ("unsafe-way" as const),
          },
        ]
      : [];
  });
}
