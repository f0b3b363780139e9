/**
 * npm run bench:loop [-- firms basins weeks]: from the log to what is learned, from there to the plan, from the plan
 * to the water, and on. Firms in two worlds, none of them the learner's, under four hands; the shares of the time
 * that each keeps its waters right.
 */

import { isMainThread, parentPort, Worker } from "node:worker_threads";
import loadHighs from "highs";
import { type Highs, solverOf } from "#core";
import { type Hand, runLoop, type Tally } from "../core/loop/firm.fixtures";
import { byTable, goodHand, whoKnows } from "../core/loop/hands.fixtures";
import { byPlan, byRule } from "../core/loop/pelagon.fixtures";
import { WORLDS, type World } from "../core/loop/physics.fixtures";
import { sized } from "./lib/bench.mjs";

const HANDS: Record<string, (world: World) => Hand> = {
  table: byTable,
  "good hand": goodHand,
  plan: () => byPlan(),
  rule: byRule,
  "plan, held": () => byPlan({ holds: true }),
  "who knows": whoKnows,
};

interface Job {
  world: World;
  seed: number;
  hand: string;
  basins: number;
  weeks: number;
  since: number;
}

interface Row extends Job {
  id: string;
  kind: string;
  every: number;
  tally: Tally;
}

async function work(job: Job): Promise<Row[]> {
  const solver = solverOf((await loadHighs()) as unknown as Highs);
  const hand = (HANDS[job.hand] as (world: World) => Hand)(job.world);
  return runLoop(job, hand, solver).map(({ basin, tally }) => ({
    ...job,
    id: basin.id,
    kind: basin.kind === "spa" ? "spa" : basin.feeder === "none" ? "pool" : `pool, ${basin.feeder}`,
    every: basin.rhythm.reduce((sum, one) => sum + one, 0) / basin.rhythm.length,
    tally,
  }));
}

if (!isMainThread) {
  parentPort?.on("message", async (job: Job) => parentPort?.postMessage(await work(job)));
} else {
  const [firms = sized(3, 1), basins = sized(20, 8), weeks = sized(16, 10)] = process.argv
    .slice(2)
    .map(Number);
  // Counted from the week on in which what would hold a water can have been taken up.
  const since = Number(process.env.SINCE ?? 0);
  const hands = process.env.HANDS?.split(";") ?? Object.keys(HANDS);
  const jobs: Job[] = hands.flatMap((hand) =>
    (Object.keys(WORLDS) as World[]).flatMap((world) =>
      Array.from({ length: firms as number }, (_, index) => ({
        world,
        seed: index + 1,
        hand,
        basins: basins as number,
        weeks: weeks as number,
        since,
      })),
    ),
  );
  const rows: Row[] = [];
  await Promise.all(
    [0, 1].map(
      () =>
        new Promise<void>((done) => {
          const worker = new Worker(new URL("./lib/ts-worker.mjs", import.meta.url), {
            workerData: { script: import.meta.url },
          });
          const next = () => {
            const job = jobs.pop();
            if (job) worker.postMessage(job);
            else void worker.terminate().then(() => done());
          };
          worker.on("message", (more: Row[]) => {
            rows.push(...more);
            next();
          });
          worker.on("error", (fault) => {
            console.error(fault);
            process.exitCode = 1;
            done();
          });
          next();
        }),
    ),
  );
  print(rows, hands);
  if (process.env.EACH)
    for (const { hand, world, seed, id, kind, every, tally } of rows)
      console.log(
        hand,
        world,
        seed,
        id,
        kind,
        every.toFixed(1),
        (["right", "under", "phHigh", "alkalinityLow", "indexOff"] as const)
          .map((key) => `${key} ${((100 * tally[key]) / tally.hours).toFixed(0)}`)
          .join(", "),
      );
}

function print(rows: readonly Row[], hands: readonly string[]): void {
  const groups: [string, (row: Row) => boolean][] = [
    ["all", () => true],
    ["by shares", ({ world }) => world === "byShares"],
    ["by loads", ({ world }) => world === "byLoads"],
    ...[...new Set(rows.map(({ kind }) => kind))]
      .sort()
      .map((kind): [string, (row: Row) => boolean] => [kind, (row) => row.kind === kind]),
    ["weekly", ({ every, kind }) => every === 7 && kind !== "spa"],
  ];
  const columns = [
    "right",
    "under",
    "over",
    "phHigh",
    "phLow",
    "alkalinityLow",
    "indexOff",
    "indexLow",
  ] as const;
  console.log(
    `| | ${columns.join(" | ")} | money | calls a week | minutes | late | pH held | FC held | warned, came | missed |`,
  );
  for (const [name, isOf] of groups)
    for (const hand of hands) {
      const of = rows.filter((row) => row.hand === hand && isOf(row));
      if (of.length === 0) continue;
      const sum = (key: keyof Tally) => of.reduce((all, { tally }) => all + tally[key], 0);
      const cells = columns.map((key) => {
        const shares = of.map(({ tally }) => (100 * tally[key]) / tally.hours);
        const mean = shares.reduce((all, one) => all + one, 0) / shares.length;
        const deviation = Math.sqrt(
          shares.reduce((all, one) => all + (one - mean) ** 2, 0) / Math.max(1, shares.length - 1),
        );
        return `${mean.toFixed(1)}±${((1.645 * deviation) / Math.sqrt(shares.length)).toFixed(1)}`;
      });
      const share = (a: keyof Tally, b: keyof Tally) =>
        sum(b) > 0 ? `${((100 * sum(a)) / sum(b)).toFixed(0)}` : "";
      console.log(
        `| ${name}, ${hand} (${of.length}) | ${cells.join(" | ")} | ${(sum("money") / of.length).toFixed(0)} | ${((sum("calls") * 7 * 24) / Math.max(1, sum("hours"))).toFixed(1)} | ${(sum("minutes") / sum("calls")).toFixed(0)} | ${sum("late")} | ${share("phHeld", "phTold")} | ${share("chlorineHeld", "chlorineTold")} | ${sum("warnings")}, ${share("warningsCame", "warnings")} | ${sum("shortfallsUnwarned")} of ${sum("shortfalls")} |`,
      );
    }
}
