import { describe, expect, it } from "vitest";
import type { Made } from "../../judging/balance";
import { findings } from "../../judging/findings";
import { OUTDOOR_FIXED_BAND } from "../../judging/sets";
import type { Quantity } from "../../measure/quantity";
import { demandByModel } from "../demand-model";
import { WHOLE_SHELF } from "./plan.fixtures";
import { isNoPlan, planWater, problemFor } from "./problem";

const made = (value: number, change: Partial<Made> = {}): Made => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  kind: "titration",
  ...change,
});
const readings: Partial<Record<Quantity, Made>> = {
  ph: made(7.6),
  totalAlkalinity: made(90),
  calciumHardness: made(300),
  cyanuricAcid: made(40),
  freeChlorine: made(2),
};
const water = (change: Partial<Record<Quantity, Made | undefined>>, target: number | null = 7.4) =>
  planWater({ ...readings, ...change } as typeof readings, target);

describe("the water that is planned for", () => {
  it("is what was read, with usual values where nothing was", () => {
    const found = water({ calciumHardness: undefined });
    expect(found).toMatchObject({ water: { ph: 7.6, calciumHardness: 250 }, phByDemand: false });
    expect(isNoPlan(found) ? [] : found.assumed).toEqual([
      "calciumHardness",
      "temperature",
      "totalDissolvedSolids",
    ]);
  });

  it("is none without pH or alkalinity, or with one off its scale", () => {
    expect(water({ ph: undefined })).toEqual({ reason: "needs-reading", quantity: "ph" });
    expect(water({ totalAlkalinity: undefined })).toEqual({
      reason: "needs-reading",
      quantity: "totalAlkalinity",
    });
    expect(water({ cyanuricAcid: made(100, { bound: "at-least", high: null }) })).toMatchObject({
      reason: "off-scale",
    });
    expect(water({ ph: made(8.2, { bound: "at-least", high: null }) })).toEqual({
      reason: "off-scale",
      quantity: "ph",
    });
    expect(water({ totalAlkalinity: made(5), cyanuricAcid: made(100) })).toEqual({ reason: "inconsistent" });
  });

  it("takes a pH beyond its scale from the demand drops", () => {
    const sample = {
      ph: 8.6,
      totalAlkalinity: 90,
      calciumHardness: 300,
      cyanuricAcid: 40,
      freeChlorine: 2,
      borate: 0,
      temperature: 25,
      totalDissolvedSolids: 1000,
    };
    const demand = demandByModel(sample, 7.4);
    const found = water({
      ph: made(8.2, { bound: "at-least", high: null }),
      acidDemand: made(demand, { low: demand - 0.02, high: demand + 0.02 }),
    });
    if (isNoPlan(found)) throw new Error(found.reason);
    expect(found.phByDemand).toBe(true);
    expect(found.water.ph).toBeCloseTo(8.6, 2);
    expect(found.spreads.ph.low).toBeLessThan(8.6);
    expect(found.spreads.ph.high).toBeGreaterThan(8.6);
  });

  it("makes a problem without tablets, and without replacing water where the fill is unknown", () => {
    const found = water({});
    if (isNoPlan(found)) throw new Error(found.reason);
    const problem = problemFor(found, {
      set: OUTDOOR_FIXED_BAND,
      surface: "plaster",
      litres: 40_000,
      kind: "pool",
      findings: findings({ freeChlorine: made(0.4) }, OUTDOOR_FIXED_BAND, "plaster"),
      products: WHOLE_SHELF,
      fill: null,
      mostReplaced: 0.5,
    });
    expect(problem.input.products.some((product) => product.product === "trichlor")).toBe(false);
    expect(problem.input.mostReplaced).toBe(0);
    expect(problem.setting.sanitiserFirst).toBe(true);
  });
});
