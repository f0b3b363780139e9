import { describe, expect, it } from "vitest";
import { findings } from "../judging/findings";
import type { Readings } from "../measure/quantity";
import { effectPerGram, PRODUCT_IDS, PRODUCTS } from "../products/products";
import { OUTDOOR_FIXED_BAND } from "../ranges/sets/outdoor-fixed-band";
import { waterFromReadings } from "../reading/from-readings";
import { readingsOf } from "../water/equilibrium";
import { totalsOf } from "../water/sample";
import { adviseEach } from "./advice";
import { portionsOf } from "./portions";

const SHELF = PRODUCT_IDS.map((product) => ({ product, strength: PRODUCTS[product].strength }));
const at = (value: number) => ({
  value,
  unit: "mg/L" as const,
  low: value,
  high: value,
  bound: "within" as const,
});
const readings = (values: Record<string, number>): Readings =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, at(value)]));
const RIGHT = {
  freeChlorine: 3,
  combinedChlorine: 0.2,
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 300,
  cyanuricAcid: 40,
  temperature: 26,
};
const knownFrom = (all: Readings) =>
  waterFromReadings(
    Object.fromEntries(Object.entries(all).map(([name, one]) => [name, { ...one, kind: "meter" as const }])),
    { kind: "pool", outdoors: true },
  );
const advise = (values: Partial<typeof RIGHT>, litres = 40_000, shelf = SHELF) => {
  const all = readings({ ...RIGHT, ...values });
  return adviseEach({
    findings: findings(all, OUTDOOR_FIXED_BAND, "plaster", knownFrom(all).water),
    readings: all,
    known: knownFrom(all),
    litres,
    products: shelf,
  });
};

describe("a dose for each finding", () => {
  it("is nothing when all is right", () => {
    expect(advise({})).toEqual([]);
  });

  it("comes first for chlorine under its floor, and for a pH over 8 before that", () => {
    expect(
      advise({ freeChlorine: 0.4, totalAlkalinity: 60, ph: 8.1 }).map(({ finding }) => finding.code),
    ).toEqual(["ph.high", "freeChlorine.low", "totalAlkalinity.low"]);
  });

  it("lowers alkalinity only as far as the pH allows, and says so", () => {
    const [first] = advise({ totalAlkalinity: 180 });
    expect(first).toMatchObject({ kind: "dose", limitedBy: "ph" });
    if (first?.kind !== "dose") throw new Error("no dose");
    // Put it in and look: the mixed pH must not pass the foot of the range.
    const totals = totalsOf({ ...RIGHT, totalAlkalinity: 180, borate: 0, totalDissolvedSolids: 1000 });
    const perGram = effectPerGram({ product: first.product, strength: first.strength });
    const after = readingsOf({
      ...totals,
      alkalinity: totals.alkalinity + (perGram.alkalinity * first.grams) / 40_000,
    });
    expect(after.ph).toBeGreaterThanOrEqual(7.2 - 1e-9);
    expect(after.ph).toBeLessThan(7.21);
    expect(advise({ totalAlkalinity: 180, ph: 7.2 })[0]).toMatchObject({
      kind: "none",
      reason: "aerate-first",
    });
  });

  it("does not give the same acid twice, nor acid to a low pH", () => {
    expect(
      advise({ totalAlkalinity: 150, ph: 8 }).map((one) => (one.kind === "none" ? one.reason : one.kind)),
    ).toEqual(["after-ph", "dose"]);
    expect(
      advise({ totalAlkalinity: 150, ph: 7 }).find((one) => one.finding.quantity === "totalAlkalinity"),
    ).toMatchObject({ kind: "none", reason: "acid-conflict" });
  });

  it("burns combined chlorine off at ten times as much, once", () => {
    const [low, shock] = advise({ freeChlorine: 0.5, combinedChlorine: 0.8 });
    expect(low).toMatchObject({ kind: "none", reason: "covered" });
    // (8.0 − 0.5) mg/L × 40 000 L = 300 g Cl2; at 125 g/L 2.4 L of 1168 g
    expect(shock).toMatchObject({ kind: "dose", aim: 8 });
    if (shock?.kind === "dose") expect(shock.grams).toBeCloseTo(2803, -1);
  });

  it("replaces water by the mixing rule, and not with water that is no better", () => {
    const over = readings({ ...RIGHT, calciumHardness: 600 });
    const found = findings(over, OUTDOOR_FIXED_BAND, "plaster", knownFrom(over).water);
    const input = {
      findings: found,
      readings: over,
      known: knownFrom(over),
      litres: 10_000,
      products: SHELF,
    };
    // (600 − 400) / (600 − 100) = 0.4
    expect(adviseEach({ ...input, fill: { calciumHardness: 100 } })[0]).toMatchObject({
      kind: "replace-water",
      fraction: 0.4,
      litres: 4000,
    });
    expect(adviseEach({ ...input, fill: { calciumHardness: 420 } })[0]).toMatchObject({
      reason: "fill-no-better",
    });
    expect(adviseEach(input)[0]).toMatchObject({ reason: "needs-reading" });
  });

  it("works out no amount from a bound, a missing reading or an empty shelf", () => {
    const bounded: Readings = {
      ...readings(RIGHT),
      cyanuricAcid: { value: 30, unit: "mg/L", low: null, high: 30, bound: "at-most" },
    };
    const found = findings(bounded, OUTDOOR_FIXED_BAND, "plaster", knownFrom(bounded).water);
    expect(found).toMatchObject([{ code: "cyanuricAcid.low", bound: "at-most" }]);
    expect(
      adviseEach({
        findings: found,
        readings: bounded,
        known: knownFrom(bounded),
        litres: 1000,
        products: SHELF,
      })[0],
    ).toMatchObject({ reason: "bounded" });
    const alone = readings({ ph: 8 });
    expect(
      adviseEach({
        findings: findings(alone, OUTDOOR_FIXED_BAND, "plaster", knownFrom(alone).water),
        readings: alone,
        known: knownFrom(alone),
        litres: 1000,
        products: SHELF,
      })[0],
    ).toMatchObject({ reason: "needs-reading" });
    expect(advise({ ph: 8 }, 1000, [])[0]).toMatchObject({ reason: "no-product" });
  });
});

describe("portions", () => {
  const acid = { product: "hydrochloric-acid", strength: 0.3145 } as const;
  it("hold acid to a litre of full strength in 40 m³ at a time", () => {
    expect(portionsOf(acid, 1160, 40_000)).toEqual({ count: 1, grams: 1160 });
    expect(portionsOf(acid, 1161, 40_000).count).toBe(2);
    expect(portionsOf(acid, 1160, 20_000)).toEqual({ count: 2, grams: 580 });
    // Half strength may be poured twice as much.
    expect(portionsOf({ ...acid, strength: 0.157 }, 2300, 40_000).count).toBe(1);
  });
  it("hold bicarbonate to 5 kg in 40 m³", () => {
    expect(portionsOf({ product: "sodium-bicarbonate", strength: 0.99 }, 12_000, 40_000)).toEqual({
      count: 3,
      grams: 4000,
    });
  });
});
