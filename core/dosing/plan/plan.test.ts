import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { OUTDOOR_FIXED_BAND } from "../../judging/sets";
import { readingsOf } from "../../water/equilibrium";
import { type Sample, totalsOf } from "../../water/sample";
import { POOL_WATER } from "../../water/water.fixtures";
import { addTo, replaceWater } from "../effects";
import { PRODUCTS } from "../products";
import { type Goals, goalsOf } from "./goals";
import { type Highs, solverOf } from "./highs";
import { type PlanInput, WEIGHTS } from "./input";
import { obstacleTo, plansFor } from "./plan";
import { onShelf, randomCase, WHOLE_SHELF } from "./plan.fixtures";
import { linear, lpText, plus, type Solver } from "./programme";
import { type Amounts, solvePlan } from "./solve";
import { ACID_CHLORINE_MINUTES, type PlanStep, stepsOf } from "./steps";

let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

/** The water after a plan by the effects of dosing, not by the planner's own sum. */
function independently(input: PlanInput, amounts: Amounts): Sample {
  let totals = totalsOf(input.water);
  if (amounts.replaced > 0 && input.fill) {
    const fill = { ...totalsOf(input.fill), temperature: totals.temperature };
    totals = replaceWater(totals, fill, amounts.replaced);
  }
  const additions = input.products.flatMap((product) => {
    const grams = amounts.grams.get(product.key);
    return grams ? [{ product: product.product, strength: product.strength, grams }] : [];
  });
  const treated = addTo(totals, additions, input.litres).totals;
  return readingsOf({ ...treated, inorganicCarbon: treated.inorganicCarbon - amounts.aerated / 1000 });
}

const ANY: Goals["totalAlkalinity"] = { low: null, high: null, aim: 100 };
const base = (water: Sample, change: Partial<PlanInput> = {}): PlanInput => ({
  water,
  litres: 38_000,
  goals: goalsOf(OUTDOOR_FIXED_BAND, "plaster", water),
  products: WHOLE_SHELF,
  fill: null,
  mostReplaced: 0,
  aeration: true,
  weights: WEIGHTS,
  ...change,
});

describe("a programme", () => {
  it("is written so that a solver reads what was meant", () => {
    const lp = lpText({
      cost: linear(5, { x: 2, y: 1 }),
      rows: [{ expression: plus(linear(1, { x: 1 }), linear(0, { y: 1 })), sense: ">=", right: 4 }],
      bounds: new Map([["x", [0, 10]]]),
      binaries: ["y"],
    });
    expect(lp).toContain("r0: + 1 x\n  + 1 y >= 3");
    expect(Object.fromEntries(solver(lp) ?? [])).toMatchObject({ x: 2, y: 1 });
  });
  it("without a solution has none", () => {
    const lp = lpText({
      cost: linear(0, { x: 1 }),
      rows: [{ expression: linear(0, { x: 1 }), sense: ">=", right: 4 }],
      bounds: new Map([["x", [0, 1]]]),
      binaries: [],
    });
    expect(solver(lp)).toBeNull();
  });
});

describe("a plan", () => {
  it("is nothing when all is right", () => {
    const { amounts, cost } = solvePlan(
      base({ ...POOL_WATER, ph: 7.5, cyanuricAcid: 40, freeChlorine: 3 }),
      solver,
    );
    expect([...amounts.grams]).toEqual([]);
    expect([amounts.replaced, amounts.aerated, cost]).toEqual([0, 0, 0]);
  });

  it("takes 38 000 L from 8.0 to 7.4 with about 0.51 L of acid, as on paper", () => {
    const water = {
      ...POOL_WATER,
      ph: 8,
      totalAlkalinity: 100,
      cyanuricAcid: 30,
      freeChlorine: 2,
      temperature: 26,
    };
    const goals: Goals = {
      ph: { low: 7.39, high: 7.41, aim: 7.4 },
      totalAlkalinity: ANY,
      calciumHardness: { ...ANY, aim: 300 },
      cyanuricAcid: { ...ANY, aim: 30 },
      freeChlorine: { ...ANY, aim: 2 },
      hypochlorousAcid: null,
      saturation: { low: -0.3, high: 0.5 },
    };
    const { amounts, after } = solvePlan(
      base(water, {
        goals,
        products: [onShelf("hydrochloric-acid")],
        aeration: false,
        weights: { ...WEIGHTS, offAimInside: 0 },
      }),
      solver,
    );
    expect((amounts.grams.get("hydrochloric-acid") ?? 0) / 1160).toBeCloseTo(0.51, 1);
    expect(after.ph).toBeCloseTo(7.4, 4);
  });

  it("brings alkalinity down by acid and air, and stabiliser by other water only", () => {
    const high = solvePlan(base({ ...POOL_WATER, totalAlkalinity: 180, ph: 7.6, cyanuricAcid: 40 }), solver);
    expect(high.amounts.grams.has("hydrochloric-acid")).toBe(true);
    expect(high.amounts.aerated).toBeGreaterThan(0.1);
    expect(high.after.totalAlkalinity).toBeCloseTo(100, 0);
    const fill: Sample = {
      ...POOL_WATER,
      cyanuricAcid: 0,
      freeChlorine: 0,
      totalAlkalinity: 80,
      calciumHardness: 100,
    };
    const stabilised = solvePlan(
      base({ ...POOL_WATER, cyanuricAcid: 90 }, { fill, mostReplaced: 0.6 }),
      solver,
    );
    // 90 → 50 at most: at least 44 % of it
    expect(stabilised.amounts.replaced).toBeGreaterThan(0.44);
    expect(stabilised.missed).toEqual([]);
  });

  it("that cannot reach says what stands in the way, and comes as near as it can", () => {
    const water = { ...POOL_WATER, calciumHardness: 120, ph: 7.5, cyanuricAcid: 40, freeChlorine: 3 };
    const setting = { kind: "pool", freshFill: false, surface: "other", sanitiserFirst: false } as const;
    const missing = (change: Partial<PlanInput>) => plansFor(base(water, change), setting, solver)[0]?.missed;
    expect(missing({ products: [] })).toMatchObject([
      { quantity: "calciumHardness", limit: 200, obstacle: "no-product" },
    ]);
    const little = missing({ products: [onShelf("calcium-chloride", 1000)] });
    expect(little).toMatchObject([{ obstacle: "stock" }]);
    // 1 kg of 77 % in 38 m³: + 18.3 ppm
    expect(little?.[0]?.value).toBeCloseTo(138.3, 0);
  });

  it("is the same for the same input", () => {
    const { input, setting } = randomCase(7);
    expect(plansFor(input, setting, solver)).toEqual(plansFor(input, setting, solver));
  });
});

