/**
 * npm run bench:week [-- basins weeks seed]: how good one week's arrangement is, its first answer and how far it is
 * from what no arrangement can beat. Then (with LOOP=only nothing else) a firm of 60 basins and three people over twelve
 * weeks, log → what is learned → plan → week → water, in a world that the learner does not share: fixed weekdays as a
 * good owner draws them up, against weeks that plan themselves, at the same minutes and with fewer calls.
 */

import { isMainThread, parentPort, Worker } from "node:worker_threads";
import loadHighs from "highs";
import { type Highs, solverOf, suggestWeek, type WeekSolver } from "#core";
import { runLoop, type Tally } from "../core/loop/firm.fixtures";
import { byPlan } from "../core/loop/pelagon.fixtures";
import { fixedWeek, type SelfPlanned, selfPlanned, Town } from "../core/loop/week.fixtures";
import { madeUpWeek } from "../core/week/week.fixtures";
import { sized } from "./lib/bench.mjs";

/** Weeks of fixed days first, from which everybody learns. */
const LEARNS = 4;

interface Job {
  basins: number;
  weeks: number;
  seed: number;
  /** Null: fixed weekdays. */
  self: Pick<SelfPlanned, "hours" | "minuteWorth" | "changeWorth" | "every"> | null;
}

interface Row extends Job {
  right: number;
  under: number;
  over: number;
  phHigh: number;
  calls: number;
  minutes: number;
  moved: number;
  late: number;
}

async function work(job: Job): Promise<Row> {
  const solver = solverOf((await loadHighs()) as unknown as Highs);
  const town = new Town(job.basins, job.seed);
  const hand = byPlan();
  const calendar = job.self
    ? selfPlanned(town, { ...job.self, rounds: 20, learner: hand.learner, from: 7 * LEARNS })
    : fixedWeek(town);
  const results = runLoop(
    {
      seed: job.seed,
      world: "byLoads",
      basins: job.basins,
      weeks: LEARNS + job.weeks,
      since: LEARNS,
      calendar,
    },
    hand,
    solver,
  );
  const sum = (key: keyof Tally) => results.reduce((all, { tally }) => all + tally[key], 0);
  const share = (key: keyof Tally) => (100 * sum(key)) / sum("hours");
  const days = calendar.days.filter(({ day }) => day >= 7 * LEARNS);
  const aWeek = (of: (day: (typeof days)[number]) => number) =>
    days.reduce((all, day) => all + of(day), 0) / job.weeks;
  return {
    ...job,
    right: share("right"),
    under: share("under"),
    over: share("over"),
    phHigh: share("phHigh"),
    calls: aWeek(({ calls }) => calls),
    minutes: aWeek(({ minutes }) => minutes),
    moved: calendar.moved / Math.max(1, calendar.weeks),
    late: calendar.late,
  };
}

async function loop(basins: number, weeks: number, seed: number): Promise<void> {
  const fixed = await inWorkers([{ basins, weeks, seed, self: null }]);
  const minutes = fixed[0]?.minutes ?? 0;
  // A little over what the fixed days took: no day is planned to its last minute.
  const hours = (1.06 * minutes) / (3 * 5);
  // What a minute and a change are worth, and days from one drawing up to the next; WORTHS="0.006,0.02,2" for others.
  const worths = process.env.WORTHS?.split(";").map((pair) => pair.split(",").map(Number)) ?? [
    [0.006, 0.02],
    [0.012, 0.05],
    [0.03, 0.05],
    [0.045, 0.05],
  ];
  const selves = worths.map(([minuteWorth = 0, changeWorth = 0, every = 7]) => ({
    hours,
    minuteWorth,
    changeWorth,
    every,
  }));
  const rows = [...fixed, ...(await inWorkers(selves.map((self) => ({ basins, weeks, seed, self }))))];
  console.log(
    "| | right % | under | over | pH high | calls a week | minutes a week | moved a week | contracts broken |",
  );
  for (const row of rows)
    console.log(
      `| ${row.self ? `planned each ${row.self.every ?? 7} days, a minute worth ${row.self.minuteWorth}` : "fixed weekdays"} | ${[row.right, row.under, row.over, row.phHigh, row.calls].map((one) => one.toFixed(1)).join(" | ")} | ${row.minutes.toFixed(0)} | ${row.moved.toFixed(1)} | ${row.late} |`,
    );
}

async function inWorkers(jobs: Job[]): Promise<Row[]> {
  const rows: Row[] = [];
  const waiting = jobs.map((job, index) => ({ job, index }));
  const lane = () =>
    new Promise<void>((done) => {
      const worker = new Worker(new URL("./lib/ts-worker.mjs", import.meta.url), {
        workerData: { script: import.meta.url },
      });
      let at = -1;
      const next = () => {
        const one = waiting.shift();
        if (!one) return void worker.terminate().then(() => done());
        at = one.index;
        worker.postMessage(one.job);
      };
      worker.on("message", (row: Row) => {
        rows[at] = row;
        next();
      });
      worker.on("error", (fault) => {
        console.error(fault);
        process.exitCode = 1;
        done();
      });
      next();
    });
  await Promise.all([lane(), lane()]);
  return rows;
}

/** One week's arrangement: the first answer, and the distance to the bound after so many seconds. */
async function arrangement(): Promise<void> {
  const solver = (await loadHighs()) as unknown as WeekSolver;
  for (const hours of [300, 420]) {
    const problem = madeUpWeek({ seed: 1, basins: 60, days: 14, people: 3, hours });
    const started = performance.now();
    const seconds = () => (performance.now() - started) / 1000;
    const suggestions = suggestWeek(problem, solver);
    const first = suggestions.next().value;
    console.log(
      `60 basins, 14 days, 3 people of ${hours} minutes: first answer after ${seconds().toFixed(2)} s, worth ${first.worth.toFixed(1)}`,
    );
    for (const until of [3, 10, sized(30, 10)]) {
      let best = suggestions.next().value;
      while (seconds() < until) best = suggestions.next().value;
      const gap = best.bound === null ? Number.NaN : (100 * (best.bound - best.worth)) / best.bound;
      console.log(
        `  after ${seconds().toFixed(0)} s: worth ${best.worth.toFixed(1)}, bound ${best.bound?.toFixed(1)}, ${gap.toFixed(1)} % under it; ${best.changes.length} basins changed, right ${(100 * best.before.right).toFixed(0)} → ${(100 * best.after.right).toFixed(0)} %, minutes ${best.before.minutes.toFixed(0)} → ${best.after.minutes.toFixed(0)}, conflicts ${best.conflicts.length}`,
      );
    }
  }
}

if (!isMainThread) {
  parentPort?.on("message", async (job: Job) => parentPort?.postMessage(await work(job)));
} else {
  const [basins = sized(60, 8), weeks = sized(12, 2), seed = 1] = process.argv.slice(2).map(Number);
  if (process.env.LOOP !== "only") await arrangement();
  await loop(basins, weeks, seed);
}
