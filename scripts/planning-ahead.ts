/**
 * npm run planning:ahead [-- basins]: basins over eight calls with a water that is not what the planner was told;
 * the plan with a clock against the still one and the table way. Writes the table of docs/planning.md, and ends
 * with 1 where any of the calls broke a rule.
 */
import loadHighs from "highs";
import { type Highs, solverOf } from "#core";
import {
  ahead,
  byTable,
  closedLoop,
  type LoopResult,
  loopBasin,
  still,
} from "../core/dosing/horizon/closed-loop.fixtures";
import { breaches } from "../core/dosing/horizon/rules.fixtures";

const COUNT = Number(process.argv[2] ?? 500);
const FIRST = Number(process.argv[3] ?? 0);
const solver = solverOf((await loadHighs()) as unknown as Highs);
const WAYS = { "table way": byTable, "still plan": still, "plan with a clock": ahead } as const;
const results = new Map<string, LoopResult[]>(Object.keys(WAYS).map((name) => [name, []]));
let calls = 0;
let unsafe = 0;
for (let seed = FIRST; seed < FIRST + COUNT; seed++) {
  const basin = loopBasin(seed);
  for (const [name, way] of Object.entries(WAYS)) {
    const begun = performance.now();
    const got = closedLoop(basin, way, solver);
    results.get(name)?.push(got);
    if (way === ahead)
      got.done.forEach((one, call) => {
        calls++;
        for (const broken of breaches(one, basin.litres))
          console.log(`basin ${seed}, call ${call}: ${broken}`, ++unsafe);
      });
    if (process.env.EACH)
      console.log(
        seed,
        name,
        basin.kind,
        basin.feeder,
        basin.every,
        `under ${got.under.toFixed(2)} in ${got.inside.toFixed(2)} money ${got.money.toFixed(2)} min ${got.minutes.toFixed(0)} ms ${((performance.now() - begun) / 8).toFixed(0)}`,
      );
  }
}
const mean = (list: LoopResult[], of: (one: LoopResult) => number) =>
  list.reduce((sum, one) => sum + of(one), 0) / list.length;
for (const [name, list] of results) {
  const off: Record<string, number> = {};
  for (const one of list)
    for (const [side, count] of Object.entries(one.off))
      off[side] = (off[side] ?? 0) + count / (7 * list.length);
  console.log(
    name,
    Object.entries(off)
      .sort()
      .map(([k, v]) => `${k} ${v.toFixed(2)}`)
      .join(", "),
  );
}
for (const [name, list] of results)
  console.log(
    `| ${name} | ${(100 * mean(list, (r) => r.under)).toFixed(1)} % | ${(100 * mean(list, (r) => r.inside)).toFixed(1)} % | ${mean(list, (r) => r.money).toFixed(3)} | ${mean(list, (r) => r.bottles).toFixed(2)} | ${mean(list, (r) => r.minutes).toFixed(0)} |`,
  );
console.log(`${calls} calls, ${unsafe} rules broken`);
if (unsafe > 0) process.exitCode = 1;
