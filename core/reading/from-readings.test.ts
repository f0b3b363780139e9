import { describe, expect, it } from "vitest";
import { balanceOf } from "../judging/balance";
import type { Quantity } from "../measure/quantity";
import { rangeFor } from "../ranges/range-set";
import { HELD_BY_HOCL_SET } from "../ranges/sets";
import { titrate } from "../testing/titration";
import { saturation } from "../water/saturation";
import type { Place } from "../water/stand-ins";
import { demandByModel } from "./demand-model";
import { assumedIn, type DatedReading, isKnown, waterFromReadings } from "./from-readings";

const made = (value: number, change: Partial<DatedReading> = {}): DatedReading => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  kind: "titration",
  ...change,
});
const POOL: Place = { kind: "pool", outdoors: true };
const READ: Partial<Record<Quantity, DatedReading>> = {
  ph: made(7.5, { low: 7.4, high: 7.6, kind: "comparator" }),
  totalAlkalinity: made(100, { low: 90 }),
  calciumHardness: made(300, { low: 290 }),
};
const known = (
  change: Partial<Record<Quantity, DatedReading | undefined>> = {},
  place = POOL,
  target: number | null = null,
) => waterFromReadings({ ...READ, ...change } as typeof READ, place, target);

describe("a water from readings", () => {
  it("is what was read, and says what stands in for the rest", () => {
    const { water, standing } = known({ cyanuricAcid: made(50) });
    expect(water).toEqual({
      ph: 7.5,
      totalAlkalinity: 100,
      calciumHardness: 300,
      cyanuricAcid: 50,
      freeChlorine: 0,
      borate: 0,
      temperature: 25,
      totalDissolvedSolids: 1000,
    });
    expect(assumedIn({ standing })).toEqual(["freeChlorine", "temperature", "totalDissolvedSolids"]);
    expect([standing.ph, standing.cyanuricAcid]).toEqual(["read", "read"]);
  });

  it("holds the borate that was read, for half a year", () => {
    expect(known({ borate: made(50) }).water.borate).toBe(50);
    expect(known({ borate: made(50, { daysAgo: 170 }) }).water.borate).toBe(50);
    expect(known({ borate: made(50, { daysAgo: 200 }) }).water.borate).toBe(0);
    expect(known({ borate: made(15, { bound: "at-most", low: null }) }).water.borate).toBe(7.5);
  });

  it("takes twice the acid where borate holds the pH, as a mole balance on paper has it", () => {
    const at78 = {
      ph: made(7.8),
      cyanuricAcid: made(0),
      temperature: made(25),
      totalDissolvedSolids: made(1000),
    };
    const without = demandByModel(known(at78).water, 7.4);
    const held = demandByModel(known({ ...at78, borate: made(50) }).water, 7.4);
    // 50 mg/L of boron are 4.625 mmol/L. Boric acid: pK 9.24 at 25 °C, 9.19 at this ionic strength; of it is borate
    // 3.9 % at pH 7.8 and 1.6 % at 7.4. The difference takes 0.107 meq/L.
    const boron = 50 / 10.811;
    const share = (ph: number) => 1 / (1 + 10 ** (9.19 - ph));
    const byBorate = boron * (share(7.8) - share(7.4));
    expect(byBorate).toBeCloseTo(0.107, 2);
    // The carbonate that is left of the same alkalinity: 2.0 meq/L less 0.18 of borate.
    const left = (1.998 - boron * share(7.8)) / 1.998;
    expect(held).toBeCloseTo(byBorate + left * without, 2);
    expect(held / without).toBeGreaterThan(1.9);
  });

  it("takes stabiliser to be there where the sun shines, and none in a spa or a hall", () => {
    expect(known().water.cyanuricAcid).toBe(30);
    expect(known({}, { kind: "pool", outdoors: false }).water.cyanuricAcid).toBe(0);
    const spa = known({}, { kind: "spa", outdoors: true }).water;
    expect([spa.cyanuricAcid, spa.temperature]).toEqual([0, 37]);
    // The chlorine floor of judge and plan alike: 0.03 mg/L of HOCl over 30 mg/L of stabiliser, 2.2 on paper.
    expect(rangeFor(HELD_BY_HOCL_SET, "freeChlorine", "plaster", known().water)?.low).toBeCloseTo(2.2, 1);
  });

  it("knows a reading's age: carried, old, or of another day altogether", () => {
    const at = (daysAgo: number) =>
      known({
        ph: made(7.9, { daysAgo }),
        freeChlorine: made(2, { daysAgo }),
        totalAlkalinity: made(150, { daysAgo }),
        calciumHardness: made(450, { daysAgo }),
        cyanuricAcid: made(40, { daysAgo }),
      });
    const week = at(7);
    expect(week.standing).toMatchObject({
      ph: "assumed",
      freeChlorine: "assumed",
      totalAlkalinity: "carried",
      calciumHardness: "carried",
      cyanuricAcid: "carried",
    });
    expect([week.water.ph, week.water.freeChlorine]).toEqual([7.5, 0]);
    expect(isKnown(week, "totalAlkalinity")).toBe(true);
    const month = at(40);
    expect(month.standing).toMatchObject({
      totalAlkalinity: "old",
      calciumHardness: "old",
      cyanuricAcid: "old",
    });
    expect(month.water.calciumHardness).toBe(450);
    expect(isKnown(month, "calciumHardness")).toBe(false);
    expect(month.daysAgo.calciumHardness).toBe(40);
    expect(at(61).standing.totalAlkalinity).toBe("assumed");
    expect(at(400).standing.calciumHardness).toBe("old");
    expect(at(0.3).standing.ph).toBe("old");
  });

  it("stands in the end of a scale for what ran off it", () => {
    const under = known({ cyanuricAcid: made(30, { low: null, bound: "at-most" }) });
    expect([under.water.cyanuricAcid, under.standing.cyanuricAcid]).toEqual([15, "at-most"]);
    expect(under.spreads.cyanuricAcid).toEqual({ low: 0, high: 30, deviation: 0 });
    const over = known({ ph: made(8.2, { high: null, bound: "at-least" }) });
    expect([over.water.ph, over.standing.ph]).toEqual([8.2, "at-least"]);
    expect(known({ ph: made(7, { low: null, bound: "at-most" }) }).water.ph).toBe(7);
    expect(isKnown(over, "ph")).toBe(false);
  });

  it("takes a pH beyond its scale from the demand drops", () => {
    const sample = { ...known({ cyanuricAcid: made(40), freeChlorine: made(2) }).water, ph: 8.6 };
    const demand = demandByModel(sample, 7.4);
    const found = known(
      {
        cyanuricAcid: made(40),
        freeChlorine: made(2),
        ph: made(8.2, { bound: "at-least", high: null }),
        acidDemand: made(demand, { low: demand - 0.02, high: demand + 0.02 }),
      },
      POOL,
      7.4,
    );
    expect(found.phByDemand).toBe(true);
    expect(found.water.ph).toBeCloseTo(8.6, 2);
    expect(found.spreads.ph.low).toBeLessThan(8.6);
    expect(found.spreads.ph.high).toBeGreaterThan(8.6);
    expect(found.standing.ph).toBe("read");
  });

  it("has one value for a count, in the water and in the middle of its spread", () => {
    const seven = titrate(7, 10, "mg/L");
    const { water, spreads } = known({ totalAlkalinity: { ...seven, kind: "titration" } });
    const { low, high } = spreads.totalAlkalinity;
    expect((low + high) / 2).toBe(water.totalAlkalinity);
    expect(high - low).toBe(10);
    // A number out of a table has no bracket, and is as sure as a usual reading.
    const bare = known({ totalAlkalinity: made(90, { low: null, high: null }) });
    expect(bare.spreads.totalAlkalinity).toMatchObject({ low: 85, high: 95 });
    // What was never read is hardly known at all.
    expect(known({ calciumHardness: undefined }).spreads.calciumHardness).toEqual({
      low: 100,
      high: 400,
      deviation: 0,
    });
    expect(known().spreads.cyanuricAcid).toEqual({ low: 0, high: 60, deviation: 0 });
  });

  it("counts salt by its own test, and the solids with it where nobody read them", () => {
    expect(known({ salt: made(3200, { daysAgo: 20 }) }).water).toMatchObject({
      salt: 3200,
      totalDissolvedSolids: 3700,
    });
    const read = known({ salt: made(3200), totalDissolvedSolids: made(4100) }).water;
    expect([read.salt, read.totalDissolvedSolids]).toEqual([3200, 4100]);
    expect(known({ salt: made(6000, { high: null, bound: "at-least" }) }).water.salt).toBeUndefined();
  });

  it("gives no age to what is of this visit, and none to what was never read", () => {
    expect(known({ freeChlorine: made(2, { daysAgo: 0 }) }).daysAgo).toEqual({});
    expect(known({ cyanuricAcid: made(40, { daysAgo: 3 }) }).daysAgo).toEqual({ cyanuricAcid: 3 });
    // On the very day that its kind holds it is not old yet.
    expect(known({ totalAlkalinity: made(90, { daysAgo: 10 }) }).standing.totalAlkalinity).toBe("carried");
    expect(known({ totalAlkalinity: made(90, { daysAgo: 60 }) }).standing.totalAlkalinity).toBe("old");
    expect(known({ totalAlkalinity: made(90, { daysAgo: 60.1 }) }).water.totalAlkalinity).toBe(100);
  });

  it("takes drops for a pH off either end, and none for one on its scale or without a target", () => {
    const low = { ph: made(6.8, { bound: "at-most", low: null }), baseDemand: made(0.3, { low: 0.25 }) };
    const found = known(low, POOL, 7.4);
    expect(found.phByDemand).toBe(true);
    expect(found.water.ph).toBeLessThan(7);
    expect(found.spreads.ph.low).toBeLessThanOrEqual(found.water.ph);
    expect(found.spreads.ph.high).toBeGreaterThanOrEqual(found.water.ph);
    expect(known(low, POOL, null)).toMatchObject({ phByDemand: false, water: { ph: 6.8 } });
    expect(known({ acidDemand: made(0.3) }, POOL, 7.4)).toMatchObject({
      phByDemand: false,
      water: { ph: 7.5 },
    });
    const none = known({ ph: made(8.2, { bound: "at-least", high: null }) }, POOL, 7.4);
    expect(none).toMatchObject({ phByDemand: false, standing: { ph: "at-least" } });
    // More drops than any pH asks for say nothing.
    const absurd = known(
      { ph: made(8.2, { bound: "at-least", high: null }), acidDemand: made(40) },
      POOL,
      7.4,
    );
    expect(absurd.phByDemand).toBe(false);
    const first = known(
      { ph: made(8.2, { bound: "at-least", high: null }), acidDemand: made(0.05, { low: 0 }) },
      POOL,
      7.4,
    );
    expect(first.spreads.ph.low).toBeGreaterThan(7.3);
  });

  it("says when readings cannot belong to one water", () => {
    expect(known({ totalAlkalinity: made(10), cyanuricAcid: made(90) }).possible).toBe(false);
    expect(known().possible).toBe(true);
  });
});

describe("the balance of a water", () => {
  it("is its index, with an old hardness too", () => {
    const water = known({ calciumHardness: made(450, { daysAgo: 60 }) });
    expect(balanceOf(water)?.saturation).toEqual(saturation(water.water));
  });
  it("is none without its readings, off a scale, or when they do not fit together", () => {
    expect(balanceOf(known({ ph: undefined }))).toBeNull();
    expect(balanceOf(known({ calciumHardness: undefined }))).toBeNull();
    expect(balanceOf(known({ ph: made(7.5, { daysAgo: 3 }) }))).toBeNull();
    expect(balanceOf(known({ ph: made(8.2, { high: null, bound: "at-least" }) }))).toBeNull();
    expect(balanceOf(known({ cyanuricAcid: made(100, { high: null, bound: "at-least" }) }))).toBeNull();
    expect(balanceOf(known({ totalAlkalinity: made(10), cyanuricAcid: made(90) }))).toBeNull();
  });
});
