import loadHighs from "highs";
import wasmUrl from "highs/runtime?url";
import { type Highs, solvePlan, solverOf } from "#core";
import { randomCase } from "../../core/dosing/plan/plan.fixtures";

const CASES = 500;
const WARM = 20;

/** Times of one plan each over the seeded cases, ms, told once all are done. */
loadHighs({ locateFile: () => wasmUrl }).then((highs) => {
  const solver = solverOf(highs as unknown as Highs);
  const cases = Array.from({ length: CASES }, (_, seed) => randomCase(seed).input);
  for (const input of cases.slice(0, WARM)) solvePlan(input, solver);
  const times = cases.map((input) => {
    const begun = performance.now();
    solvePlan(input, solver);
    return performance.now() - begun;
  });
  postMessage(times);
});
