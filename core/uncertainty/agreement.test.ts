import { describe, expect, it } from "vitest";
import { methodById } from "../testing/kit";
import { INSTRUMENT_KIT } from "../testing/kits/instruments";
import { STRIP_KIT } from "../testing/kits/strip-kit";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import { dropsIn, leftIn, ofLastSeason, reagentsNeeded, reagentsUsed } from "../testing/reagents";
import { measure } from "../testing/result";
import { bestOf, intervalOf, overlap } from "./agreement";

const method = (id: string) => {
  const found = [TITRATION_KIT, STRIP_KIT, INSTRUMENT_KIT]
    .map((kit) => methodById(kit, id))
    .find((one) => one);
  if (!found) throw new Error(id);
  return found;
};

describe("two readings of one thing", () => {
  // 15 drops of 0.2: (2.8, 3.0], stretched by √(5² + 2²) = 5.39 %: 2.65 to 3.16
  const counted = {
    ...measure(method("free-chlorine-fas-dpd"), { kind: "drops", count: 15, sample: 25 }),
    kind: "titration" as const,
  };
  const pad = {
    ...measure(method("strip-free-chlorine"), { kind: "place", place: { from: 1, to: 3 } }),
    kind: "strip" as const,
  };
  const lab = {
    ...measure(method("lab-free-chlorine"), { kind: "number", value: 3.4 }),
    kind: "meter" as const,
  };

  it("agree when their intervals overlap", () => {
    expect(intervalOf(counted, "titration")).toEqual({
      low: expect.closeTo(2.649, 3),
      high: expect.closeTo(3.162, 3),
    });
    expect(overlap(intervalOf(counted, "titration"), intervalOf(pad, "strip"))).toBe(true);
    // 2 % of 3.4 is 0.068: 3.33 to 3.47
    expect(overlap(intervalOf(counted, "titration"), intervalOf(lab, "meter"))).toBe(false);
    const bound = intervalOf({ value: 3, unit: "mg/L", low: 3, high: null, bound: "at-least" }, "comparator");
    expect(overlap(bound, intervalOf(lab, "meter"))).toBe(true);
  });
  it("leave the narrower one to be used, the newer on a tie", () => {
    expect(bestOf([pad, counted])).toBe(1);
    expect(bestOf([lab, counted, pad])).toBe(0);
    expect(bestOf([counted, counted])).toBe(1);
    expect(bestOf([{ ...pad, high: null, bound: "at-least" }, pad])).toBe(1);
  });
  it("widen by the larger of the two stated accuracies", () => {
    const photometer = method("photometer-free-chlorine");
    expect(measure(photometer, { kind: "number", value: 1 })).toMatchObject({ low: 0.9, high: 1.1 });
    expect(measure(photometer, { kind: "number", value: 10 })).toMatchObject({ low: 9.6, high: 10.4 });
  });
});

describe("a strip's pad", () => {
  it("has a first band that is a colour of its own, and a last that is a bound", () => {
    const pad = method("strip-cyanuric-acid");
    expect(measure(pad, { kind: "place", place: { from: 0, to: 0 } })).toMatchObject({
      value: 0,
      low: 0,
      high: 15,
      bound: "within",
    });
    expect(measure(pad, { kind: "place", place: { from: 150, to: null } })).toMatchObject({
      bound: "at-least",
    });
  });
});

describe("what a test takes out of the bottles", () => {
  it("is its preparation for that sample, and every drop that fell", () => {
    expect(
      reagentsUsed(method("calcium-hardness"), { kind: "drops", count: 12, sample: 10, idle: 1 }),
    ).toEqual([
      { reagent: "calcium buffer", measure: "drops", amount: 10 },
      { reagent: "hardness indicator", measure: "drops", amount: 3 },
      { reagent: "hardness titrant", measure: "drops", amount: 13 },
    ]);
    expect(
      reagentsUsed(method("cyanuric-acid-tube"), {
        kind: "place",
        place: { from: 40, to: 40 },
        again: [{ from: 40, to: 40 }],
      }),
    ).toEqual([{ reagent: "melamine reagent", measure: "mL", amount: 7 }]);
    expect(reagentsUsed(method("lab-ph"), { kind: "number", value: 7.4 })).toEqual([]);
  });
  it("is needed for what the last reading makes expected", () => {
    expect(reagentsNeeded(method("total-alkalinity"), 25, 9).map(({ amount }) => amount)).toEqual([2, 5, 9]);
  });
  it("leaves the rest", () => {
    expect(leftIn({ measure: "drops", full: dropsIn(60, 24), used: 1000 })).toBe(440);
    expect(leftIn({ measure: "drops", full: 100, used: 130 })).toBe(0);
  });
  it("is of last season when it was opened before this one began", () => {
    expect(ofLastSeason("2026-03-31", "2026-11-24", "04-01")).toBe(true);
    expect(ofLastSeason("2026-04-01", "2026-11-24", "04-01")).toBe(false);
    expect(ofLastSeason("2025-05-01", "2026-02-10", "04-01")).toBe(false);
    expect(ofLastSeason(null, "2026-02-10", "04-01")).toBe(false);
  });
});
