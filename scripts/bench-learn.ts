/**
 * npm run bench:learn: a year of twelve basins, one more visit, and a firm of two hundred basins over five
 * years with the memory at its peak. `-- quick` leaves the large firm out.
 */

import { millisecondsInDay } from "date-fns/constants";
import { FirmLearner } from "../core/learning/learn";
import type { BasinLog, FirmLog } from "../core/learning/log";
import { simulatedFirm } from "../core/learning/simulated-firm.fixtures";
import { sized } from "./lib/bench.mjs";

const seconds = (work: () => void): number => {
  const begun = performance.now();
  work();
  return (performance.now() - begun) / 1000;
};
const megabytes = () => Math.round(process.memoryUsage().rss / 1e6);

const { log } = simulatedFirm({ seed: 1, basins: 12, weeks: 52 }).cutAt(1);
const visits = log.basins.reduce((sum, basin) => sum + basin.visits.length, 0);
const times = [0, 1, 2].map(() => seconds(() => FirmLearner.learn(log)?.answer())).sort((a, b) => a - b);
console.log(`twelve basins, a year, ${visits} visits: median ${times[1]?.toFixed(2)} s of three`);

const basin = log.basins[0] as BasinLog;
const shorter: FirmLog = {
  ...log,
  basins: [{ ...basin, visits: basin.visits.slice(0, -10) }, ...log.basins.slice(1)],
};
const learner = FirmLearner.learn(shorter);
const more = basin.visits.slice(-10).map((visit) =>
  seconds(() => {
    learner?.takeIn(basin.id, visit);
    learner?.answerOf(0, undefined, [visit.at + 7 * millisecondsInDay]);
  }),
);
more.sort((a, b) => a - b);
console.log(
  `one more visit: median ${((more[5] ?? 0) * 1000).toFixed(1)} ms, slowest ${((more[9] ?? 0) * 1000).toFixed(1)} ms`,
);

if (!process.argv.includes("quick") && !sized(false, true)) {
  const large = simulatedFirm({ seed: 2, basins: 200, weeks: 260 }).cutAt(1).log;
  const all = large.basins.reduce((sum, one) => sum + one.visits.length, 0);
  const before = megabytes();
  let peak = before;
  const took = seconds(() => {
    FirmLearner.learn(large, () => {
      peak = Math.max(peak, megabytes());
      return true;
    })?.answer();
  });
  console.log(
    `200 basins, five years, ${all} visits: ${took.toFixed(0)} s, ${before} MB before, ${peak} MB at the peak`,
  );
}
