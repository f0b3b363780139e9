import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { checked } from "../check";
import type { Readings } from "../measure/quantity";
import { type Measurement, QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import { type RangeSet, rangeFor, rangesOf, setForBasin } from "../ranges/range-set";
import { rangeOverridesSchema, rangeSetSchema } from "../ranges/range-set.schema";
import { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND, PUBLIC_CODE_SET, RANGE_SETS } from "../ranges/sets";
import { findings, placeInRange, possibleFindings } from "./findings";

const WATER = { ph: 7.5, cyanuricAcid: 30, temperature: 25 };

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
  const judge = (readings: Readings) => findings(readings, OUTDOOR_FIXED_BAND, "vinyl", WATER);
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
        closesAt: 1,
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
    expect(findings({ calciumHardness: within(160) }, OUTDOOR_FIXED_BAND, "plaster", WATER)).toMatchObject([
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
    // What closes is chlorine, whatever holds it; under it no acid would do.
    expect(at(30)?.closeBelow).toBe(2);
    expect(at(0)).toEqual({ low: 1, high: 4, aim: 2.5, closeBelow: 1, closeAbove: 10 });
    expect(at(30)?.heldBy).toBeUndefined();
  });
});

describe("what a reading can be", () => {
  const told = (quantity: Quantity, reading: Measurement, set: RangeSet) => ({
    found: findings({ [quantity]: reading }, set, "plaster", WATER),
    possible: possibleFindings({ [quantity]: reading }, set, "plaster", WATER),
  });

  it("closes at the end of a scale: pH ≥ 8.0, pH ≤ 7.0, FC ≥ 10", () => {
    const bounded = (value: number, bound: "at-least" | "at-most"): Measurement => ({
      value,
      unit: "pH",
      low: bound === "at-least" ? value : null,
      high: bound === "at-least" ? null : value,
      bound,
    });
    const closed = (quantity: Quantity, reading: Measurement) =>
      told(quantity, reading, PUBLIC_CODE_SET).found.map(({ code, closes }) => [code, closes]);
    expect(closed("ph", bounded(8, "at-least"))).toEqual([["ph.high", true]]);
    expect(closed("ph", bounded(7, "at-most"))).toEqual([["ph.low", true]]);
    expect(closed("freeChlorine", bounded(10, "at-least"))).toEqual([["freeChlorine.high", true]]);
    // Under that end it may be so, and is told.
    const seven8 = told("ph", bounded(7.8, "at-least"), PUBLIC_CODE_SET);
    expect(seven8.found).toMatchObject([{ code: "ph.high", closes: false, mayClose: true }]);
    expect(closed("freeChlorine", bounded(2, "at-most"))).toEqual([["freeChlorine.low", true]]);
  });

  it("tells a drop that reaches over the edge, and doses nothing for it", () => {
    const ten = { value: 80, unit: "mg/L", low: 70, high: 80, bound: "within" } as const;
    const { found, possible } = told("totalAlkalinity", ten, OUTDOOR_FIXED_BAND);
    expect(found).toEqual([]);
    expect(possible).toMatchObject([
      { code: "totalAlkalinity.low", possible: true, closes: false, limit: 80 },
    ]);
    expect(told("totalAlkalinity", { ...ten, low: 80 }, OUTDOOR_FIXED_BAND).possible).toEqual([]);
  });

  it("judges what a set holds beside the usual five, and a limit that only closes", () => {
    const set: RangeSet = {
      ...OUTDOOR_FIXED_BAND,
      ranges: { salt: { low: 2700, high: 3400 }, temperature: { closeAbove: 40 } },
      bySurface: {},
    };
    const at = (value: number, unit: "mg/L" | "°C"): Measurement => ({
      value,
      unit,
      low: value,
      high: value,
      bound: "within",
    });
    expect(told("salt", at(2400, "mg/L"), set).found).toMatchObject([{ code: "salt.low", limit: 2700 }]);
    expect(told("temperature", at(41, "°C"), set).found).toMatchObject([
      { code: "temperature.high", limit: 40, closes: true },
    ]);
  });

  it("is told for every set and limit where its bracket reaches beyond, and closes where it must", () => {
    const anyReading = fc.record({
      at: fc.double({ min: -1.5, max: 1.5, noNaN: true }),
      width: fc.double({ min: 0, max: 0.8, noNaN: true }),
      bound: fc.constantFrom("within" as const, "at-least" as const, "at-most" as const),
    });
    for (const set of Object.values(RANGE_SETS))
      for (const quantity of QUANTITY_NAMES) {
        const range = rangeFor(set, quantity, "plaster", WATER);
        if (!range) continue;
        for (const name of ["low", "high", "closeBelow", "closeAbove"] as const) {
          const limit = range[name];
          if (limit === undefined) continue;
          fc.assert(
            fc.property(anyReading, ({ at, width, bound }) => {
              const scale = Math.max(0.2, limit / 4);
              const value = Math.max(0, limit + at * scale);
              const reading: Measurement = {
                value,
                unit: "mg/L",
                low:
                  bound === "at-most"
                    ? null
                    : bound === "at-least"
                      ? value
                      : Math.max(0, value - width * scale),
                high: bound === "at-least" ? null : value,
                bound,
              };
              const { found, possible } = told(quantity, reading, set);
              const below = name === "low" || name === "closeBelow";
              const least = reading.low ?? Number.NEGATIVE_INFINITY;
              const most = reading.high ?? Number.POSITIVE_INFINITY;
              const side = `${quantity}.${below ? "low" : "high"}`;
              const said = [...found, ...possible].filter(({ code }) => code === side);
              if (below ? least < limit : most > limit) expect(said.length, `${set.id} ${side}`).toBe(1);
              const closing = name === "closeBelow" || name === "closeAbove";
              const must = below ? most < limit || (most === limit && bound === "at-most") : least > limit;
              if (closing && must)
                expect(
                  found.some(({ closes }) => closes),
                  `${set.id} ${side}`,
                ).toBe(true);
              // And nothing closes that need not.
              if (closing && (below ? most > limit : most <= limit))
                expect(found.some(({ code, closes }) => closes && code === side)).toBe(false);
            }),
            { numRuns: 40 },
          );
        }
      }
  });
});

