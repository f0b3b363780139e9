import { describe, expect, it } from "vitest";
import { findings } from "../judging/findings";
import type { Readings } from "../measure/quantity";
import { setForBasin } from "../ranges/range-set";
import { PUBLIC_CODE_SET, SALT_CELL_SET } from "../ranges/sets";
import { waterFromReadings } from "../reading/from-readings";
import { adviseEach } from "./advice";
import { brominePerGram, gramsForBromine, gramsForSalt } from "./by-own-rule";

const HYPOCHLORITE = { product: "sodium-hypochlorite", strength: 0.107 } as const;

describe("bromine out of an oxidiser", () => {
  it("is mole for mole: on paper", () => {
    // 1 g of 10.7 % is 0.107 g of Cl2, 0.107 / 70.906 = 1.5090 mmol, as Br2 1.5090 × 159.81 = 241.16 mg
    expect(brominePerGram(HYPOCHLORITE)).toBeCloseTo(0.24116, 4);
    // KHSO5 takes two electrons, as Cl2 does: 0.43 / 152.17 = 2.8258 mmol, 451.6 mg
    expect(brominePerGram({ product: "potassium-monopersulfate", strength: 0.43 })).toBeCloseTo(0.4516, 4);
    // A tablet brings HOBr and HOCl: 0.96 / 241.47 × 2 = 7.951 mmol, 1270.7 mg; the trade says 66 % + 66 %
    expect(brominePerGram({ product: "bromine-tablets", strength: 0.96 })).toBeCloseTo(1.2707, 3);
    // Granules are told by their available chlorine: 0.46 / 70.906 × 159.81
    expect(brominePerGram({ product: "bromine-granules", strength: 0.46 })).toBeCloseTo(1.0368, 3);
    // The bank alone makes none.
    expect(brominePerGram({ product: "sodium-bromide", strength: 0.99 })).toBe(0);
  });
  it("raises a spa of 1500 L by 2 mg/L with 12.4 g of liquid chlorine, and falls with a reducer", () => {
    expect(gramsForBromine(HYPOCHLORITE, 2, 1500)).toBeCloseTo((2 * 1500) / 1000 / 0.24116, 2);
    expect(gramsForBromine({ product: "sodium-thiosulfate", strength: 0.99 }, -2, 1500)).toBeGreaterThan(0);
    expect(() => gramsForBromine({ product: "sodium-bromide", strength: 0.99 }, 2, 1500)).toThrow("product");
    expect(() => gramsForBromine(HYPOCHLORITE, -2, 1500)).toThrow("product");
    expect(gramsForBromine(HYPOCHLORITE, 0, 1500)).toBe(0);
  });
  it("is advised where bromine is low in a bromine basin, whatever the set, and waited for where it is high", () => {
    const made = (bromine: number) => {
      const reading = { value: bromine, unit: "mg/L", low: bromine, high: bromine, bound: "within" } as const;
      const readings: Readings = { bromine: reading };
      const known = waterFromReadings({}, { kind: "spa", outdoors: false });
      const set = setForBasin(PUBLIC_CODE_SET, { kind: "spa", indoors: true, sanitiser: "bromine" }, null);
      return adviseEach({
        findings: findings(readings, set, "acrylic", known.water),
        readings,
        known,
        litres: 1500,
        products: [HYPOCHLORITE],
      });
    };
    const [dose] = made(0);
    // To the middle of the band: 5.5 mg/L.
    expect(dose).toMatchObject({ kind: "dose", aim: 5.5, finding: { code: "bromine.low", closes: true } });
    expect(dose?.kind === "dose" && dose.grams).toBeCloseTo((5.5 * 1.5) / 0.24116, 1);
    expect(made(5.5)).toEqual([]);
    expect(made(9)).toMatchObject([{ kind: "wait", finding: { code: "bromine.high", closes: true } }]);
  });
});

describe("salt for a cell", () => {
  const salt = (value: number) => {
    const reading = { value, unit: "mg/L", low: value, high: value, bound: "within" } as const;
    const set = setForBasin(SALT_CELL_SET, { kind: "pool", indoors: false, sanitiser: "salt-cell" }, null);
    const known = waterFromReadings({}, { kind: "pool", outdoors: true });
    return adviseEach({
      findings: findings({ salt: reading }, set, "plaster", known.water),
      readings: { salt: reading },
      known,
      litres: 40_000,
      products: [{ product: "sodium-chloride", strength: 0.99 }],
    });
  };
  it("of 1200 under the set for cells is low, and takes four bags", () => {
    // (3200 − 1200) mg/L × 40 m³ = 80 kg, of 99 %: 80.8 kg
    expect(salt(1200)).toMatchObject([
      { kind: "dose", grams: expect.closeTo(80_808, 0), finding: { code: "salt.low", closes: false } },
    ]);
    expect(gramsForSalt({ product: "sodium-chloride", strength: 0.99 }, 500, 40_000)).toBeCloseTo(20_202, 0);
    expect(() => gramsForSalt(HYPOCHLORITE, 500, 40_000)).toThrow("product");
  });
  it("is left alone inside the plate's range, and lowered by other water only", () => {
    expect(salt(3000)).toEqual([]);
    expect(salt(4500)).toMatchObject([{ kind: "replace-water", finding: { code: "salt.high" } }]);
  });
});
