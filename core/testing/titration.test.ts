import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { InputFault } from "../fault";
import { methodById } from "./kit";
import { TITRATION_KIT } from "./kits/titration-kit";
import { computedFactor, dropFactor, EQUIVALENT_WEIGHT, factorsAgree, titrate } from "./titration";

const titration = (id: string) => {
  const method = methodById(TITRATION_KIT, id);
  if (method?.kind !== "titration") throw new Error(id);
  return method;
};

describe("a count of drops", () => {
  // What one drop is worth, from the reference table of the trade: sample → ppm.
  it.each([
    ["free-chlorine-fas-dpd", 25, 23, 4.6, 4.4],
    ["free-chlorine-fas-dpd", 10, 7, 3.5, 3],
    ["combined-chlorine-fas-dpd", 25, 3, 0.6, 0.4],
    ["combined-chlorine-fas-dpd", 10, 1, 0.5, 0],
    ["total-alkalinity", 25, 9, 90, 80],
    ["total-alkalinity", 10, 4, 100, 75],
    ["calcium-hardness", 25, 31, 310, 300],
    ["calcium-hardness", 10, 12, 300, 275],
    ["salt", 10, 17, 3400, 3200],
  ])("%s, %d mL: %d drops read %d, and no less than %d", (id, sample, count, value, low) => {
    const measured = titrate(count, dropFactor(titration(id), sample), "mg/L");
    expect(measured).toEqual({ value, unit: "mg/L", low, high: value, bound: "within" });
  });

  it("reads the same in every sample size of a method when the sizes are in proportion", () => {
    for (const method of TITRATION_KIT.methods) {
      if (method.kind !== "titration") continue;
      const products = method.samples.map(({ millilitres, factor }) => millilitres * factor);
      for (const product of products) expect(product).toBeCloseTo(products[0] ?? Number.NaN, 9);
    }
  });

  it("brackets the truth that a drop-by-drop titration would have had", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 60, noNaN: true }),
        fc.constantFrom(0.2, 0.5, 10, 25),
        (drops, factor) => {
          const truth = drops * factor;
          // Drops go in until they make up the truth; the last one changes the colour.
          const counted = Math.ceil(truth / factor - 1e-12);
          const { low, high } = titrate(counted, factor, "mg/L");
          expect(low).toBeLessThan(truth * (1 + 1e-9) + 1e-12);
          expect(high).toBeGreaterThanOrEqual(truth * (1 - 1e-9));
        },
      ),
    );
  });

  it("reads nothing at no drops, and doubles with a diluted sample", () => {
    expect(titrate(0, 10, "mg/L")).toMatchObject({ value: 0, low: 0, high: 0 });
    expect(titrate(6, 10, "mg/L", 2)).toMatchObject({ value: 120, low: 100, high: 120 });
  });

  it.each([
    [-1, "too-low", 0],
    [1e9, "too-high", 500],
    [2.5, "not-a-whole-number", [0, 500]],
    [Number.NaN, "not-a-number", [0, 500]],
    ["7" as unknown as number, "not-a-number", [0, 500]],
  ])("refuses %s drops", (count, code, limit) => {
    const refused = catching(() => titrate(count, 10, "mg/L"));
    expect(refused).toMatchObject({ code, field: "count", value: count, limit });
  });

  it("refuses a sample that the kit does not offer, naming those it does", () => {
    expect(catching(() => dropFactor(titration("total-alkalinity"), 0))).toMatchObject({
      code: "unknown",
      field: "sample",
      limit: [25, 10],
    });
  });
});

describe("the factor of an own kit", () => {
  it("follows from the moles in a drop", () => {
    // 0.05 mL of 0.1 eq/L hold 0.005 meq. As CaCO3 (50.04 mg/meq) that is 0.2502 mg, in 25 mL 0.010008 mg/mL.
    const byHand = (0.1 * 0.05 * 50.04 * 1000) / 25;
    expect(
      computedFactor({
        normality: 0.1,
        dropVolume: 0.05,
        equivalentWeight: EQUIVALENT_WEIGHT.calciumCarbonate,
        sample: 25,
      }),
    ).toBe(10.008);
    expect(byHand).toBeCloseTo(10.008, 12);
    // Chlorine: 0.00282 eq/L, same drop, 25 mL: 0.2 ppm.
    expect(
      computedFactor({
        normality: 0.00282,
        dropVolume: 0.05,
        equivalentWeight: EQUIVALENT_WEIGHT.chlorine,
        sample: 25,
      }),
    ).toBeCloseTo(0.19994, 5);
  });

  it("halves when the sample doubles", () => {
    const kit = { normality: 0.05, dropVolume: 0.04, equivalentWeight: 50.04 };
    expect(computedFactor({ ...kit, sample: 10 })).toBeCloseTo(2 * computedFactor({ ...kit, sample: 20 }), 9);
  });

  it("is compared with a stated one at ten per cent", () => {
    expect(factorsAgree(10, 10.9)).toBe(true);
    expect(factorsAgree(10, 11.1)).toBe(false);
  });

  it("names what is missing or out of bounds", () => {
    const kit = { normality: 0.1, dropVolume: 0.05, equivalentWeight: 50.04, sample: 25 };
    expect(catching(() => computedFactor({ ...kit, sample: 0 }))).toMatchObject({
      field: "sample",
      code: "too-low",
      limit: 0.1,
    });
    expect(catching(() => computedFactor({ ...kit, normality: -1 }))).toMatchObject({
      field: "normality",
      code: "too-low",
    });
    expect(
      catching(() => computedFactor({ ...kit, dropVolume: undefined as unknown as number })),
    ).toMatchObject({ field: "dropVolume", code: "missing" });
  });
});

function catching(work: () => unknown): InputFault {
  try {
    work();
  } catch (fault) {
    if (fault instanceof InputFault) return fault;
    throw fault;
  }
  throw new Error("nothing was refused");
}
