/**
 * Part of npm run bench:plan: plans of small cases over two calls against every choice on a fine grid, by the
 * same worth. The gap is what the grid saves over the plan, money for a cubic metre; none where it is beaten.
 */

import loadHighs from "highs";
import { type Highs, solverOf } from "#core";
import { GRID_WATERS, gridBest, USUAL_AMOUNTS } from "../core/dosing/horizon/grid.fixtures";
import { smallCase } from "../core/dosing/horizon/horizon.fixtures";
import { sized } from "./lib/bench.mjs";

const STEPS = Number(process.argv[2] ?? sized(12, 2));
const solver = solverOf((await loadHighs()) as unknown as Highs);
const gaps: number[] = [];
for (const water of GRID_WATERS) {
  const { posed, solved } = smallCase(water, solver);
  const best = gridBest(posed, solved, USUAL_AMOUNTS, STEPS);
  const gap = solved.worth - best.worth;
  gaps.push(gap);
  console.log(
    `${JSON.stringify(water)}: plan ${solved.worth.toFixed(3)}, grid ${best.worth.toFixed(3)}, gap ${gap.toFixed(3)}`,
    best.grams.map((map) => [...map].map(([key, grams]) => `${key} ${Math.round(grams)}`).join(" + ")),
    solved.schedule.grams
      .slice(0, 2)
      .map((map) => [...map].map(([key, grams]) => `${key} ${Math.round(grams)}`).join(" + ")),
  );
}
console.log(`${(STEPS + 1) ** 4} choices a case; most that the grid saves ${Math.max(...gaps).toFixed(3)}`);
