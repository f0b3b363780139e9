import { describe, expect, it } from "vitest";
import { bucketTest, surfaceOf, usesMuch, waterUse } from "./water-use";

const DAY = 86_400_000;
const read = (day: number, value: number, changed = false) => ({ at: day * DAY, value, changed });

describe("the fresh-water meter", () => {
  it("tells water a day between two readings of one meter", () => {
    expect(waterUse([read(0, 10), read(7, 12.1), read(9, 12.1)])).toEqual([
      { at: 7 * DAY, days: 7, perDay: expect.closeTo(0.3, 9) },
      { at: 9 * DAY, days: 2, perDay: 0 },
    ]);
    expect(waterUse([read(0, 10)])).toEqual([]);
    // A new meter begins anew.
    expect(waterUse([read(0, 900), read(7, 2, true), read(14, 4.1)])).toEqual([
      { at: 14 * DAY, days: 7, perDay: expect.closeTo(0.3, 9) },
    ]);
    expect(waterUse([read(3, 10), read(3, 12)])).toEqual([]);
  });
  it("says when that is more than air and bathers take", () => {
    // 8 mm of 1.4 m are 0.57 %; with 1 % splashed 630 L of 40 m³.
    expect(usesMuch(0.6, 40_000, "pool")).toBe(false);
    expect(usesMuch(0.7, 40_000, "pool")).toBe(true);
    expect(usesMuch(0.05, 1500, "spa")).toBe(false);
    expect(usesMuch(0.07, 1500, "spa")).toBe(true);
  });
});

describe("a bucket test", () => {
  it("takes off what the bucket lost, and makes litres of the rest", () => {
    expect(bucketTest({ basinFall: 11, bucketFall: 5, surface: 30 })).toEqual({
      more: 6,
      litres: 180,
      leaks: true,
    });
    expect(bucketTest({ basinFall: 7, bucketFall: 5, surface: 30 })).toMatchObject({
      leaks: false,
      litres: 60,
    });
    expect(bucketTest({ basinFall: 8, bucketFall: 5, surface: 30 }).leaks).toBe(true);
    // The bucket fell more: wind on a step, a misread line, and no leak.
    expect(bucketTest({ basinFall: 4, bucketFall: 6, surface: 30 })).toMatchObject({ more: -2, litres: 0 });
  });
  it("goes by a usual depth", () => {
    expect(surfaceOf(70_000, "pool")).toBeCloseTo(50, 9);
    expect(surfaceOf(1600, "spa")).toBeCloseTo(2, 9);
  });
});
