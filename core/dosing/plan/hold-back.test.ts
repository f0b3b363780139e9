import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { OUTDOOR_FIXED_BAND } from "../../ranges/sets";
import { chanceAbove } from "../../uncertainty/propagate";
import { usualSpreads } from "../../uncertainty/spread";
import { POOL_WATER } from "../../water/water.fixtures";
import { goalsOf } from "./goals";
import { type Highs, solverOf } from "./highs";
import { MOST_CHANCE, sureAmounts } from "./hold-back";
import { type PlanInput, WEIGHTS } from "./input";
import { onShelf, WHOLE_SHELF } from "./plan.fixtures";
import { planDraws } from "./predict";
import type { Solver } from "./programme";
import { shownPlans } from "./shown";
import { solvePlan } from "./solve";

const water = { ...POOL_WATER, ph: 8, totalAlkalinity: 100, calciumHardness: 300, freeChlorine: 3 };
const input: PlanInput = {
  water,
  litres: 40_000,
  goals: goalsOf(OUTDOOR_FIXED_BAND, "plaster", water),
  products: WHOLE_SHELF,
  fill: null,
  mostReplaced: 0,
  aeration: true,
  weights: WEIGHTS,
};
const usual = usualSpreads(water);
/** A pH between two standards wide apart: anything from 7.7 to 8.3. */
const wide = { ...usual, ph: { low: 7.7, high: 8.3, deviation: 0 } };
const acid = { grams: new Map([["hydrochloric-acid", 850]]), replaced: 0, aerated: 0 };

let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

describe("what is held back", () => {
  it("is nothing where the readings are sure", () => {
    const sharp = { ...usual, ph: { low: 7.98, high: 8.02, deviation: 0 } };
    const { sure, heldBack } = sureAmounts(input, solvePlan(input, solver).amounts, { spreads: sharp });
    expect(heldBack).toEqual([]);
    expect(sure.grams.size).toBeGreaterThan(0);
  });

  it("leaves a first part that overshoots in at most one case of ten", () => {
    const { sure, heldBack } = sureAmounts(input, acid, { spreads: wide });
    expect(heldBack).toHaveLength(1);
    expect(heldBack[0]).toMatchObject({ product: "hydrochloric-acid", quantity: "ph", limit: 7.2 });
    expect(heldBack[0]?.chance).toBeGreaterThan(MOST_CHANCE);
    const first = sure.grams.get("hydrochloric-acid") ?? 0;
    expect(first + (heldBack[0]?.grams ?? 0)).toBeCloseTo(850, 6);
    // Other draws than those it was chosen by.
    const { draws } = planDraws(input, sure, { samples: 5000, seed: 99, spreads: wide });
    expect(1 - chanceAbove(draws.ph, 7.2)).toBeLessThan(MOST_CHANCE + 0.02);
  });

  it("is told at its step, and the retest promises what the first part does", () => {
    const product = onShelf("hydrochloric-acid");
    const alone = {
      ...input,
      products: [product],
      aeration: false,
      goals: { ...input.goals, ph: { low: 7.35, high: 7.5, aim: 7.4, steer: true, known: true } },
    };
    const { plans } = shownPlans(
      {
        input: alone,
        setting: { kind: "pool", freshFill: false, surface: "other", sanitiserFirst: false },
        set: OUTDOOR_FIXED_BAND,
        surface: "plaster",
        spreads: wide,
        leftAlone: [],
      },
      solver,
    );
    const [plan] = plans;
    const dose = plan?.steps.find((step) => step.kind === "dose");
    const retest = plan?.steps.find((step) => step.kind === "retest");
    expect(dose?.kind === "dose" && dose.heldBack?.quantity).toBe("ph");
    const promised = retest?.kind === "retest" ? retest.promised?.ph : undefined;
    expect(promised?.before).toBe(8);
    expect(promised?.promised).toBeGreaterThan(plan?.after.ph ?? 9);
  });
});
