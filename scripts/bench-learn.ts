/**
 * npm run bench:learn: what is learned under a good hand in two worlds that are not the learner's, against the last
 * and the usual reading; a year of twelve basins, one more visit, and a firm of two hundred basins over five years
 * with the memory at its peak. `-- quick` leaves the large firm out, `-- worlds` everything but the two worlds.
 */

import { millisecondsInDay } from "date-fns/constants";
import loadHighs from "highs";
import { type Highs, solverOf } from "#core";
import { FirmLearner } from "../core/learning/learn";
import { type BasinLog, type FirmLog, LEARNED } from "../core/learning/log";
import { simulatedFirm } from "../core/learning/simulated-firm.fixtures";
import { learnedIn, type ToldTally } from "../core/loop/learned.fixtures";
import { WORLDS, type World } from "../core/loop/physics.fixtures";
import { sized } from "./lib/bench.mjs";

await worlds();
if (process.argv.includes("worlds")) process.exit();

/** Firms in the two worlds; with a titrant of alkalinity that loses 1 % a day from the middle on. */
async function worlds(): Promise<void> {
  const solver = solverOf((await loadHighs()) as unknown as Highs);
  for (const world of Object.keys(WORLDS) as World[]) {
    const found = Array.from({ length: sized(4, 1) }, (_, index) =>
      learnedIn(
        { seed: index + 1, world, basins: sized(16, 6), weeks: sized(14, 10), weakening: 0.01 },
        solver,
      ),
    );
    console.log(`\n${world}`);
    for (const quantity of LEARNED) {
      const sum = (name: "count" | "told" | "last" | "usual" | "bias" | "inside") =>
        found.reduce((total, { errors }) => total + errors[quantity][name], 0);
      const of = (name: Parameters<typeof sum>[0]) => sum(name) / sum("count");
      console.log(
        `  ${quantity.padEnd(16)} off by ${of("told").toFixed(3)} (${of("bias").toFixed(3)} in the mean), ` +
          `${(of("told") / Math.min(of("last"), of("usual"))).toFixed(2)} of the better of last and usual, ` +
          `${(100 * of("inside")).toFixed(0)} % inside, ${sum("count")} of them`,
      );
    }
    const told = (name: "volumes" | "bottles" | "deliveries") => {
      const all = (field: keyof ToldTally) => found.reduce((total, one) => total + one[name][field], 0);
      return `${name}: ${all("told")} of ${all("wrong")} wrong ones told, ${all("accused")} of ${all("right")} right ones accused`;
    };
    console.log(`  ${told("volumes")}\n  ${told("bottles")}\n  ${told("deliveries")}`);
    const titrants = found.map(({ weakeningToldAt }) => weakeningToldAt?.toFixed(2) ?? "never");
    console.log(`  weakening titrant told of at a worth of ${titrants.join(", ")}`);
  }
}

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
