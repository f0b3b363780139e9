import loadHighs from "highs";
import wasmUrl from "highs/runtime?url";
import { type Highs, horizonPlan, solverOf } from "#core";
import { loopBasin, problemOf } from "../../core/dosing/horizon/closed-loop.fixtures";

const CASES = 300;
const WARM = 20;
const FROM = Date.UTC(2026, 5, 1, 15);

/** Times of one plan each over seeded basins with three calls ahead, ms, told once all are done. */
loadHighs({ locateFile: () => wasmUrl }).then((highs) => {
  const solver = solverOf(highs as unknown as Highs);
  const cases = Array.from({ length: CASES }, (_, seed) => {
    const basin = loopBasin(seed);
    return problemOf(basin, basin.start, FROM, basin.told.feeder);
  });
  for (const problem of cases.slice(0, WARM)) horizonPlan(problem, solver);
  const times = cases.map((problem) => {
    const begun = performance.now();
    horizonPlan(problem, solver);
    return performance.now() - begun;
  });
  postMessage(times);
});
