/**
 * npm run bench:green [-- pools]: green pools that share no law with what is told of them, from the first call to won.
 * How many stay within the days and the money that were told, and how wide those are.
 */
import loadHighs from "highs";
import { type Highs, solverOf } from "#core";
import { treated } from "../core/jobs/green-pond.fixtures";
import { sized } from "./lib/bench.mjs";

const solver = solverOf((await loadHighs()) as unknown as Highs);
const count = Number(process.argv[2] ?? sized(200, 20));
const pools = Array.from({ length: count }, (_, seed) => treated(seed + 1, solver));

const within = (value: number | null, { low, high }: { low: number; high: number }) =>
  value !== null && value >= low - 1e-9 && value <= high + 1e-9;
const share = (of: readonly boolean[]) => `${((100 * of.filter(Boolean).length) / of.length).toFixed(1)} %`;
const middle = (of: readonly number[]) =>
  [...of].sort((a, b) => a - b)[Math.floor(of.length / 2)] ?? Number.NaN;

const later = pools.flatMap(({ later, days }) => later.map((one) => within(days, one.days)));
console.log(`${count} pools; won in forty days: ${share(pools.map(({ days }) => days !== null))}`);
console.log(
  `days within what was told first: ${share(pools.map(({ days, told }) => within(days, told.days)))}`,
);
console.log(`money: ${share(pools.map(({ money, told }) => within(money, told.money)))}`);
console.log(`days within what was told at the ${later.length} calls after: ${share(later)}`);
console.log(
  `the longest told over the shortest, of half of them at most: ${middle(pools.map(({ told }) => told.days.high / told.days.low)).toFixed(1)}`,
);
const days = pools.flatMap((one) => one.days ?? []);
console.log(
  `days they took: ${Math.min(...days).toFixed(1)} to ${Math.max(...days).toFixed(1)}, half ${middle(days).toFixed(1)}`,
);
console.log(
  `pH on the way: ${Math.min(...pools.map(({ ph }) => ph.low)).toFixed(2)} to ${Math.max(...pools.map(({ ph }) => ph.high)).toFixed(2)}`,
);
