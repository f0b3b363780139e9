import { describe, expect, it } from "vitest";
import type { RangeSet } from "../../ranges/range-set";
import { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND } from "../../ranges/sets";
import { type DatedReading, waterFromReadings } from "../../reading/from-readings";
import { freeChlorineFor } from "../../water/chlorine";
import { POOL_WATER } from "../../water/water.fixtures";
import { balanceOf } from "../balance";
import { type BathingInput, bathingOf } from "../bathing";
import type { Finding } from "../findings";
import { noticesOf, USUAL_WINDOW } from ".";
import { chlorineAgainstStabiliser } from "./chlorine";
import { closing } from "./closing";
import { saturated } from "./saturated";

const found = (code: Finding["code"], closes: boolean): Finding => ({
  code,
  quantity: code.split(".")[0] as Finding["quantity"],
  value: 1,
  bound: "within",
  limit: 1,
  aim: null,
  closes,
  rangeSet: "set",
});

const NOTHING: BathingInput = {
  sanitiser: "chlorine",
  seen: { closing: [], urgent: [] },
  findings: [],
  possible: [],
  tested: { freeChlorine: 0, ph: 0 },
  closers: [],
  incidents: [],
  until: null,
};
const OPEN = bathingOf(NOTHING);

describe("a closed basin", () => {
  const ranges = {
    ph: { low: 7.2, high: 7.8 },
    freeChlorine: { low: 1 },
    combinedChlorine: { high: 0.5 },
    totalAlkalinity: { low: 80 },
  };
  it("opens again by chlorine and pH and whatever else closed it, each once", () => {
    expect(
      closing(
        bathingOf({
          ...NOTHING,
          findings: [
            found("combinedChlorine.high", true),
            found("ph.low", true),
            found("totalAlkalinity.low", false),
          ],
        }),
        "chlorine",
        ranges,
      ),
    ).toMatchObject([
      {
        code: "basin.closed",
        because: [{ finding: "combinedChlorine.high" }, { finding: "ph.low" }],
        reopens: [
          { quantity: "combinedChlorine", low: null, high: 0.5 },
          { quantity: "ph", low: 7.2, high: 7.8 },
          { quantity: "freeChlorine", low: 1, high: null },
        ],
      },
    ]);
  });
  it("is none while nothing closes it, and asks nothing that the set has no range for", () => {
    expect(closing(OPEN, "chlorine", ranges)).toEqual([]);
    expect(
      closing(bathingOf({ ...NOTHING, findings: [found("ph.low", true)] }), "chlorine", {}),
    ).toMatchObject([{ reopens: [] }]);
  });
});

describe("chlorine against stabiliser", () => {
  const at = (part: object, set: RangeSet = OUTDOOR_FIXED_BAND, salt = false) =>
    chlorineAgainstStabiliser({ ...POOL_WATER, ...part }, set, salt).map(({ code }) => code);
  const floor = (cyanuricAcid: number) => freeChlorineFor(0.03, { ...POOL_WATER, cyanuricAcid });

  it("is weak under the acid that another school holds, a little less with a salt cell", () => {
    expect(at({ cyanuricAcid: 40, freeChlorine: floor(40) - 0.01 })).toEqual(["chlorine.weak"]);
    expect(at({ cyanuricAcid: 40, freeChlorine: floor(40) + 0.01 })).toEqual([]);
    expect(at({ cyanuricAcid: 40, freeChlorine: floor(40) - 0.01 }, OUTDOOR_FIXED_BAND, true)).toEqual([]);
    const [weak] = chlorineAgainstStabiliser(
      { ...POOL_WATER, cyanuricAcid: 40, freeChlorine: 2 },
      OUTDOOR_FIXED_BAND,
      false,
    );
    expect(weak).toMatchObject({ floor: 0.03, freeChlorine: 2, needed: expect.closeTo(floor(40), 4) });
  });
  it("is wasted over 50 mg/L, whatever there is of it", () => {
    expect(at({ cyanuricAcid: 50, freeChlorine: 10 })).toEqual([]);
    expect(at({ cyanuricAcid: 51, freeChlorine: 10 })).toEqual(["chlorine.overstabilised"]);
  });
  it("is a finding already below its band, and no notice without stabiliser or under a set that holds the acid", () => {
    expect(at({ cyanuricAcid: 40, freeChlorine: 0.5 })).toEqual([]);
    expect(at({ cyanuricAcid: 40, freeChlorine: 1 })).toEqual(["chlorine.weak"]);
    expect(at({ cyanuricAcid: 0, freeChlorine: 0 })).toEqual([]);
    expect(at({ cyanuricAcid: 90, freeChlorine: 1 }, HELD_BY_HOCL_SET)).toEqual([]);
    // A set that says nothing of chlorine has no band to be below.
    const bare = { ...OUTDOOR_FIXED_BAND, ranges: {} };
    expect(at({ cyanuricAcid: 40, freeChlorine: 0.2 }, bare)).toEqual(["chlorine.weak"]);
  });
  it("is not told of readings that make no water", () => {
    expect(at({ cyanuricAcid: 200, totalAlkalinity: 10 })).toEqual([]);
  });
});