describe("the order of findings", () => {
  const judge = (readings: Readings) =>
    findings(readings, PUBLIC_CODE_SET, "plaster", WATER).map(({ code }) => code);
  it("puts a pH over 8 first, then chlorine that closes, then the order of work", () => {
    const all = {
      totalAlkalinity: within(40),
      calciumHardness: within(50),
      cyanuricAcid: within(120),
      combinedChlorine: within(2),
      freeChlorine: within(0.2),
    };
    const rest = ["totalAlkalinity.low", "calciumHardness.low", "cyanuricAcid.high", "combinedChlorine.high"];
    expect(judge({ ...all, ph: within(8.3) })).toEqual(["ph.high", "freeChlorine.low", ...rest]);
    // 7.9 is high and no reason to keep chlorine waiting.
    expect(judge({ ...all, ph: within(7.9) })).toEqual([
      "freeChlorine.low",
      "totalAlkalinity.low",
      "ph.high",
      ...rest.slice(1),
    ]);
    expect(judge({ ...all, ph: within(8) })[0]).toBe("freeChlorine.low");
    expect(judge({ ...all, ph: { value: 8, unit: "pH", low: 8, high: null, bound: "at-least" } })[0]).toBe(
      "ph.high",
    );
    // Too much chlorine, or a low pH that closes, waits its turn.
    expect(judge({ totalAlkalinity: within(40), freeChlorine: within(12), ph: within(6.5) })).toEqual([
      "totalAlkalinity.low",
      "ph.low",
      "freeChlorine.high",
    ]);
  });
  it("does not put chlorine first that closes nothing", () => {
    const open = {
      ...OUTDOOR_FIXED_BAND,
      ranges: { ...OUTDOOR_FIXED_BAND.ranges, freeChlorine: { low: 2 } },
    };
    expect(
      findings({ totalAlkalinity: within(40), freeChlorine: within(1.2) }, open, "plaster", WATER).map(
        ({ code }) => code,
      ),
    ).toEqual(["totalAlkalinity.low", "freeChlorine.low"]);
  });
});

