/**
 * npm run bench:plan: time of one plan over 500 seeded waters × basins × shelves, and its score against
 * the best of a search over every choice of up to three products on a grid.
 */

import loadHighs from "highs";
import {
  type Amounts,
  chlorineGoal,
  type Highs,
  InputFault,
  judged,
  type PlanInput,
  type Sample,
  solvePlan,
  solverOf,
  TEST_STEP,
  TRAITS,
  waterAfter,
} from "#core";
import { choosable } from "../core/dosing/plan/choosable";
import { randomCase } from "../core/dosing/plan/plan.fixtures";
import { heldInside } from "../core/dosing/plan/solve";
import { effectPerGram } from "../core/products/products";
import { readingsOf } from "../core/water/equilibrium";
import { sized } from "./lib/bench.mjs";

const CASES = sized(500, 20);
const SEARCHED = sized(40, 2);
const GRID = 13;

const solver = solverOf((await loadHighs()) as unknown as Highs);
const cases = Array.from({ length: CASES }, (_, seed) => randomCase(seed).input);
for (const input of cases.slice(0, 20)) solvePlan(input, solver);

const times: number[] = [];
const passes: number[] = [];
let missed = 0;
for (const input of cases) {
  const begun = performance.now();
  const solved = solvePlan(input, solver);
  times.push(performance.now() - begun);
  passes.push(solved.passes);
  if (solved.missed.length > 0) missed++;
}
times.sort((a, b) => a - b);
const at = (share: number) => (times[Math.floor(share * times.length)] ?? 0).toFixed(1);
console.log(`${CASES} plans: median ${at(0.5)} ms, p95 ${at(0.95)} ms, most ${at(0.999)} ms`);
console.log(
  `passes: ${(passes.reduce((a, b) => a + b, 0) / CASES).toFixed(2)} on average, ${Math.max(...passes)} at most`,
);
console.log(`${missed} of them end with a reading that the shelf cannot mend`);

/** What a plan's rules allow: one product a use, no acid beside a base, nothing raised past its aim that was low. */
function isAllowed({ products, goals, water }: PlanInput, { grams }: Amounts, after: Sample): boolean {
  const uses = products.flatMap(({ key, product }) => (grams.has(key) ? [TRAITS[product].use] : []));
  if (new Set(uses).size < uses.length || (uses.includes("acid") && uses.includes("base"))) return false;
  return (["totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const).every(
    (quantity) => {
      const raised = products.some(
        ({ key, product }) => grams.has(key) && TRAITS[product].use === RAISED_BY[quantity],
      );
      const goal = quantity === "freeChlorine" ? chlorineGoal({ goals, water }, after) : goals[quantity];
      const low = goal.steer && water[quantity] < goal.aim;
      const top = low ? Math.max(goal.aim, water[quantity]) : water[quantity];
      if (!raised) return true;
      // Less than a test can see is not given, and nothing is raised that was not low.
      const moved = Math.abs(after[quantity] - water[quantity]) >= TEST_STEP[quantity];
      return low && moved && after[quantity] <= top + TEST_STEP[quantity];
    },
  );
}

const RAISED_BY = {
  totalAlkalinity: "alkalinity",
  calciumHardness: "calcium",
  cyanuricAcid: "stabiliser",
  freeChlorine: "chlorine",
} as const;

/** The best of every choice of up to three products, each at GRID amounts up to what moves its total far. */
function search(input: PlanInput): number {
  const { products, litres } = input;
  const most = products.map((product) => {
    const effect = effectPerGram(product);
    const strongest = Math.max(
      Math.abs(effect.alkalinity),
      effect.calcium,
      effect.cyanurate,
      effect.chlorine * 20,
    );
    return Math.min((0.0025 / strongest) * litres, product.stock ?? Number.POSITIVE_INFINITY);
  });
  let best = Number.POSITIVE_INFINITY;
  const tryOne = (grams: Map<string, number>) => {
    const amounts: Amounts = { grams, replaced: 0, aerated: 0 };
    try {
      const after = readingsOf(waterAfter(input, amounts));
      if (isAllowed(input, amounts, after)) best = Math.min(best, judged(input, amounts, after).score);
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
    }
  };
  const choose = (from: number, left: number, grams: Map<string, number>) => {
    tryOne(grams);
    if (left === 0) return;
    for (let index = from; index < products.length; index++) {
      const key = products[index]?.key ?? "";
      for (let step = 1; step <= GRID; step++)
        choose(index + 1, left - 1, new Map(grams).set(key, ((most[index] ?? 0) * step) / GRID));
    }
  };
  choose(0, 3, new Map());
  return best;
}

// Water and air are left out of both sides: the grid has no room for them.
let worst = Number.NEGATIVE_INFINITY;
let sum = 0;
for (const input of cases.slice(0, SEARCHED)) {
  const bare = {
    ...input,
    fill: null,
    mostReplaced: 0,
    aeration: false,
    products: choosable(input).slice(0, 6),
  };
  const held = heldInside(bare);
  const { amounts, after } = solvePlan(bare, solver);
  const planned = judged(held, amounts, after).score;
  const found = search(held);
  const gap = (planned - found) / Math.max(1, found);
  worst = Math.max(worst, gap);
  sum += gap;
}
console.log(
  `against the grid (${SEARCHED} cases, up to 3 of 6 products, ${GRID} amounts each): plan's score less the grid's best, as a share: ${(100 * (sum / SEARCHED)).toFixed(2)} % on average, ${(100 * worst).toFixed(3)} % at worst`,
);
