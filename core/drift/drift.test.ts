import { millisecondsInDay } from "date-fns/constants";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { carbonDioxide, carbonDioxideAtRest } from "../products/effects";
import { readingsOf } from "../water/equilibrium";
import { asRead, molar } from "../water/molar";
import { type Sample, totalsOf } from "../water/sample";
import { POOL_WATER } from "../water/water.fixtures";
import { drift } from "./drift";
import { HABIT_NAMES, type Habits, usualHabits } from "./habits";
import { sunBetween } from "./sun";
import { type Surroundings, surroundingsOf } from "./surroundings";

const STILL = Object.fromEntries(HABIT_NAMES.map((name) => [name, 1e-12])) as Habits;
const HERE = { latitude: 40, longitude: 0 };
const DAY = Date.UTC(2026, 5, 1);
const onDay = (days: number) => DAY + days * millisecondsInDay;
const POOL = { kind: "pool", outdoors: true, feeder: "none" } as const;
const usual = Object.fromEntries(
  Object.entries(usualHabits({ ...POOL, feeder: "pump" })).map(([name, { median }]) => [name, median]),
) as Habits;
/** A water of 27 °C under a dark roof. */
const dark: Surroundings = { location: HERE, clearness: () => 0, temperature: () => 27 };
const clear: Surroundings = { ...dark, clearness: () => 1 };
const FILL = totalsOf({ ...POOL_WATER, totalAlkalinity: 80, calciumHardness: 120, freeChlorine: 0 });
const at = (change: Partial<Sample>) => totalsOf({ ...POOL_WATER, temperature: 27, ...change });

describe("the dark", () => {
  const leftOf = (freeChlorine: number, days: number) =>
    drift(at({ freeChlorine }), { ...STILL, darkDemand: 0.2 }, "none", FILL, dark, DAY, onDay(days));

  it("takes its rate of 3 mg/L, and a larger share of less", () => {
    // One step of six hours, on paper: 3 · e^(−0.2/4); and 0.3 · e^(−0.2/4 · (0.6 + 0.8/1.1)).
    expect(asRead.chlorine(leftOf(3, 0.25).chlorine)).toBeCloseTo(2.8537, 4);
    expect(asRead.chlorine(leftOf(0.3, 0.25).chlorine)).toBeCloseTo(0.28074, 5);
  });

  it("takes over days what comes out on paper, and an equivalent of alkalinity with each mole", () => {
    const start = at({ freeChlorine: 4 });
    const left = leftOf(4, 3);
    // x = C/3, dx/dt = −0.2·x·(0.6 + 0.8/(1 + x)): ln(x)/1.4 + ln(1.4 + 0.6·x)/1.05 falls by 0.6 from 0.956 at 4/3
    // to 0.356, where x is 0.7312.
    expect(Math.abs(asRead.chlorine(left.chlorine) - 2.194)).toBeLessThan(0.01);
    expect(left.alkalinity - start.alkalinity).toBeCloseTo(left.chlorine - start.chlorine, 12);
    expect([left.calcium, left.cyanurate, left.inorganicCarbon]).toEqual([
      expect.closeTo(start.calcium, 10),
      expect.closeTo(start.cyanurate, 10),
      expect.closeTo(start.inorganicCarbon, 10),
    ]);
  });

  it("takes twice as much ten degrees up", () => {
    const warm: Surroundings = { ...dark, temperature: () => 37 };
    const loss = (around: Surroundings) =>
      Math.log(drift(at({}), { ...STILL, darkDemand: 0.1 }, "none", FILL, around, DAY, onDay(0.25)).chlorine);
    const start = Math.log(at({}).chlorine);
    expect((start - loss(warm)) / (start - loss(dark))).toBeCloseTo(2, 6);
  });
});

describe("the sun", () => {
  it("stands as high as an almanac says", () => {
    // At 40° N in June a day's mean sine is about 0.36; nothing shines at night.
    expect(sunBetween(Date.UTC(2026, 5, 21), Date.UTC(2026, 5, 22), HERE)).toBeCloseTo(0.367, 2);
    expect(sunBetween(Date.UTC(2026, 5, 21, 0), Date.UTC(2026, 5, 21, 3), HERE)).toBe(0);
    const winter = sunBetween(Date.UTC(2026, 11, 21), Date.UTC(2026, 11, 22), HERE);
    expect(winter).toBeGreaterThan(0.1);
    expect(winter).toBeLessThan(0.17);
  });

  it("takes what is unbound at once, and what stabiliser holds over days", () => {
    const lost = (cyanuricAcid: number) => {
      const start = at({ cyanuricAcid });
      return (
        1 -
        drift(start, { ...usual, feeder: 0 }, "none", FILL, clear, DAY, onDay(1)).chlorine / start.chlorine
      );
    };
    expect(lost(0)).toBeGreaterThan(0.85);
    expect(lost(30)).toBeLessThan(0.45);
    expect(lost(60)).toBeLessThan(lost(30));
  });
});

