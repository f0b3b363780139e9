import { describe, expect, it } from "vitest";
import { litresFrom } from "../measure/units";
import { densityOf, effectPerGram, PRODUCTS, type Product, type ProductId } from "../products/products";
import type { Sample } from "../water/sample";
import { gramsForChange, gramsForPh } from "./single";

const product = (id: ProductId): Product => ({ product: id, strength: PRODUCTS[id].strength });

/**
 * Each dose worked on paper from moles, independent of the code: ppm × litres = mg of what is read,
 * then the share of it in the product. Two volumes each: a 38 000 L pool and a 400 gal spa.
 */
const POOL = 38_000;
const SPA = 400 * 3.785411784; // 1514.16 L

describe("a single dose against a mole balance on paper", () => {
  it.each([
    // 2 ppm Cl2 in 38 000 L = 76.0 g Cl2. 12.5 % trade: 125 g Cl2 in a litre of 1168 g → 0.608 L → 710.1 g.
    ["sodium-hypochlorite", "freeChlorine", 2, POOL, 710.1],
    ["sodium-hypochlorite", "freeChlorine", 2, SPA, 28.3],
    // 65 % available chlorine: 76.0 / 0.65
    ["calcium-hypochlorite", "freeChlorine", 2, POOL, 116.9],
    ["calcium-hypochlorite", "freeChlorine", 5, SPA, 11.65],
    // 56 %: 76.0 / 0.56
    ["dichlor", "freeChlorine", 2, POOL, 135.7],
    ["dichlor", "freeChlorine", 4, SPA, 10.82],
    // 90 %: 76.0 / 0.90
    ["trichlor", "freeChlorine", 2, POOL, 84.44],
    ["trichlor", "freeChlorine", 3, SPA, 5.047],
    // +10 ppm as CaCO3 = 10/50.04 = 0.19984 meq/L; × 38 000 L = 7.594 eq; × 84.007 g/eq / 0.99 = 644.4 g
    ["sodium-bicarbonate", "totalAlkalinity", 10, POOL, 644.4],
    ["sodium-bicarbonate", "totalAlkalinity", 30, SPA, 77.03],
    // soda ash holds 2 eq in 105.988 g: 7.594 eq × 52.994 / 0.99 = 406.5 g
    ["sodium-carbonate", "totalAlkalinity", 10, POOL, 406.5],
    ["sodium-carbonate", "totalAlkalinity", 30, SPA, 48.6],
    // −10 ppm = 7.594 eq of acid × 36.461 / 0.3145 = 880.4 g, which is 0.759 L of 1.16 kg/L
    ["hydrochloric-acid", "totalAlkalinity", -10, POOL, 880.4],
    ["hydrochloric-acid", "totalAlkalinity", -20, SPA, 70.16],
    // dry acid: 7.594 eq × 120.06 / 0.932 = 978.3 g
    ["sodium-bisulfate", "totalAlkalinity", -10, POOL, 978.3],
    ["sodium-bisulfate", "totalAlkalinity", -20, SPA, 77.97],
    // +50 ppm as CaCO3 = 0.49955 mmol/L × 38 000 = 18.983 mol × 110.98 / 0.77 = 2736 g
    ["calcium-chloride", "calciumHardness", 50, POOL, 2736],
    ["calcium-chloride", "calciumHardness", 50, SPA, 109.0],
    // +10 ppm is 10 mg/L of itself: 380 g / 0.99
    ["cyanuric-acid", "cyanuricAcid", 10, POOL, 383.8],
    ["cyanuric-acid", "cyanuricAcid", 10, SPA, 15.29],
  ] as const)("%s for %s by %d ppm in %d L is %d g", (id, reading, change, litres, grams) => {
    const found = gramsForChange(product(id), reading, change, litres);
    expect(Math.abs(found - grams) / grams).toBeLessThan(0.002);
  });

  it("is the same whether the volume came in gallons or litres", () => {
    const inGallons = gramsForChange(
      product("sodium-bicarbonate"),
      "totalAlkalinity",
      20,
      litresFrom(10_000, "us-gal"),
    );
    const inLitres = gramsForChange(product("sodium-bicarbonate"), "totalAlkalinity", 20, 37_854.11784);
    expect(inGallons).toBeCloseTo(inLitres, 6);
    // The trade's rule of thumb: 1.5 lb of bicarbonate raises 10 000 gal by about 10 ppm.
    expect(
      gramsForChange({ product: "sodium-bicarbonate", strength: 1 }, "totalAlkalinity", 10, 37_854) / 453.592,
    ).toBeCloseTo(1.4, 1);
  });

  it("refuses a product that does not move the reading that way", () => {
    expect(() => gramsForChange(product("sodium-bicarbonate"), "totalAlkalinity", -10, POOL)).toThrow(
      "product: inconsistent",
    );
    expect(() => gramsForChange(product("cyanuric-acid"), "freeChlorine", 2, POOL)).toThrow(
      "product: inconsistent",
    );
    expect(() =>
      gramsForChange({ product: "bleach" as ProductId, strength: 1 }, "freeChlorine", 2, POOL),
    ).toThrow("product: unknown");
    expect(() => gramsForChange({ product: "dichlor", strength: 3 }, "freeChlorine", 2, POOL)).toThrow(
      "strength: too-high",
    );
    expect(() => gramsForChange(product("dichlor"), "freeChlorine", 2, 0)).toThrow("litres: too-low");
  });
});

