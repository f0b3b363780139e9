import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { everydayAmount } from "./everyday";
import { basinLitres, celsiusFrom, gramsFrom, litresFrom, massIn, temperatureIn, volumeIn } from "./units";

describe("plain units", () => {
  it("convert by their legal definitions", () => {
    expect(litresFrom(1, "us-gal")).toBeCloseTo(3.785411784, 12);
    expect(litresFrom(1, "imp-gal")).toBeCloseTo(4.54609, 12);
    expect(litresFrom(1, "m3")).toBe(1000);
    expect(gramsFrom(1, "lb")).toBeCloseTo(453.59237, 12);
    expect(gramsFrom(16, "oz")).toBeCloseTo(453.59237, 9);
    expect(celsiusFrom(104, "F")).toBe(40);
    expect(temperatureIn(40, "F")).toBe(104);
  });
  it("come back from where they went", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 1e6, noNaN: true }),
        fc.constantFrom("L", "m3", "us-gal", "imp-gal"),
        (litres, unit) => {
          expect(litresFrom(volumeIn(litres, unit), unit) / litres).toBeCloseTo(1, 12);
        },
      ),
    );
    expect(massIn(gramsFrom(3.5, "kg"), "kg")).toBe(3.5);
  });
  it("refuse a volume that is no basin", () => {
    expect(() => basinLitres("litres", 0)).toThrow("litres: too-low");
    expect(() => basinLitres("litres", Number.NaN)).toThrow("litres: not-a-number");
    expect(() => basinLitres("litres", "")).toThrow("litres: missing");
  });
});

describe("an everyday amount", () => {
  const acid = { form: "liquid", density: 1.16 } as const;
  const powder = { form: "solid", density: 1 } as const;
  it.each([
    [acid, 591.6, "metric", [{ amount: 510, unit: "mL" }]],
    [acid, 21, "us", [{ amount: 3.75, unit: "tsp" }]],
    [acid, 2900, "metric", [{ amount: 2.5, unit: "L" }]],
    [acid, 591.6, "us", [{ amount: 17, unit: "fl-oz" }]],
    [
      acid,
      1372,
      "us",
      [
        { amount: 1, unit: "qt" },
        { amount: 8, unit: "fl-oz" },
      ],
    ],
    [
      powder,
      623.7,
      "us",
      [
        { amount: 1, unit: "lb" },
        { amount: 6, unit: "oz" },
      ],
    ],
    [powder, 907.2, "us", [{ amount: 2, unit: "lb" }]],
    [powder, 644, "metric", [{ amount: 640, unit: "g" }]],
    [powder, 3.1, "metric", [{ amount: 3.1, unit: "g" }]],
    // 0.07 oz: a tenth of an ounce would be 40 % more.
    [powder, 2, "us", [{ amount: 2, unit: "g" }]],
    [acid, 4.06, "us", [{ amount: 3.5, unit: "mL" }]],
    [powder, 100, "us", [{ amount: 3.5, unit: "oz" }]],
  ] as const)("%o %d g %s", (form, grams, system, parts) => {
    expect(everydayAmount(grams, form, system).parts).toEqual(parts);
  });

  it("keeps the exact grams and stays near them", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.7, max: 5.5, noNaN: true }).map((power) => 10 ** power),
        fc.constantFrom(acid, powder),
        fc.constantFrom("us" as const, "metric" as const),
        (grams, form, system) => {
          const amount = everydayAmount(grams, form, system);
          expect(amount.exactGrams).toBe(grams);
          expect(Math.abs(amount.roundedGrams - grams) / grams).toBeLessThanOrEqual(0.05 + 1e-9);
          if (grams > 500) expect(Math.abs(amount.roundedGrams - grams) / grams).toBeLessThan(0.035);
          expect(amount.parts.every((part) => part.amount > 0)).toBe(true);
        },
      ),
    );
  });

  it("marks cups for powders of known bulk density only", () => {
    expect(everydayAmount(473.2, powder, "us").cups).toBe(2);
    expect(everydayAmount(473.2, acid, "us").cups).toBeNull();
    expect(everydayAmount(200, { form: "solid", density: null }, "us").cups).toBeNull();
  });
});
