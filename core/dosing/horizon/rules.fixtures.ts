import { addTo } from "../../products/effects";
import { PRODUCTS } from "../../products/products";
import { isAcid, isChlorine, mostAtATime, TRAITS } from "../../products/traits";
import { usualSpreads } from "../../uncertainty/spread";
import { readingsOf } from "../../water/equilibrium";
import { totalsOf } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { planDraws } from "../plan/predict";
import { SAFE_WAY } from "../plan/way";
import { ALKALINITY_A_CALL } from "./allowed";
import type { Done } from "./closed-loop.fixtures";
import { quantile } from "./draws";
import { BITES } from "./limit-rows";

/**
 * What must not happen at a call, told by walking through its pours and not by what the planner says of them:
 * the rules that are broken, none where all is as it should be.
 */
export function breaches(done: Done, litres: number): string[] {
  const { plan, problem } = done;
  if (!plan || !problem) throw new Error("no plan to look at");
  const { input } = problem.still;
  const { goals } = input;
  const broken: string[] = [];
  const rule = (name: string, isKept: boolean, told: unknown = "") => {
    if (!isKept) broken.push(`${name} ${told}`.trim());
  };
  rule("minutes", plan.minutes <= problem.minutes, plan.minutes);
  rule("no water replaced inside a call", done.replaced === 0);
  const products = [...new Set(plan.pours.map(({ product }) => product))].map((key) => {
    const product = input.products.find((one) => one.key === key);
    if (!product) throw new Error(`${key} is on no shelf`);
    return product;
  });
  const uses = products.map(({ product }) => TRAITS[product].use);
  rule("one of each kind", new Set(uses).size === uses.length, uses);
  rule("only what a plan may choose", !uses.includes(null), uses);
  rule("no acid with a base", !(uses.includes("acid") && uses.includes("base")));
  plan.pours.forEach((pour, index) => {
    const product = products.find(({ key }) => key === pour.product);
    if (!product) return;
    rule("portion", pour.grams <= mostAtATime(product, litres) * (1 + 1e-6), pour.product);
    for (const before of plan.pours.slice(0, index)) {
      const apart = pour.begins - before.ends;
      const meets =
        (isAcid(pour.compound) && isChlorine(before.compound)) ||
        (isChlorine(pour.compound) && isAcid(before.compound)) ||
        pour.product === before.product;
      rule("apart", apart >= (meets ? 30 : 0), `${before.product} ${pour.product} ${apart}`);
    }
    if (TRAITS[pour.compound].stabilised)
      rule("stabilised where it may be", input.stabilisedChlorine === true, pour.product);
    if (pour.compound === "calcium-hypochlorite") {
      rule("no calcium hypochlorite beside a feeder", !(input.cell || input.tablets));
      rule(
        "nor where calcium is over",
        input.water.calciumHardness < (goals.calciumHardness.high ?? Number.POSITIVE_INFINITY),
      );
    }
  });
  // The way, portion by portion.
  let totals = totalsOf(input.water);
  const begun = readingsOf(totals);
  const index = (water: typeof begun) => saturation(water).full.corrected;
  const first = index(begun);
  for (const { compound, grams, product } of plan.pours) {
    const strength = products.find(({ key }) => key === product)?.strength ?? PRODUCTS[compound].strength;
    totals = addTo(totals, [{ product: compound, strength, grams }], litres).totals;
    const water = readingsOf(totals);
    rule("pH on the way", water.ph > Math.min(SAFE_WAY.ph.low, begun.ph) - 1e-3, water.ph);
    rule("pH on the way", water.ph < Math.max(SAFE_WAY.ph.high, begun.ph) + 1e-3, water.ph);
    rule("index on the way", index(water) < Math.max(SAFE_WAY.saturation.high, first) + 1e-3, index(water));
    rule("index on the way", index(water) > Math.min(SAFE_WAY.saturation.low, first) - 1e-3, index(water));
    rule(
      "chlorine on the way",
      water.freeChlorine < Math.max(goals.mostChlorine, begun.freeChlorine) + 1e-3,
      water.freeChlorine,
    );
  }
  const after = readingsOf(totals);
  rule(
    "alkalinity a call",
    begun.totalAlkalinity - after.totalAlkalinity < ALKALINITY_A_CALL + 1.5,
    begun.totalAlkalinity - after.totalAlkalinity,
  );
  if (goals.freeChlorine.high !== null)
    rule(
      "chlorine over its limit is left",
      begun.freeChlorine <= goals.freeChlorine.high || after.freeChlorine <= begun.freeChlorine + 0.05,
    );
  // Acid no further than holds nine times in ten, by the draws of the still plan.
  if (uses.includes("acid") && goals.ph.low !== null) {
    const amounts = { grams: done.grams, replaced: 0, aerated: 0 };
    const { draws } = planDraws(input, amounts, {
      spreads: problem.still.spreads ?? usualSpreads(input.water),
    });
    const tenth = quantile(draws.ph, 0.1);
    // Acid against what chlorine lifts leaves a water that stands at its edge where it was.
    const isLowered = after.ph < begun.ph - TENTH_TOLERANCE;
    rule(
      "acid only as far as is sure",
      !isLowered || tenth >= Math.min(goals.ph.low, BITES) - TENTH_TOLERANCE,
      tenth.toFixed(3),
    );
  }
  for (const [quantity, use] of [
    ["calciumHardness", "calcium"],
    ["cyanuricAcid", "stabiliser"],
    ["totalAlkalinity", "alkalinity"],
  ] as const) {
    if (!uses.includes(use)) continue;
    rule(`${use} only where low`, begun[quantity] < (goals[quantity].low ?? 0), begun[quantity]);
    rule(`${use} by what a test sees`, after[quantity] - begun[quantity] > 3, after[quantity]);
  }
  return broken;
}

/** Two samples of a spread, 240 draws and four thousand, differ by so much pH. */
const TENTH_TOLERANCE = 0.03;
