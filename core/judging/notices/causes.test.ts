import { describe, expect, it } from "vitest";
import type { RecentDose } from "../../doubts/context";
import type { Readings } from "../../measure/quantity";
import type { Finding } from "../findings";
import { type CauseInput, causes } from "./causes";

const found = (code: Finding["code"], value: number, limit: number): Finding => ({
  code,
  quantity: code.split(".")[0] as Finding["quantity"],
  value,
  bound: "within",
  limit,
  aim: null,
  closes: false,
  rangeSet: "set",
});
const read = (totalAlkalinity: number): Readings => ({
  totalAlkalinity: {
    value: totalAlkalinity,
    unit: "mg/L",
    low: totalAlkalinity,
    high: totalAlkalinity,
    bound: "within",
  },
});
const dose = (product: RecentDose["product"], grams: number, more: Partial<RecentDose> = {}): RecentDose => ({
  product,
  strength: 0.9,
  grams,
  litres: 40_000,
  hoursAgo: 48,
  ...more,
});
const told = (change: Partial<CauseInput>) =>
  causes({
    findings: [],
    readings: {},
    doses: [],
    fillHardness: null,
    sanitiser: "chlorine",
    kind: "pool",
    habits: null,
    ...change,
  });

describe("what the basin does by itself", () => {
  const figure = (value: number, half: number) => ({ value, low: value - half, high: value + half });
  it("stands beside its cause where its own log is sure that it climbs", () => {
    const habits = { phRise: figure(0.04, 0.01), calciumClimb: figure(9, 4), stabiliserClimb: figure(3, 5) };
    const own = told({
      findings: [found("calciumHardness.high", 450, 400), found("cyanuricAcid.high", 80, 50)],
      doses: [dose("trichlor", 9000)],
      fillHardness: 350,
      habits,
    });
    expect(own.find(({ code }) => code === "cause.calcium-from-fill")).toMatchObject({
      own: habits.calciumClimb,
    });
    expect(own.find(({ code }) => code === "cause.stabiliser-from-chlorine")).not.toHaveProperty("own");
  });
});

describe("stabiliser that came with the chlorine", () => {
  const over = [found("cyanuricAcid.high", 80, 50)];
  it("is summed by product, with the days since the first, and others' doses left out", () => {
    const doses = [
      dose("trichlor", 300, { hoursAgo: 240 }),
      dose("trichlor", 500),
      dose("dichlor", 700, { strength: 0.56, hoursAgo: 12 }),
      dose("sodium-bicarbonate", 5000, { strength: 0.99 }),
    ];
    // trichlor: 800 × 0.9 / 70.906 / 3 × 129 075 / 40 000 = 10.92; dichlor: 700 × 0.56 / 70.906 / 2 × 3.2269 = 8.92
    expect(told({ findings: over, doses })).toEqual([
      {
        code: "cause.stabiliser-from-chlorine",
        product: "trichlor",
        grams: 800,
        days: 10,
        brought: expect.closeTo(10.92, 1),
      },
      {
        code: "cause.stabiliser-from-chlorine",
        product: "dichlor",
        grams: 700,
        days: 0.5,
        brought: expect.closeTo(8.92, 1),
      },
    ]);
  });
  it("is named from 3 mg/L on, and only where stabiliser is over", () => {
    // 3 mg/L × 40 000 L / 129 075 × 3 × 70.906 / 0.9 = 219.7 g
    expect(told({ findings: over, doses: [dose("trichlor", 219)] })).toEqual([]);
    expect(told({ findings: over, doses: [dose("trichlor", 221)] })).toHaveLength(1);
    expect(told({ doses: [dose("trichlor", 2000)] })).toEqual([]);
    expect(told({ findings: [found("cyanuricAcid.low", 10, 30)], doses: [dose("trichlor", 2000)] })).toEqual(
      [],
    );
  });
});

describe("calcium", () => {
  const over = [found("calciumHardness.high", 450, 400)];
  it("may have come with calcium hypochlorite", () => {
    // 15 mg/L × 40 L… : 600 g of CaCO3, 5.995 mol × 2 × 70.906 / 0.65 = 1308 g
    const of = (grams: number) =>
      told({ findings: over, doses: [dose("calcium-hypochlorite", grams, { strength: 0.65 })] });
    expect(of(1290)).toEqual([]);
    expect(of(1330)).toEqual([
      { code: "cause.calcium-from-chlorine", grams: 1330, days: 2, brought: expect.closeTo(15.25, 1) },
    ]);
    expect(told({ doses: [dose("calcium-hypochlorite", 9000, { strength: 0.65 })] })).toEqual([]);
  });
  it("may be the fill water's, from four fifths of the limit on", () => {
    expect(told({ findings: over, fillHardness: 320 })).toEqual([
      { code: "cause.calcium-from-fill", fill: 320, value: 450 },
    ]);
    expect(told({ findings: over, fillHardness: 319 })).toEqual([]);
    expect(told({ fillHardness: 400 })).toEqual([]);
  });
});

describe("a pH that climbs", () => {
  const over = [found("ph.high", 8.1, 7.8)];
  it("is driven by jets in a spa and by a salt cell, where alkalinity is there to drive it", () => {
    expect(told({ findings: over, readings: read(80), kind: "spa" })).toEqual([
      { code: "cause.ph-from-aeration", sanitiser: "chlorine", totalAlkalinity: 80 },
    ]);
    expect(told({ findings: over, readings: read(100), sanitiser: "salt-cell" })).toEqual([
      { code: "cause.ph-from-aeration", sanitiser: "salt-cell", totalAlkalinity: 100 },
    ]);
    expect(told({ findings: over, readings: read(79), kind: "spa" })).toEqual([]);
    expect(told({ findings: over, readings: {}, kind: "spa" })).toEqual([]);
    expect(told({ findings: over, readings: read(150) })).toEqual([]);
    expect(told({ findings: [found("ph.low", 7, 7.2)], readings: read(150), kind: "spa" })).toEqual([]);
  });
});

describe("combined chlorine after persulfate", () => {
  const over = [found("combinedChlorine.high", 1, 0.5)];
  const persulfate = (hoursAgo: number) =>
    dose("potassium-monopersulfate", 500, { strength: 0.43, hoursAgo });
  it("is told for two days, by the newest dose, as the test itself tells it", () => {
    expect(
      told({
        findings: over,
        doses: [persulfate(40), persulfate(10), dose("trichlor", 50, { hoursAgo: 1 })],
      }),
    ).toEqual([{ code: "cause.combined-from-persulfate", hoursAgo: 10 }]);
    expect(told({ findings: over, doses: [persulfate(48)] })).toHaveLength(1);
    expect(told({ findings: over, doses: [persulfate(49)] })).toEqual([]);
    expect(told({ doses: [persulfate(1)] })).toEqual([]);
  });
});
