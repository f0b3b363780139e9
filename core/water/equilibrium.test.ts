import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { conditionsAt } from "./constants";
import { readingsOf, solvePh } from "./equilibrium";
import { asRead } from "./molar";
import { carbonCharge, type Sample, totalsOf } from "./sample";

const ANCHOR: Sample = {
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 300,
  cyanuricAcid: 0,
  freeChlorine: 3,
  borate: 0,
  temperature: 25,
  totalDissolvedSolids: 1000,
};

const anySample = fc.record({
  ph: fc.double({ min: 6.8, max: 8.4, noNaN: true }),
  totalAlkalinity: fc.double({ min: 60, max: 300, noNaN: true }),
  calciumHardness: fc.double({ min: 0, max: 1000, noNaN: true }),
  cyanuricAcid: fc.double({ min: 0, max: 100, noNaN: true }),
  freeChlorine: fc.double({ min: 0, max: 20, noNaN: true }),
  borate: fc.double({ min: 0, max: 50, noNaN: true }),
  temperature: fc.double({ min: 0, max: 45, noNaN: true }),
  totalDissolvedSolids: fc.double({ min: 50, max: 40_000, noNaN: true }),
});

describe("published anchors, to their last digit", () => {
  it.each([
    [0, "1.45", "100.0"],
    [30, "0.042", "90.3"],
    [50, "0.024", "83.9"],
    [100, "0.0115", "67.8"],
  ])("CYA %d: HOCl %s mg/L, carbonate alkalinity %s", (cyanuricAcid, hocl, carbonate) => {
    const totals = totalsOf({ ...ANCHOR, cyanuricAcid });
    const conditions = conditionsAt(25, 1000);
    const { hypochlorous } = solvePh(conditions, totals, totals.alkalinity);
    const digits = hocl.split(".")[1]?.length ?? 0;
    expect(asRead.chlorine(hypochlorous).toFixed(digits)).toBe(hocl);
    expect(asRead.alkalinity(totals.inorganicCarbon * carbonCharge(conditions, 7.5)).toFixed(1)).toBe(
      carbonate,
    );
  });
});

describe("sample, totals and back", () => {
  it("gives the readings again, to 1e-9", () => {
    fc.assert(
      fc.property(anySample, (sample) => {
        const again = readingsOf(totalsOf(sample));
        for (const key of Object.keys(sample) as (keyof Sample)[])
          expect(Math.abs(again[key] - sample[key])).toBeLessThanOrEqual(1e-9 * Math.max(1, sample[key]));
      }),
      { numRuns: 500 },
    );
  });

  it("falls in pH with every drop of acid", () => {
    fc.assert(
      fc.property(anySample, fc.double({ min: 1e-6, max: 1e-3, noNaN: true }), (sample, acid) => {
        const totals = totalsOf(sample);
        const conditions = conditionsAt(sample.temperature, sample.totalDissolvedSolids);
        const before = solvePh(conditions, totals, totals.alkalinity).ph;
        expect(solvePh(conditions, totals, totals.alkalinity - acid).ph).toBeLessThan(before);
      }),
    );
  });

  it("refuses alkalinity that the cyanurate alone holds more of", () => {
    expect(() => totalsOf({ ...ANCHOR, totalAlkalinity: 20, cyanuricAcid: 100 })).toThrow(
      "totalAlkalinity: inconsistent",
    );
    expect(() => totalsOf({ ...ANCHOR, ph: 2 })).toThrow("ph: too-low");
    expect(() => totalsOf({ ...ANCHOR, temperature: 60 })).toThrow("temperature: too-high");
  });
});