describe("a limit and what may be beyond it", () => {
  const set: RangeSet = {
    ...OUTDOOR_FIXED_BAND,
    ranges: { ph: { low: 7.2, high: 7.8, closeBelow: 7, closeAbove: 8 }, combinedChlorine: { high: 0.5 } },
    bySurface: {},
  };
  const at = (
    low: number | null,
    value: number,
    high: number | null,
    bound: Measurement["bound"] = "within",
  ) => {
    const reading: Measurement = { value, unit: "pH", low, high, bound };
    return {
      found: findings({ ph: reading }, set, "plaster", WATER),
      possible: possibleFindings({ ph: reading }, set, "plaster", WATER),
    };
  };
  it.each([
    // low, value, high → found, closes, may close, possible
    [7.3, 7.4, 7.5, [], []],
    [7.1, 7.2, 7.3, [], ["ph.low"]],
    [7.2, 7.3, 7.4, [], []],
    [7.7, 7.8, 7.9, [], ["ph.high"]],
    [7.6, 7.7, 7.8, [], []],
    [6.9, 7.4, 7.9, [], ["ph.low", "ph.high"]],
    [7.0, 7.1, 7.2, ["ph.low"], []],
    [7.8, 7.9, 8.0, ["ph.high"], []],
  ] as const)("%d %d %d", (low, value, high, found, possible) => {
    const told = at(low, value, high);
    expect(told.found.map(({ code }) => code)).toEqual(found);
    expect(told.possible.map(({ code }) => code)).toEqual(possible);
    expect(told.found.every(({ closes }) => !closes)).toBe(true);
  });
  it("may close where its bracket passes the closing limit, and says so once", () => {
    expect(at(7.8, 7.9, 8.1).found).toMatchObject([{ closes: false, mayClose: true }]);
    expect(at(7.8, 7.9, 8).found[0]).not.toHaveProperty("mayClose");
    expect(at(6.9, 7.1, 7.2).found).toMatchObject([{ closes: false, mayClose: true }]);
    expect(at(7, 7.1, 7.2).found[0]).not.toHaveProperty("mayClose");
    expect(at(8, 8.1, 8.2).found).toMatchObject([{ closes: true }]);
    expect(at(8, 8.1, 8.2).found[0]).not.toHaveProperty("mayClose");
    expect(at(6.9, 7.4, 7.9).possible).toMatchObject([
      { code: "ph.low", mayClose: true, possible: true },
      { code: "ph.high", limit: 7.8 },
    ]);
    expect(at(6.9, 7.4, 7.9).possible[1]).not.toHaveProperty("mayClose");
    expect(at(8, 8, 8).found).toMatchObject([{ code: "ph.high", closes: false }]);
    expect(at(7, 7, 7).found).toMatchObject([{ code: "ph.low", closes: false }]);
  });
  it("is not chased past the far end of a scale", () => {
    expect(at(7.6, 7.6, null, "at-least")).toMatchObject({
      found: [],
      possible: [{ code: "ph.high", mayClose: true }],
    });
    expect(at(null, 7.4, 7.4, "at-most")).toMatchObject({
      found: [],
      possible: [{ code: "ph.low", mayClose: true }],
    });
    expect(at(7.1, 7.1, null, "at-least")).toMatchObject({
      found: [],
      possible: [{ code: "ph.low" }, { code: "ph.high" }],
    });
    expect(at(null, 7.9, 7.9, "at-most")).toMatchObject({
      found: [],
      possible: [{ code: "ph.low" }, { code: "ph.high" }],
    });
    expect(at(null, 7, 7, "at-most").found).toMatchObject([{ closes: true }]);
    expect(at(null, 7.1, 7.1, "at-most").found).toMatchObject([{ closes: false, mayClose: true }]);
    expect(at(8, 8, null, "at-least").found).toMatchObject([{ closes: true }]);
    expect(at(7.9, 7.9, null, "at-least").found).toMatchObject([{ closes: false, mayClose: true }]);
  });
});

