import { millisecondsInDay } from "date-fns/constants";
import type { Figure } from "../../uncertainty/figure";
import { STEERED, type Steered } from "../plan/goals";
import { Ahead } from "./ahead";
import { drawn, figureOf } from "./draws";
import type { HorizonPlan } from "./plan";
import type { HorizonProblem } from "./problem";

/** The water from now to the next call, a point a day, with what is poured today and without it. */
export interface Fan {
  at: number[];
  with: Record<Steered, Figure[]>;
  without: Record<Steered, Figure[]>;
}

const DRAWS = 64;
/** A week without a call is looked at, where nobody knows of the next. */
const DAYS = 7;

/** @example fanOf(horizon, horizonPlan(horizon, solver)).at.length // 9 */
export function fanOf(problem: HorizonProblem, { pours, leave }: Pick<HorizonPlan, "pours" | "leave">): Fan {
  const grams = new Map<string, number>();
  for (const pour of pours) grams.set(pour.product, (grams.get(pour.product) ?? 0) + pour.grams);
  const own = problem.feeder ? problem.rates.feeder : 0;
  let aired = 0;
  let fed = own;
  for (const one of leave) {
    if (one.code === "air") aired = one.millimoles;
    if (one.code === "feeder") fed = one.to;
  }
  const until = problem.calls[0] ?? problem.from + DAYS * millisecondsInDay;
  const days = Math.max(1, Math.ceil((until - problem.from) / millisecondsInDay - 1e-6));
  const calls = Array.from({ length: days }, (_, index) =>
    index === days - 1 ? until : problem.from + (index + 1) * millisecondsInDay,
  );
  const ahead = new Ahead({ ...problem, calls });
  const told = (schedule: Parameters<typeof drawn>[1]) => {
    const { found, after } = drawn(ahead, schedule, DRAWS);
    const points = [after[0], ...found.slice(1)];
    return Object.fromEntries(
      STEERED.map((name) => [name, points.map((columns) => figureOf(columns?.[name] ?? new Float64Array()))]),
    ) as Record<Steered, Figure[]>;
  };
  return {
    at: [problem.from, ...calls],
    with: told({ grams: [grams], aired: [aired], fed }),
    without: told({ grams: [], aired: [], fed: own }),
  };
}
