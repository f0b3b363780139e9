import type { Sample } from "../../water/sample";
import { Ahead, type Schedule } from "./ahead";
import type { HorizonProblem } from "./problem";
import { readingsAlong, type SolvedHorizon } from "./solve";

/**
 * The best of every choice on a grid: each product of the shelf at today's call and the next, from nothing to
 * twice what the search gives, or to a usual amount where it gives nothing. Told by the same worth.
 * @param steps for each amount
 */
export function gridBest(
  problem: HorizonProblem,
  solved: SolvedHorizon,
  usual: ReadonlyMap<string, number>,
  steps: number,
): { worth: number; grams: Map<string, number>[] } {
  const own = new Ahead(problem);
  const { products } = problem.still.input;
  const axes = [0, 1].flatMap((call) =>
    products.map(({ key }) => {
      const given = solved.schedule.grams[call]?.get(key) ?? 0;
      const top = Math.max(2 * given, usual.get(key) ?? 0);
      return { call, key, amounts: Array.from({ length: steps + 1 }, (_, at) => (top * at) / steps) };
    }),
  );
  let best = { worth: Number.POSITIVE_INFINITY, grams: [] as Map<string, number>[] };
  const grams = [new Map<string, number>(), new Map<string, number>()];
  const rest = solved.schedule.grams.slice(2);
  const walk = (axis: number): void => {
    const one = axes[axis];
    if (!one) {
      const schedule: Schedule = { ...solved.schedule, grams: [...grams, ...rest] };
      const worth = solved.weigh(schedule, readingsAlong(own.course(schedule)));
      if (worth < best.worth) best = { worth, grams: grams.map((map) => new Map(map)) };
      return;
    }
    for (const amount of one.amounts) {
      if (amount > 0) grams[one.call]?.set(one.key, amount);
      else grams[one.call]?.delete(one.key);
      walk(axis + 1);
    }
  };
  walk(0);
  return best;
}

/** Small cases for a grid: an acid and a chlorine, two calls. */
export const GRID_WATERS: readonly Partial<Sample>[] = [
  { ph: 7.9, freeChlorine: 1.4 },
  { ph: 7.8, freeChlorine: 2.2 },
  { ph: 8.2, freeChlorine: 0.5 },
  { ph: 7.6, freeChlorine: 0.8 },
  { ph: 8.0, freeChlorine: 3.5, totalAlkalinity: 150 },
  { ph: 7.7, freeChlorine: 1.0, cyanuricAcid: 70 },
  { ph: 7.95, freeChlorine: 2.6, totalAlkalinity: 80 },
  { ph: 7.5, freeChlorine: 2.0, cyanuricAcid: 20 },
];

/** Grams that a grid goes up to where the search gives nothing. */
export const USUAL_AMOUNTS: ReadonlyMap<string, number> = new Map([
  ["hydrochloric-acid", 1200],
  ["sodium-hypochlorite", 1500],
]);
