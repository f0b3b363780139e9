import { describe, expect, it } from "vitest";
import type { Readings } from "../../measure/quantity";
import { rangesOf } from "../../ranges/range-set";
import { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND, PUBLIC_CODE_SET } from "../../ranges/sets";
import { type DatedReading, waterFromReadings } from "../../reading/from-readings";
import { balanceOf } from "../balance";
import { bathingOf } from "../bathing";
import { findings } from "../findings";
import { type NoticeInput, noticesOf } from ".";

const made = (value: number, change: Partial<DatedReading> = {}): DatedReading => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  kind: "titration",
  ...change,
});

const known = (values: Record<string, DatedReading>) =>
  waterFromReadings(values, { kind: "pool", outdoors: true });

function told(values: Record<string, DatedReading>, change: Partial<NoticeInput> = {}) {
  const readings = values as Readings;
  const set = change.set ?? OUTDOOR_FIXED_BAND;
  const found = findings(readings, set, "plaster", known(values).water);
  return noticesOf({
    findings: found,
    readings,
    carried: [],
    balance: balanceOf(known(values)),
    bathing: bathingOf({
      sanitiser: "chlorine",
      seen: { closing: [], urgent: [] },
      findings: found,
      possible: [],
      tested: { freeChlorine: 0, ph: 0 },
      closers: [],
      incidents: [],
      until: null,
    }),
    set,
    ranges: rangesOf(set, "plaster"),
    litres: 40_000,
    demandTarget: 7.4,
    doses: [],
    fillHardness: null,
    sanitiser: "chlorine",
    kind: "pool",
    habits: null,
    ...change,
  });
}
const right = {
  ph: made(7.5),
  totalAlkalinity: made(100),
  calciumHardness: made(300),
  cyanuricAcid: made(30),
  freeChlorine: made(3),
};
const codes = (values: Record<string, DatedReading>, change: Partial<NoticeInput> = {}) =>
  told(values, change).map((notice) => notice.code);

