import { describe, expect, it } from "vitest";
import { stockText, stockUnit } from "./stock";

const bleach = { product: "sodium-hypochlorite", density: 1.16 } as const;
const soda = { product: "sodium-bicarbonate", density: null } as const;

describe("a stock", () => {
  it("of a liquid is told by volume: ten liters of 1.16 g/mL are 11.6 kg, and 2.642 US gallons", () => {
    expect(stockText(bleach, 11_600, "metric")).toBe("10 L");
    expect(stockText(bleach, 11_600, "us")).toBe("2.64 gal");
    expect(stockUnit(bleach, "us").toGrams(1)).toBeCloseTo(3.785411784 * 1160, 6);
  });
  it("of a powder is told by weight, and so is a liquid whose density nobody knows", () => {
    expect(stockText(soda, 4536, "us")).toBe("10 lb");
    expect(stockText({ ...bleach, density: null }, 2500, "metric")).toBe("2.5 kg");
  });
  it("comes back as it was typed", () => {
    for (const product of [bleach, soda])
      for (const units of ["us", "metric"] as const) {
        const unit = stockUnit(product, units);
        expect(unit.fromGrams(unit.toGrams(7.3))).toBeCloseTo(7.3, 9);
      }
  });
});
