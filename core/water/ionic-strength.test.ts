import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { conditionsAt } from "./constants";
import { ionicStrength, type Salts } from "./ionic-strength";
import { calciteIndex, pairedAt, pairedConditions } from "./pairs";
import { conditionsOf, totalsOf } from "./sample";
import { POOL_WATER } from "./water.fixtures";

const NOTHING: Salts = { calcium: 0, alkalinity: 0, sulfate: 0, salt: 0, totalDissolvedSolids: 0 };
const of = (part: Partial<Salts>) => ionicStrength({ ...NOTHING, ...part });

describe("the ionic strength of what is known", () => {
  it.each([
    ["pure salt: 1000 mg/L of NaCl are 17.1 mM", { totalDissolvedSolids: 1000 }, 0.01711],
    ["calcium chloride: 3 for each", { calcium: 0.001 }, 0.003],
    ["sodium bicarbonate: 1 for each", { alkalinity: 0.002 }, 0.002],
    ["sodium sulfate: 3 for each", { sulfate: 0.001 }, 0.003],
    // calcium bicarbonate: 2 mM of HCO3 balance 1 mM of Ca, ½ (4 + 2)
    ["calcium bicarbonate, nothing to balance", { calcium: 0.001, alkalinity: 0.002 }, 0.003],
    // gypsum balances itself: ½ (4 + 4)
    ["calcium sulfate", { calcium: 0.001, sulfate: 0.001 }, 0.004],
    // ½ (4 × 3 + 2 + 4) = 9 mM; 120 + 122 + 142 of 1000 mg/L are told, 616 are NaCl: 10.5 mM
    ["a usual pool", { calcium: 0.003, alkalinity: 0.002, totalDissolvedSolids: 1000 }, 0.01954],
  ])("%s", (_, part, strength) => {
    expect(of(part)).toBeCloseTo(strength, 5);
  });

  it("takes the salt test where it finds more than the solids tell, less the chloride of the calcium", () => {
    expect(of({ salt: 0.05, totalDissolvedSolids: 1000 })).toBeCloseTo(0.05, 9);
    expect(of({ salt: 0.001, totalDissolvedSolids: 1000 })).toBe(of({ totalDissolvedSolids: 1000 }));
    // 1 mM of calcium chloride: 2 mM of the chloride that the test finds are its own
    expect(of({ salt: 0.05, calcium: 0.001 })).toBeCloseTo(0.003 + 0.048, 9);
  });

  it("is never less than what is known, however few solids were read, and no acid water is negative", () => {
    expect(of({ calcium: 0.003, alkalinity: 0.002, totalDissolvedSolids: 10 })).toBeCloseTo(0.009, 9);
    expect(of({ alkalinity: -0.001 })).toBe(0);
  });

  it("rises with everything that is dissolved, but for what balances", () => {
    const some = fc.double({ min: 0, max: 0.02, noNaN: true });
    fc.assert(
      fc.property(some, some, fc.double({ min: 0, max: 20_000, noNaN: true }), (calcium, sulfate, solids) => {
        const here = of({ calcium, sulfate, totalDissolvedSolids: solids });
        expect(here).toBeGreaterThanOrEqual(0);
        expect(of({ calcium, sulfate, totalDissolvedSolids: solids + 500 })).toBeGreaterThanOrEqual(here);
        expect(here).toBeLessThan(2);
      }),
    );
  });

  it("settles with the alkalinity that is worked out at it", () => {
    const totals = totalsOf({ ...POOL_WATER, cyanuricAcid: 80, freeChlorine: 8 });
    expect(conditionsOf(totals).ionicStrength).toBe(ionicStrength(totals));
  });
});

describe("calcium's pairs", () => {
  const conditions = conditionsAt(25, 0.02);
  const h = 10 ** -7.5;
  const [calcium, alkalinity, sulfate] = [0.003, 0.002, 0.005];

  it("leave every total whole", () => {
    const free = pairedAt(conditions, calcium, alkalinity, sulfate, h);
    const { k2, calciumBicarbonate: kb, calciumCarbonate: kc, calciumSulfate: ks } = conditions;
    const bicarbonate = (free.carbonate * h) / k2;
    const freeSulfate = sulfate / (1 + ks * free.calcium);
    const inPairs = free.calcium * (kb * bicarbonate + kc * free.carbonate + ks * freeSulfate);
    expect(free.calcium + inPairs).toBeCloseTo(calcium, 12);
    expect(bicarbonate * (1 + kb * free.calcium) + 2 * free.carbonate * (1 + kc * free.calcium)).toBeCloseTo(
      alkalinity,
      12,
    );
    expect(free.strengthBound).toBeCloseTo(
      free.calcium * (4 * ks * freeSulfate + 4 * kc * free.carbonate + 2 * kb * bicarbonate),
      15,
    );
  });

  it("follow the literature at 25 °C: 1.106, 3.224 and 2.30, and with the temperature", () => {
    const log = (k: number, gamma: number) => Math.log10(k / gamma);
    const { gamma2 } = conditions;
    expect(log(conditions.calciumBicarbonate, gamma2)).toBeCloseTo(1.106, 2);
    expect(log(conditions.calciumCarbonate, gamma2 ** 2)).toBeCloseTo(3.224, 2);
    expect(log(conditions.calciumSulfate, gamma2 ** 2)).toBeCloseTo(2.3, 6);
    // 1.65 kcal/mol: 10^(1650 × 4.184 / (2.303 × 8.314) × (1/298.15 − 1/311.15)) = 1.123
    const warm = conditionsAt(38, 0.02);
    expect(warm.calciumSulfate / warm.gamma2 ** 2 / 10 ** 2.3).toBeCloseTo(1.123, 2);
  });

  it("take calcium from the index, sulfate most, and some of the strength", () => {
    const bare = { ...conditions, calciumBicarbonate: 0, calciumCarbonate: 0, calciumSulfate: 0 };
    const at = (of: typeof conditions, so4: number) => calciteIndex(of, calcium, alkalinity, so4, h);
    expect(at(bare, sulfate)).toBe(at(bare, 0));
    expect(at(conditions, 0)).toBeLessThan(at(bare, 0));
    expect(at(conditions, sulfate)).toBeLessThan(at(conditions, 0) - 0.1);
    const paired = pairedConditions(conditions, calcium, alkalinity, sulfate, h);
    expect(paired.ionicStrength).toBeLessThan(conditions.ionicStrength - 0.0015);
    expect(pairedConditions(conditions, 0, alkalinity, sulfate, h).ionicStrength).toBe(
      conditions.ionicStrength,
    );
    expect(calciteIndex(conditions, 0, alkalinity, 0, h)).toBe(Number.NEGATIVE_INFINITY);
  });

  it("boric acid weakens with cold and follows the salt", () => {
    const pK = (temperature: number) => {
      const { boric, gamma1 } = conditionsAt(temperature, 0.02);
      return -Math.log10(boric * gamma1);
    };
    // Manov, DeLollis and Acree 1944: 9.380 at 10 °C, 9.235 at 25, 9.149 at 38
    expect(pK(10)).toBeCloseTo(9.38, 2);
    expect(pK(25)).toBeCloseTo(9.235, 2);
    expect(pK(38)).toBeCloseTo(9.15, 1);
  });
});
