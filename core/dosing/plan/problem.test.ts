import { describe, expect, it } from "vitest";
import { findings } from "../../judging/findings";
import type { Quantity } from "../../measure/quantity";
import { OUTDOOR_FIXED_BAND, SPA_WARM_WATER } from "../../ranges/sets";
import { type DatedReading, waterFromReadings } from "../../reading/from-readings";
import { WHOLE_SHELF } from "./plan.fixtures";
import { problemFor, whyNoPlan } from "./problem";

const made = (value: number, change: Partial<DatedReading> = {}): DatedReading => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  kind: "titration",
  ...change,
});
const readings: Partial<Record<Quantity, DatedReading>> = {
  ph: made(7.6),
  totalAlkalinity: made(90),
  calciumHardness: made(300),
  cyanuricAcid: made(40),
  freeChlorine: made(2),
};
const water = (change: Partial<Record<Quantity, DatedReading | undefined>>) =>
  waterFromReadings({ ...readings, ...change } as typeof readings, { kind: "pool", outdoors: true }, 7.4);
const problem = (change: Partial<Record<Quantity, DatedReading | undefined>>, more: object = {}) =>
  problemFor(water(change), {
    set: OUTDOOR_FIXED_BAND,
    surface: "plaster",
    litres: 40_000,
    kind: "pool",
    outdoors: true,
    findings: findings({ freeChlorine: made(0.4) }, OUTDOOR_FIXED_BAND, "plaster", water({}).water),
    products: WHOLE_SHELF,
    fill: null,
    mostReplaced: 0.5,
    ...more,
  });
const over = { bound: "at-least", high: null } as const;

describe("why no plan can be made", () => {
  it.each([
    ["no pH", { ph: undefined }, { reason: "needs-reading", quantity: "ph" }],
    ["a pH of another day", { ph: made(7.6, { daysAgo: 2 }) }, { reason: "needs-reading", quantity: "ph" }],
    [
      "a pH of this morning",
      { ph: made(7.6, { daysAgo: 0.2 }) },
      { reason: "needs-reading", quantity: "ph" },
    ],
    [
      "no alkalinity",
      { totalAlkalinity: undefined },
      { reason: "needs-reading", quantity: "totalAlkalinity" },
    ],
    ["a pH off its scale", { ph: made(8.2, over) }, { reason: "off-scale", quantity: "ph" }],
    [
      "chlorine off its scale",
      { freeChlorine: made(10, over) },
      { reason: "off-scale", quantity: "freeChlorine" },
    ],
    ["what does not fit", { totalAlkalinity: made(5), cyanuricAcid: made(100) }, { reason: "inconsistent" }],
    ["hardness off its scale", { calciumHardness: made(800, over) }, null],
    ["nothing", {}, null],
  ])("%s", (_, change, why) => {
    expect(whyNoPlan(water(change))).toEqual(why);
  });
});

describe("the problem that a planner is given", () => {
  it("replaces no water where the fill is unknown, and knows what closes the basin", () => {
    expect(problem({}).input.mostReplaced).toBe(0);
    expect(problem({}).setting.sanitiserFirst).toBe(true);
    expect(problem({}, { fill: { totalAlkalinity: 60, calciumHardness: 80 } }).input).toMatchObject({
      mostReplaced: 0.5,
      fill: { totalAlkalinity: 60, calciumHardness: 80, temperature: 25 },
    });
  });

  it("steers what was read and is out, holds what was read and is in, and leaves the rest alone", () => {
    const { goals } = problem({
      ph: made(7.9),
      calciumHardness: undefined,
      cyanuricAcid: made(20, { daysAgo: 90 }),
      freeChlorine: made(2, { daysAgo: 60 }),
    }).input;
    expect(goals.ph).toMatchObject({ steer: true, low: 7.2, high: 7.8 });
    expect(goals.totalAlkalinity).toMatchObject({ steer: false, known: true, low: 80, high: 120 });
    for (const name of ["calciumHardness", "cyanuricAcid", "freeChlorine"] as const)
      expect(goals[name], name).toMatchObject({ steer: false, known: false, low: null, high: null });
  });

  it("names what it leaves alone, with why and how old", () => {
    const { leftAlone } = problem({
      calciumHardness: undefined,
      cyanuricAcid: made(20, { daysAgo: 90 }),
      freeChlorine: undefined,
    });
    expect(leftAlone).toEqual([
      { quantity: "calciumHardness", standing: "assumed", value: 250, daysAgo: null },
      { quantity: "cyanuricAcid", standing: "old", value: 20, daysAgo: 90 },
      { quantity: "freeChlorine", standing: "assumed", value: 0, daysAgo: null },
    ]);
    expect(problem({}).leftAlone).toEqual([]);
  });

  it("asks for no stabiliser where there is no use for it", () => {
    const low = { cyanuricAcid: made(0) };
    expect(problem(low).input.goals.cyanuricAcid).toMatchObject({ low: 30, steer: true });
    for (const place of [{ outdoors: false }, { kind: "spa" }])
      expect(problem(low, place).input.goals.cyanuricAcid).toMatchObject({ low: null, steer: false });
    expect(problem(low, { set: SPA_WARM_WATER, kind: "spa" }).input.goals.cyanuricAcid).toMatchObject({
      aim: 0,
      steer: false,
    });
  });
});