describe("the air", () => {
  it("takes carbon dioxide down to what it holds, and the pH climbs; alkalinity stays", () => {
    const start = at({ ph: 7.4, freeChlorine: 0 });
    const rest = carbonDioxideAtRest(27);
    let before = readingsOf(start).ph;
    for (const days of [1, 5, 20, 200]) {
      const left = drift(start, { ...STILL, gasExchange: 0.5 }, "none", FILL, dark, DAY, onDay(days));
      const { ph } = readingsOf(left);
      expect(ph).toBeGreaterThan(before);
      expect(left.alkalinity).toBeCloseTo(start.alkalinity, 10);
      expect(carbonDioxide(left)).toBeGreaterThan(rest * 0.99);
      before = ph;
    }
    const long = drift(start, { ...STILL, gasExchange: 0.5 }, "none", FILL, dark, DAY, onDay(200));
    expect(carbonDioxide(long)).toBeLessThan(rest * 1.05);
  });
});

describe("water that goes and comes", () => {
  it("leaves its salts behind when it evaporates, and takes them along when it is lost", () => {
    const start = at({});
    const dry = drift(start, { ...STILL, evaporation: 0.004 }, "none", FILL, dark, DAY, onDay(10));
    // 300 + 10 · 0.004 · 120 = 304.8
    expect(asRead.calcium(dry.calcium)).toBeCloseTo(304.8, 3);
    const lost = drift(start, { ...STILL, splashOut: 0.01 }, "none", FILL, dark, DAY, onDay(10), 1);
    // 120 + 180 · e^(−0.1) = 282.87
    expect(asRead.calcium(lost.calcium)).toBeCloseTo(282.87, 1);
  });
});

describe("feeders", () => {
  const fed = (feeder: "tablets" | "saltCell" | "pump") => {
    const start = at({ freeChlorine: 2, cyanuricAcid: 30 });
    return { start, left: drift(start, { ...STILL, feeder: 2 }, feeder, FILL, dark, DAY, onDay(3)) };
  };
  it("bring chlorine, tablets a third of a mole of stabiliser with each, the others an equivalent of alkalinity", () => {
    const chlorine = molar.chlorine(6);
    for (const feeder of ["tablets", "saltCell", "pump"] as const) {
      const { start, left } = fed(feeder);
      expect(left.chlorine - start.chlorine).toBeCloseTo(chlorine, 9);
      expect(left.alkalinity - start.alkalinity).toBeCloseTo(feeder === "tablets" ? 0 : chlorine, 9);
    }
    const { start, left } = fed("tablets");
    // Less the thousandth a day that microbes take.
    expect((left.cyanurate - start.cyanurate) / chlorine).toBeCloseTo(1 / 3 - 0.0077, 1);
  });
});

describe("any water", () => {
  const water = fc.record({
    ph: fc.double({ min: 7, max: 8.2, noNaN: true }),
    totalAlkalinity: fc.double({ min: 50, max: 200, noNaN: true }),
    cyanuricAcid: fc.double({ min: 0, max: 90, noNaN: true }),
    freeChlorine: fc.double({ min: 0, max: 9, noNaN: true }),
  });

  it("drifts the same in steps of six hours as in steps of a quarter of one, within what anybody reads", () => {
    fc.assert(
      fc.property(water, fc.constantFrom("none", "tablets", "saltCell", "pump"), (sample, feeder) => {
        const start = at(sample);
        const of = (hours: number) =>
          readingsOf(drift(start, usual, feeder, FILL, clear, DAY, onDay(7), hours));
        const coarse = of(6);
        const fine = of(0.25);
        expect(Math.abs(coarse.freeChlorine - fine.freeChlorine)).toBeLessThan(0.06);
        expect(Math.abs(coarse.ph - fine.ph)).toBeLessThan(0.03);
        expect(Math.abs(coarse.totalAlkalinity - fine.totalAlkalinity)).toBeLessThan(0.3);
      }),
      { numRuns: 60 },
    );
  });

  it("drifts in two goes as in one", () => {
    fc.assert(
      fc.property(water, (sample) => {
        const start = at(sample);
        const once = drift(start, usual, "pump", FILL, clear, DAY, onDay(4));
        const half = drift(start, usual, "pump", FILL, clear, DAY, onDay(2));
        const twice = drift(half, usual, "pump", FILL, clear, onDay(2), onDay(4));
        expect(twice.chlorine / once.chlorine).toBeCloseTo(1, 2);
        expect(twice.alkalinity / once.alkalinity).toBeCloseTo(1, 4);
      }),
      { numRuns: 40 },
    );
  });
});

describe("surroundings", () => {
  const weather = [
    { day: "2026-06-01", air: 20, sun: 0.9 },
    { day: "2026-06-02", air: 24, sun: 0.2 },
  ];
  it("follow the readings of the water, and the air after the last of them", () => {
    const around = surroundingsOf(POOL, HERE, weather, [
      { at: DAY, value: 24 },
      { at: onDay(2), value: 26 },
    ]);
    expect(around.temperature(onDay(1))).toBeGreaterThan(24);
    expect(around.temperature(onDay(1))).toBeLessThan(26.5);
    expect([around.clearness(DAY), around.clearness(onDay(1)), around.clearness(onDay(40))]).toEqual([
      0.9, 0.2, 0.55,
    ]);
  });
  it("of a spa nobody measured are warm, of a pool as the air", () => {
    const spa = surroundingsOf({ ...POOL, kind: "spa" }, HERE, weather, []);
    const pool = surroundingsOf(POOL, HERE, weather, []);
    expect(spa.temperature(DAY)).toBe(38);
    expect(pool.temperature(DAY)).toBeGreaterThan(20);
    expect(pool.temperature(DAY)).toBeLessThan(27);
  });
});
