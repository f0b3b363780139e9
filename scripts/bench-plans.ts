/**
 * npm run bench:plans [-- PLANS]: plans for random waters, shelves, minutes and calls, each walked through the
 * equilibrium; ends with 1 when one is such that a colleague would not understand it.
 */
import loadHighs from "highs";
import { type Highs, solverOf } from "#core";
import { randomProblem, silly } from "../core/dosing/horizon/random-plans.fixtures";
import { sized } from "./lib/bench.mjs";

const plans = Number(process.argv[2] ?? sized(2000, 100));
const solver = solverOf((await loadHighs()) as unknown as Highs);
const found = new Map<string, number[]>();
for (let seed = 0; seed < plans; seed++)
  for (const one of silly(randomProblem(seed), solver)) {
    // Numbers aside, so that the same is counted together.
    const name = one.replaceAll(/[\d.]+/g, "…");
    found.set(name, [...(found.get(name) ?? []), seed]);
  }
for (const [name, seeds] of found)
  console.log(`${name}: ${seeds.length}, first ${seeds.slice(0, 8).join(", ")}`);
console.log(`${plans} plans, ${[...found.values()].flat().length} silly`);
if (found.size > 0) process.exitCode = 1;
