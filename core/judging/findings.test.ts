import { describe, expect, it } from "vitest";
import { checked } from "../check";
import { findings, placeInRange, type Readings } from "./findings";
import { rangeFor } from "./range-set";
import { rangeSetSchema } from "./range-set.schema";
import { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND, RANGE_SETS } from "./sets";

const within = (value: number) => ({
  value,
  unit: "mg/L" as const,
  low: value,
  high: value,
  bound: "within" as const,
});

describe("a reading against its range", () => {
  const range = { low: 7.2, high: 7.8 };
  it.each([
    [7.2, "within", "within"],
    [7.8, "within", "within"],
    [7.19, "within", "low"],
    [7.81, "within", "high"],
    // A bound breaks a limit only when it lies on or beyond it.
    [8.2, "at-least", "high"],
    [7.8, "at-least", "high"],
    [7.6, "at-least", "within"],
    [7.2, "at-most", "low"],
    [7.4, "at-most", "within"],
    [6.8, "at-least", "within"],
  ] as const)("%d (%s) is %s", (value, bound, place) => {
    expect(placeInRange({ value, bound }, range)).toBe(place);
  });
});

describe("findings", () => {
  const judge = (readings: Readings) => findings(readings, OUTDOOR_FIXED_BAND, "vinyl");
  it("carry their numbers, the set and whether the basin closes", () => {
    expect(judge({ freeChlorine: within(0.6) })).toEqual([
      {
        code: "freeChlorine.low",
        quantity: "freeChlorine",
        value: 0.6,
        bound: "within",
        limit: 1,
        aim: 3,
        closes: true,
        rangeSet: "outdoor-fixed-band",
      },
    ]);
    expect(judge({ freeChlorine: within(6) })).toMatchObject([{ code: "freeChlorine.high", closes: false }]);
    expect(judge({ freeChlorine: within(11) })).toMatchObject([{ code: "freeChlorine.high", closes: true }]);
    expect(judge({ ph: within(6.9) })).toMatchObject([{ code: "ph.low", closes: true }]);
    expect(judge({})).toEqual([]);
  });
  it("take the hardness range of the surface", () => {
    expect(rangeFor(OUTDOOR_FIXED_BAND, "calciumHardness", "plaster")).toMatchObject({ low: 200, high: 400 });
    expect(judge({ calciumHardness: within(160) })).toEqual([]);
    expect(findings({ calciumHardness: within(160) }, OUTDOOR_FIXED_BAND, "plaster")).toMatchObject([
      { limit: 200 },
    ]);
  });
});

describe("the sets that ship", () => {
  it.each(Object.values(RANGE_SETS))("$id holds to the schema and aims inside its bands", (set) => {
    expect(checked(rangeSetSchema, set)).toEqual(set);
    for (const { low = 0, high = Infinity, aim } of Object.values(set.ranges)) {
      expect(low).toBeLessThan(high);
      if (aim !== undefined) expect(aim).toBeGreaterThan(low);
      if (aim !== undefined) expect(aim).toBeLessThan(high);
    }
  });
});

describe("a range held by hypochlorous acid", () => {
  it("is told as the free chlorine that gives it in this water", () => {
    // The school's own figures at pH 7.5 and 27 °C: FC 2.2 and 3.5 with CYA 30, 3.7 and 5.8 with CYA 50.
    const at = (cyanuricAcid: number) =>
      rangeFor(HELD_BY_HOCL_SET, "freeChlorine", "plaster", { ph: 7.5, cyanuricAcid, temperature: 27 });
    // Told to two figures: within 2 %.
    for (const [found, told] of [
      [at(30)?.low, 2.2],
      [at(30)?.aim, 3.5],
      [at(50)?.low, 3.7],
      [at(50)?.aim, 5.8],
    ] as const)
      expect(Math.abs((found ?? Number.NaN) / told - 1)).toBeLessThan(0.02);
    expect(at(30)?.closeBelow).toBe(at(30)?.low);
    expect(at(30)?.heldBy).toBeUndefined();
  });
});