describe("a dose for pH", () => {
  const sample: Sample = {
    ph: 8,
    totalAlkalinity: 100,
    calciumHardness: 300,
    cyanuricAcid: 30,
    freeChlorine: 2,
    borate: 0,
    temperature: 26,
    totalDissolvedSolids: 1000,
  };

  it("takes 38 000 L from 8.0 to 7.4 with about 0.51 L of full-strength acid", () => {
    const grams = gramsForPh(product("hydrochloric-acid"), sample, 7.4, POOL);
    expect(Math.abs(grams / 1160 / 0.51 - 1)).toBeLessThan(0.02);
  });

  it("agrees with a carbonate balance on paper when nothing else buffers", () => {
    // Plain water at 25 °C: 3.0 mM Ca, 2.0 mM HCO3, 4.0 mM Cl to balance, and 616 of the 1000 mg/L as NaCl, 10.5 mM:
    // I = 0.0195, √I = 0.1396, Davies with A = 0.509:
    // log γ1 = −0.509 (0.1396/1.1396 − 0.0059) = −0.0594, log γ2 = 4 × that = −0.2375.
    // pK1 = 6.352 → 6.352 − 0.0594 = 6.2926; pK2 = 10.329 → 10.329 − 0.2375 + 0.0594 = 10.151
    // (on the activity of H+ and the concentrations of the rest).
    const plain = { ...sample, temperature: 25, cyanuricAcid: 0, freeChlorine: 0 };
    const k1 = 10 ** -6.2926;
    const k2 = 10 ** -10.151;
    const charge = (ph: number) => {
      const h = 10 ** -ph;
      return (k1 / h + (2 * k1 * k2) / h ** 2) / (1 + k1 / h + (k1 * k2) / h ** 2);
    };
    // Hydroxide less acid, γ1 = 10^-0.0594 = 0.8722: 10^-6 / 0.8722 at pH 8, a quarter of that at 7.4.
    const hydroxide = (ph: number) => (10 ** (ph - 14) - 10 ** -ph) / 0.8722;
    const dic = (100 / 50_040 - hydroxide(8)) / charge(8);
    const equivalents = 100 / 50_040 - (dic * charge(7.4) + hydroxide(7.4));
    const byHand = ((equivalents * 36.461) / 0.3145) * POOL;
    expect(gramsForPh(product("hydrochloric-acid"), plain, 7.4, POOL) / byHand).toBeCloseTo(1, 2);
  });

  it("refuses to raise pH with acid, or a target that no pool has", () => {
    expect(() => gramsForPh(product("hydrochloric-acid"), { ...sample, ph: 7 }, 7.4, POOL)).toThrow(
      "product: inconsistent",
    );
    expect(() => gramsForPh(product("hydrochloric-acid"), sample, 2, POOL)).toThrow("targetPh: too-low");
    expect(() => gramsForPh(product("trichlor"), sample, 7.4, POOL)).toThrow("product: inconsistent");
  });
});

describe("a product's strength", () => {
  it("is no more than its compound can hold: an assay is no available chlorine", () => {
    expect(() => effectPerGram({ product: "trichlor", strength: 0.99 })).toThrow("strength: too-high");
    expect(() => effectPerGram({ product: "dichlor", strength: 0.99 })).toThrow("strength: too-high");
    expect(() => effectPerGram({ product: "sodium-hypochlorite", strength: 0.5 })).toThrow(
      "strength: too-high",
    );
    // 3 × 70.906 / 232.41 = 0.915
    expect(effectPerGram({ product: "trichlor", strength: 0.9 }).chlorine).toBeCloseTo(0.9 / 70.906, 9);
  });
  it("makes a liquid heavier and leaves a powder as it is", () => {
    expect(densityOf({ product: "hydrochloric-acid", strength: 0.3145 })).toBe(1.16);
    expect(densityOf({ product: "hydrochloric-acid", strength: 0.157 })).toBeCloseTo(1.08, 3);
    expect(densityOf({ product: "sodium-hypochlorite", strength: 0.06 })).toBeCloseTo(1.094, 2);
    expect(densityOf({ product: "sodium-carbonate", strength: 0.5 })).toBe(1.05);
    expect(densityOf({ product: "trichlor", strength: 0.9 })).toBeNull();
  });
});