describe("five hundred waters, basins and shelves", () => {
  it("each get a plan that the full equilibrium bears out, inside every hard limit, in a safe order", () => {
    const conflicts: number[] = [];
    for (let seed = 0; seed < 500; seed++) {
      const { input, setting } = randomCase(seed);
      const solved = solvePlan(input, solver);
      const { amounts, after, missed } = solved;
      const borneOut = independently(input, amounts);
      expect(borneOut.ph, `pH of ${seed}`).toBeCloseTo(after.ph, 6);
      for (const quantity of ["totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const)
        expect(borneOut[quantity], `${quantity} of ${seed}`).toBeCloseTo(after[quantity], 6);
      // Hard limits.
      expect(amounts.replaced).toBeLessThanOrEqual(input.mostReplaced + 1e-9);
      if (!input.fill) expect(amounts.replaced).toBe(0);
      if (!input.aeration) expect(amounts.aerated).toBe(0);
      for (const product of input.products)
        if (product.stock !== null)
          expect(amounts.grams.get(product.key) ?? 0).toBeLessThanOrEqual(product.stock * (1 + 1e-6));
      // In range, or told: nothing is missed that the shelf could have mended.
      for (const quantity of ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const) {
        const { low, high } = input.goals[quantity];
        const isMissed = missed.some((miss) => miss.quantity === quantity);
        if (low !== null && !isMissed)
          expect(after[quantity], `${quantity} of ${seed}`).toBeGreaterThan(
            low - 0.02 * (quantity === "ph" ? 0.05 : 1),
          );
        if (high !== null && !isMissed)
          expect(after[quantity], `${quantity} of ${seed}`).toBeLessThan(
            high + 0.02 * (quantity === "ph" ? 0.05 : 1),
          );
      }
      if (missed.some((miss) => obstacleTo(input, solved, miss) === "conflict")) conflicts.push(seed);
      safe(stepsOf(input, amounts, setting), input, setting.sanitiserFirst, seed);
    }
    // Readings that pull against one another with what little is on the shelf.
    expect(conflicts.length).toBeLessThan(120);
  }, 240_000);
});

const isAcid = (step: PlanStep) =>
  step.kind === "dose" && (step.compound === "hydrochloric-acid" || step.compound === "sodium-bisulfate");
const isChlorine = (step: PlanStep) => step.kind === "dose" && PRODUCTS[step.compound].effect.chlorine > 0;

/** The order, the waits and the portions that keep people safe. */
function safe(steps: PlanStep[], input: PlanInput, sanitiserFirst: boolean, seed: number): void {
  for (const step of steps) {
    if (isAcid(step) || isChlorine(step)) expect(step.cautions).toContain("acid-and-chlorine");
    if (step.kind === "replace-water")
      expect(step.cautions).toEqual(expect.arrayContaining(["hydrostatic-lift", "dechlorinate-drain"]));
    if (step.kind === "dose") {
      const per40 = (step.portionGrams * 40_000) / input.litres;
      // 1 L of full-strength acid, 5 kg of bicarbonate or calcium chloride in 40 m³ at a time
      if (step.compound === "hydrochloric-acid") expect(per40).toBeLessThanOrEqual(1160 * 1.0001);
      if (step.compound === "sodium-bicarbonate" || step.compound === "calcium-chloride")
        expect(per40).toBeLessThanOrEqual(5000 * 1.0001);
      expect(step.portions * step.portionGrams).toBeCloseTo(step.grams, 6);
    }
  }
  for (let index = 1; index < steps.length; index++) {
    const [before, step] = [steps[index - 1], steps[index]];
    if (!before || !step) continue;
    if ((isAcid(before) && isChlorine(step)) || (isChlorine(before) && isAcid(step)))
      expect(before.waitMinutes, `acid and chlorine in ${seed}`).toBeGreaterThanOrEqual(
        ACID_CHLORINE_MINUTES,
      );
  }
  const first = steps.find((step) => step.kind === "dose");
  if (sanitiserFirst && steps.some(isChlorine) && first)
    expect(isChlorine(first) || (input.water.ph > 8 && isAcid(first)), `sanitiser first in ${seed}`).toBe(
      true,
    );
  if (steps.length > 0) expect(steps.at(-1)?.kind).toBe("retest");
}