describe("what readings say together", () => {
  it("is nothing when all is right", () => {
    expect(codes(right)).toEqual([]);
  });

  it("closes the basin with what reopens it, first of all", () => {
    const [first] = told({ ...right, freeChlorine: made(0.2), ph: made(8.4) });
    expect(first).toMatchObject({
      code: "basin.closed",
      because: [{ finding: "ph.high" }, { finding: "freeChlorine.low" }],
    });
    expect(first?.code === "basin.closed" && first.reopens).toEqual([
      { quantity: "ph", low: 7.2, high: 7.8 },
      { quantity: "freeChlorine", low: 1, high: 4 },
    ]);
  });

  it("knows chlorine that is in its band and yet weak", () => {
    // At pH 7.5 and 25 °C, CYA 100 leaves 0.0115 mg/L of 3 ppm as the acid that kills.
    const notices = told({ ...right, cyanuricAcid: made(100) });
    const weak = notices.find((notice) => notice.code === "chlorine.weak");
    expect(weak?.code === "chlorine.weak" && weak.hypochlorousAcid).toBeCloseTo(0.0115, 3);
    expect(notices.some((notice) => notice.code === "chlorine.overstabilised")).toBe(true);
    // A set that holds the acid says so in its own finding.
    expect(codes({ ...right, cyanuricAcid: made(100) }, { set: HELD_BY_HOCL_SET })).not.toContain(
      "chlorine.weak",
    );
    expect(
      findings(
        { ...right, cyanuricAcid: made(100) },
        HELD_BY_HOCL_SET,
        "plaster",
        known({ ...right, cyanuricAcid: made(100) }).water,
      ).map((one) => one.code),
    ).toContain("freeChlorine.low");
  });

  it("says when the correction for stabiliser decides the verdict", () => {
    // −0.3…+0.5: as titrated inside, corrected below it.
    const water = {
      ...right,
      ph: made(7.3),
      totalAlkalinity: made(80),
      calciumHardness: made(200),
      cyanuricAcid: made(100),
    };
    const notices = codes(water);
    expect(notices).toContain("saturation.low");
    const { saturation } = balanceOf(known(water)) ?? {};
    const apart = (saturation?.full.titrated ?? 0) >= -0.3 && (saturation?.full.corrected ?? 0) < -0.3;
    expect(notices.includes("saturation.correction-decides")).toBe(apart);
    expect(apart).toBe(false);
    expect(codes({ ...water, ph: made(7.45) })).toContain("saturation.correction-decides");
  });

  it("tells the calcite a scaling basin would drop", () => {
    const [notice] = told({
      ...right,
      ph: made(7.8),
      totalAlkalinity: made(120),
      calciumHardness: made(400),
      temperature: made(37, { unit: "°C" }),
    });
    expect(notice?.code).toBe("saturation.high");
    expect(notice?.code === "saturation.high" && notice.calcite).toBeGreaterThan(0.3);
  });

  it("finds probable causes in the log", () => {
    const dose = { strength: 0.9, litres: 40_000, hoursAgo: 24 * 20 };
    const tablets = { ...dose, product: "trichlor" as const, grams: 2000 };
    const notices = told({ ...right, cyanuricAcid: made(80) }, { doses: [tablets, tablets] });
    const cause = notices.find((notice) => notice.code === "cause.stabiliser-from-chlorine");
    // 4000 g × 0.9 / 70.906 / 3 mol of cyanurate, 129.075 g each, in 40 000 L
    const brought = ((4000 * 0.9) / 70.906 / 3 / 40_000) * 129.075 * 1000;
    expect(cause?.code === "cause.stabiliser-from-chlorine" && cause.brought).toBeCloseTo(brought, 1);
    expect(codes({ ...right, calciumHardness: made(450) }, { fillHardness: 380 })).toContain(
      "cause.calcium-from-fill",
    );
    expect(codes({ ...right, calciumHardness: made(450) }, { fillHardness: 60 })).not.toContain(
      "cause.calcium-from-fill",
    );
    expect(codes({ ...right, ph: made(8) }, { sanitiser: "salt-cell" })).toContain("cause.ph-from-aeration");
    expect(codes({ ...right, ph: made(8) })).not.toContain("cause.ph-from-aeration");
    const persulfate = {
      product: "potassium-monopersulfate" as const,
      strength: 0.43,
      litres: 40_000,
      grams: 500,
      hoursAgo: 10,
    };
    expect(codes({ ...right, combinedChlorine: made(1) }, { doses: [persulfate] })).toContain(
      "cause.combined-from-persulfate",
    );
    expect(
      codes({ ...right, combinedChlorine: made(1) }, { doses: [{ ...persulfate, hoursAgo: 60 }] }),
    ).not.toContain("cause.combined-from-persulfate");
  });

  it("names another basin's sanitiser, which says nothing here", () => {
    const both = { ...right, bromine: made(4) };
    expect(told(both).find(({ code }) => code === "reading.other-sanitiser")).toMatchObject({
      quantity: "bromine",
      value: 4,
    });
    expect(codes(both, { sanitiser: "bromine" })).toContain("reading.other-sanitiser");
    expect(codes(right)).not.toContain("reading.other-sanitiser");
  });

  it("marks what is a bound and what is carried", () => {
    const notices = told(
      { ...right, cyanuricAcid: made(30, { bound: "at-most", low: null }) },
      { carried: [{ quantity: "calciumHardness", value: 280, daysAgo: 20 }] },
    );
    expect(notices.map((notice) => notice.code)).toEqual(["reading.bounded", "reading.carried"]);
  });
});

describe("a public code", () => {
  it("asks for less chlorine where there is no stabiliser", () => {
    const low = (cyanuricAcid: number) =>
      rangesOf(PUBLIC_CODE_SET, "tile", { ph: 7.5, cyanuricAcid, temperature: 28 }).freeChlorine?.low;
    expect(low(0)).toBe(1);
    expect(low(30)).toBe(2);
  });
});