const made = (value: number): DatedReading => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  kind: "meter",
});
const readings = (hardness: number, ph = 7.5, stabiliser = 0) => ({
  ph: made(ph),
  totalAlkalinity: made(100),
  calciumHardness: made(hardness),
  cyanuricAcid: made(stabiliser),
  freeChlorine: made(3),
});
const balance = (hardness: number, ph = 7.5, stabiliser = 0) => {
  const one = balanceOf(
    waterFromReadings(readings(hardness, ph, stabiliser), { kind: "pool", outdoors: true }),
  );
  if (!one) throw new Error("no balance");
  return one;
};

describe("saturation", () => {
  const window = (low: number, high: number): RangeSet => ({
    ...OUTDOOR_FIXED_BAND,
    saturation: { low, high },
  });
  const at = (set: RangeSet, hardness = 300) => saturated(balance(hardness), set, 50_000);
  it("is told on the side where it lies, with the limit and the calcite", () => {
    // 0.109 for this water
    expect(at(window(-0.3, 0.3))).toEqual([]);
    expect(at(window(0.2, 0.5))).toMatchObject([{ code: "saturation.low", limit: 0.2 }]);
    expect(at(window(-0.3, 0.05))).toMatchObject([
      { code: "saturation.high", limit: 0.05, calcite: expect.closeTo(0.145, 2) },
    ]);
    const { corrected } = balance(300).saturation.full;
    expect(at(window(corrected, 0.5))).toEqual([]);
    expect(at(window(-0.5, corrected))).toEqual([]);
  });
  it("goes by the usual window where a set has none, and is none without calcium", () => {
    const { saturation: _, ...bare } = OUTDOOR_FIXED_BAND;
    expect(USUAL_WINDOW).toEqual({ low: -0.3, high: 0.3 });
    expect(at(bare)).toEqual([]);
    expect(saturated(balance(900), bare, 50_000)).toMatchObject([{ code: "saturation.high", limit: 0.3 }]);
    expect(at(bare, 0)).toEqual([]);
  });
  it("says when as titrated it would be judged otherwise", () => {
    const stabilised = balance(300, 7.5, 100);
    const { corrected, titrated } = stabilised.saturation.full;
    const set = window((corrected + titrated) / 2, 0.5);
    expect(saturated(stabilised, set, 50_000).map(({ code }) => code)).toEqual([
      "saturation.low",
      "saturation.correction-decides",
    ]);
  });
});

describe("all that is told of a visit", () => {
  const input = {
    findings: [],
    readings: readings(300),
    carried: [],
    balance: balance(300),
    bathing: OPEN,
    set: OUTDOOR_FIXED_BAND,
    ranges: {},
    litres: 40_000,
    demandTarget: 7.4,
    doses: [],
    fillHardness: null,
    sanitiser: "chlorine" as const,
    kind: "pool" as const,
    habits: null,
  };
  const codes = (change: object) => noticesOf({ ...input, ...change }).map(({ code }) => code);
  it("holds drops against the model where both are there", () => {
    const drops = { ...made(2), unit: "meq/L" as const, low: 1.9, high: 2 };
    expect(codes({ readings: { ...readings(300), acidDemand: drops } })).toEqual(["demand.disagrees"]);
    expect(codes({ readings: { ...readings(300), acidDemand: drops }, demandTarget: null })).toEqual([]);
    expect(codes({ readings: { ...readings(300), acidDemand: drops }, balance: null })).toEqual([]);
  });
  it("takes a carried alkalinity for the cause of a climbing pH", () => {
    const { totalAlkalinity: _, ...rest } = readings(300);
    const high = { findings: [found("ph.high", false)], readings: rest, kind: "spa" };
    expect(codes(high)).toEqual([]);
    expect(codes({ ...high, carried: [{ quantity: "totalAlkalinity", value: 120, daysAgo: 3 }] })).toEqual([
      "cause.ph-from-aeration",
      "reading.carried",
    ]);
  });
  it("lets weaker chlorine pass with a salt cell", () => {
    const weak = waterFromReadings(
      { ...readings(300, 7.5, 40), freeChlorine: made(2.4) },
      { kind: "pool", outdoors: true },
    );
    const of = { balance: balanceOf(weak) };
    expect(codes(of)).toContain("chlorine.weak");
    expect(codes({ ...of, sanitiser: "salt-cell" })).not.toContain("chlorine.weak");
  });
});
