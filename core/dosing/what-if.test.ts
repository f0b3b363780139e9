import { describe, expect, it } from "vitest";
import { InputFault } from "../fault";
import { effectOf } from "../products/effects";
import { POOL_WATER } from "../water/water.fixtures";
import { onShelf } from "./plan/plan.fixtures";
import { type WhatIf, whatIf } from "./what-if";

const acid = onShelf("hydrochloric-acid");
const asked: WhatIf = {
  water: POOL_WATER,
  litres: 40_000,
  products: [acid],
  fill: null,
  grams: {},
  replaced: 0,
  aerated: 0,
};

describe("what if", () => {
  it("nothing is done: the water reads as it does", () => {
    const answer = whatIf(asked);
    if (answer instanceof InputFault) throw answer;
    expect(answer.after.ph).toBeCloseTo(POOL_WATER.ph, 9);
    expect(answer.cost).toBe(0);
  });

  it("acid goes in: as the effect of that dose", () => {
    const answer = whatIf({ ...asked, grams: { [acid.key]: 600 } });
    if (answer instanceof InputFault) throw answer;
    const { ph, totalAlkalinity } = effectOf({
      water: POOL_WATER,
      litres: 40_000,
      additions: [{ product: acid.product, strength: acid.strength, grams: 600 }],
    });
    expect(answer.after.ph).toBeCloseTo(ph, 9);
    expect(answer.after.totalAlkalinity).toBeCloseTo(totalAlkalinity, 9);
    expect(answer.cost).toBeCloseTo(0.6 * acid.pricePerKg, 9);
  });

  it("answers with the fault where the numbers make no water", () => {
    const answer = whatIf({ ...asked, water: { ...POOL_WATER, totalAlkalinity: 3, cyanuricAcid: 100 } });
    expect(answer).toBeInstanceOf(InputFault);
  });
});