describe("limits of one basin", () => {
  const pool = { kind: "pool", indoors: false, sanitiser: "chlorine" } as const;
  it("go before its set's, on every surface, and none at all leave the set as it is", () => {
    const place = { kind: "pool", outdoors: true, sanitiser: "chlorine", cellSalt: null };
    expect(setForBasin(OUTDOOR_FIXED_BAND, pool, null)).toEqual({ ...OUTDOOR_FIXED_BAND, place });
    expect(setForBasin(OUTDOOR_FIXED_BAND, pool, {})).toEqual({ ...OUTDOOR_FIXED_BAND, place });
    const own = setForBasin(OUTDOOR_FIXED_BAND, pool, { calciumHardness: { low: 10 }, ph: { high: 7.6 } });
    expect(rangeFor(own, "calciumHardness", "plaster")).toEqual({ low: 10 });
    expect(rangeFor(own, "calciumHardness", "vinyl")).toEqual({ low: 10 });
    // What closes for everybody closes here.
    expect(rangeFor(own, "ph", "tile")).toEqual({ high: 7.6, closeBelow: 7, closeAbove: 8 });
    expect(rangeFor(own, "totalAlkalinity", "tile")).toEqual(OUTDOOR_FIXED_BAND.ranges.totalAlkalinity);
    expect(
      setForBasin({ ...OUTDOOR_FIXED_BAND, bySurface: undefined as never }, pool, { ph: { high: 7.6 } })
        .bySurface,
    ).toEqual({});
  });
  it("must not cross", () => {
    const crossed = (ph: object) => () => checked(rangeOverridesSchema, { ph });
    expect(crossed({ low: 7.2, high: 7.8, aim: 7.5, closeBelow: 7, closeAbove: 8 })).not.toThrow();
    expect(crossed({ low: 7.8, high: 7.2 })).toThrow("ph: inconsistent");
    expect(crossed({ low: 7.2, closeBelow: 7.3 })).toThrow("ph: inconsistent");
    expect(crossed({ high: 7.8, closeAbove: 7.6 })).toThrow("ph: inconsistent");
    expect(crossed({ aim: 7, low: 7.2 })).toThrow("ph: inconsistent");
    expect(crossed({ low: 7.2, high: 7.2 })).not.toThrow();
    expect(crossed({ low: 2 })).toThrow("ph.low: too-low");
  });
  it("are listed for a surface and a water, and told in the water that holds the chlorine", () => {
    const all = rangesOf(OUTDOOR_FIXED_BAND, "plaster", WATER);
    expect(Object.keys(all).sort()).toEqual(
      [
        "borate",
        "copper",
        "iron",
        "phosphate",
        "bromine",
        "calciumHardness",
        "combinedChlorine",
        "cyanuricAcid",
        "freeChlorine",
        "ph",
        "temperature",
        "totalAlkalinity",
      ].sort(),
    );
    // A pH that cannot be right holds the chlorine of 8.4, or of 6.8.
    const floor = (ph: number) =>
      rangeFor(HELD_BY_HOCL_SET, "freeChlorine", "plaster", { ...WATER, ph })?.low;
    expect(floor(9)).toBe(floor(8.4));
    expect(floor(6)).toBe(floor(6.8));
    expect(floor(8)).not.toBe(floor(8.4));
    expect(rangeFor(PUBLIC_CODE_SET, "freeChlorine", "tile", { ...WATER, cyanuricAcid: 0 })?.low).toBe(1);
    expect(rangeFor(PUBLIC_CODE_SET, "freeChlorine", "tile", { ...WATER, cyanuricAcid: 1 })?.low).toBe(2);
  });
});
