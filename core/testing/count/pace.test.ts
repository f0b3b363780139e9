import { describe, expect, it } from "vitest";
import type { TitrationMethod } from "../kit";
import { beatAfter, slowFrom, tonesFor } from "./pace";
import { adviseSample } from "./sample-size";

describe("the beat", () => {
  it("slows down before the expected end, and says so", () => {
    expect(slowFrom(24)).toBe(20);
    expect(slowFrom(9)).toBe(6);
    expect(slowFrom(2)).toBe(1);
    expect(beatAfter(19, 24, 1)).toEqual({ seconds: 1, slow: false });
    expect(beatAfter(20, 24, 1)).toEqual({ seconds: 2, slow: true });
    expect(beatAfter(20, 24, 1.5)).toEqual({ seconds: 3, slow: true });
    expect(beatAfter(400, null, 0.5)).toEqual({ seconds: 0.5, slow: false });
  });
  it("calls a number by tones", () => {
    expect(tonesFor(17)).toEqual(["ten", "five", "one", "one"]);
    expect(tonesFor(30)).toEqual(["ten", "ten", "ten"]);
    expect(tonesFor(4)).toHaveLength(4);
  });
});

describe("the sample size", () => {
  const alkalinity: Pick<TitrationMethod, "samples"> = {
    samples: [
      { millilitres: 25, factor: 10 },
      { millilitres: 10, factor: 25 },
    ],
  };
  const range = { low: 80, high: 120 };
  it.each([
    // 210 from the range 80–120: 90 to the edge, a quarter is 22.5; half of 25 is finer. 21 or 8 drops.
    [210, { millilitres: 10, because: "few-drops", expected: 8 }],
    // 100: 20 to the edge, a quarter is 5; half of 10 is not finer, so the finest within 25 drops.
    [100, { millilitres: 25, because: "finest-in-reach", expected: 10 }],
    // 150: 30 to the edge, a quarter is 7.5: half of 10 is finer, half of 25 is not.
    [150, { millilitres: 25, because: "fine-enough", expected: 15 }],
    // 300 takes 30 drops of the fine one.
    [300, { millilitres: 10, because: "few-drops", expected: 12 }],
    [null, { millilitres: 25, because: "no-last-reading", expected: null }],
  ])("for %s ppm last time", (last, advice) => {
    expect(adviseSample(alkalinity, last, range)).toEqual(advice);
  });
  it("takes the fewest drops when every size takes too many", () => {
    expect(adviseSample(alkalinity, 900, range)).toEqual({
      millilitres: 10,
      because: "fewest-drops",
      expected: 36,
    });
  });
  it("has no choice with one size", () => {
    expect(adviseSample({ samples: [{ millilitres: 10, factor: 200 }] }, 3000, undefined)).toMatchObject({
      because: "only-size",
      expected: 15,
    });
  });
});
