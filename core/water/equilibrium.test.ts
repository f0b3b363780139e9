import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { chargeAt } from "./charge";
import { conditionsAt } from "./constants";
import { readingsOf, solveBracketed, solvePh } from "./equilibrium";
import { asRead } from "./molar";
import { carbonCharge, conditionsOf, totalsOf } from "./sample";
import { speciate } from "./speciation";
import { anyWater, POOL_WATER } from "./water.fixtures";

describe("published anchors", () => {
  // Worked with an ionic strength of 0.025 for 1000 mg/L; the 0.0195 of what is known shifts HOCl by half a per cent.
  it.each([
    [0, 1.45, 100.0],
    [30, 0.042, 90.3],
    [50, 0.024, 83.9],
    [100, 0.0115, 67.8],
  ])("CYA %d: HOCl %d mg/L, carbonate alkalinity %d", (cyanuricAcid, hocl, carbonate) => {
    const totals = totalsOf({ ...POOL_WATER, cyanuricAcid });
    const conditions = conditionsOf(totals);
    const { hypochlorous } = solvePh(conditions, totals, totals.alkalinity);
    expect(Math.abs(asRead.chlorine(hypochlorous) / hocl - 1)).toBeLessThan(0.012);
    expect(
      Math.abs(asRead.alkalinity(totals.inorganicCarbon * carbonCharge(conditions, 7.5)) - carbonate),
    ).toBeLessThan(0.15);
  });
});

describe("sample, totals and back", () => {
  it("gives the readings again, to 1e-9", () => {
    fc.assert(
      fc.property(anyWater, (sample) => {
        const again = readingsOf(totalsOf(sample));
        for (const key of Object.keys(sample) as (keyof typeof sample)[]) {
          const [was = 0, is = 0] = [sample[key], again[key]];
          expect(Math.abs(is - was)).toBeLessThanOrEqual(1e-9 * Math.max(1, was));
        }
      }),
      { numRuns: 500 },
    );
  });

  it("gives salt and sulfate again where they were known, and refuses what no water holds of them", () => {
    const again = readingsOf(
      totalsOf({ ...POOL_WATER, salt: 3000, sulfate: 250, totalDissolvedSolids: 4000 }),
    );
    expect([again.salt, again.sulfate]).toEqual([expect.closeTo(3000, 6), expect.closeTo(250, 6)]);
    const plain = readingsOf(totalsOf(POOL_WATER));
    expect(plain).not.toHaveProperty("salt");
    expect(plain).not.toHaveProperty("sulfate");
    expect(() => totalsOf({ ...POOL_WATER, salt: -1 })).toThrow("salt: too-low");
    expect(() => totalsOf({ ...POOL_WATER, sulfate: 20_000 })).toThrow("sulfate: too-high");
  });

  it("falls in pH with every drop of acid", () => {
    fc.assert(
      fc.property(anyWater, fc.double({ min: 1e-6, max: 1e-3, noNaN: true }), (sample, acid) => {
        const totals = totalsOf(sample);
        const conditions = conditionsOf(totals);
        const before = solvePh(conditions, totals, totals.alkalinity).ph;
        expect(solvePh(conditions, totals, totals.alkalinity - acid).ph).toBeLessThan(before);
      }),
    );
  });

  it("refuses alkalinity that the cyanurate alone holds more of", () => {
    expect(() => totalsOf({ ...POOL_WATER, totalAlkalinity: 20, cyanuricAcid: 100 })).toThrow(
      "totalAlkalinity: inconsistent",
    );
    expect(() => totalsOf({ ...POOL_WATER, ph: 2 })).toThrow("ph: too-low");
    expect(() => totalsOf({ ...POOL_WATER, temperature: 60 })).toThrow("temperature: too-high");
  });
});

describe("the search for pH", () => {
  const anyTotals = fc.record({
    inorganicCarbon: fc.double({ min: 0, max: 0.02, noNaN: true }),
    cyanurate: fc.double({ min: 0, max: 0.008, noNaN: true }),
    borate: fc.double({ min: 0, max: 0.05, noNaN: true }),
    chlorine: fc.double({ min: 0, max: 0.003, noNaN: true }),
  });

  it("finds what the slow and certain way finds, over all that can be dissolved", () => {
    fc.assert(
      fc.property(
        anyTotals,
        fc.double({ min: 2, max: 12, noNaN: true }),
        fc.double({ min: 0, max: 45, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (pools, ph, temperature, strength) => {
          const conditions = conditionsAt(temperature, strength);
          const alkalinity = chargeAt(conditions, pools, 10 ** -ph).charge;
          const quick = solvePh(conditions, pools, alkalinity);
          const sure = solveBracketed(conditions, pools, alkalinity, 7);
          expect(Math.abs(quick.ph - ph)).toBeLessThan(1e-8);
          expect(Math.abs(sure.ph - ph)).toBeLessThan(1e-8);
          expect(Math.abs(quick.hypochlorous - sure.hypochlorous)).toBeLessThanOrEqual(
            1e-7 * sure.hypochlorous + 1e-20,
          );
        },
      ),
      { numRuns: 1000 },
    );
  });

  it("says so when no pH holds that alkalinity", () => {
    const conditions = conditionsAt(25, 0.02);
    const pools = { inorganicCarbon: 0.002, cyanurate: 0, borate: 0, chlorine: 0 };
    expect(() => solvePh(conditions, pools, -1)).toThrow("alkalinity: too-low");
    expect(() => solvePh(conditions, pools, 5)).toThrow("alkalinity: too-high");
  });
});

describe("the species", () => {
  it("add up to every total, and their charges to the alkalinity", () => {
    fc.assert(
      fc.property(anyWater, (sample) => {
        const totals = totalsOf(sample);
        const s = speciate(conditionsOf(totals), totals, sample.ph);
        const near = (found: number, wanted: number) =>
          expect(Math.abs(found - wanted)).toBeLessThanOrEqual(1e-11 * Math.max(Math.abs(wanted), 1e-6));
        near(s.carbonicAcid + s.bicarbonate + s.carbonate, totals.inorganicCarbon);
        near(s.boricAcid + s.borate, totals.borate);
        near(
          s.h3cy + s.h2cy + s.hcy + s.cy + s.h2clcy + s.hclcy + s.clcy + s.hcl2cy + s.cl2cy + s.cl3cy,
          totals.cyanurate,
        );
        near(
          s.hypochlorousAcid +
            s.hypochlorite +
            s.h2clcy +
            s.hclcy +
            s.clcy +
            2 * (s.hcl2cy + s.cl2cy) +
            3 * s.cl3cy,
          totals.chlorine,
        );
        near(
          s.bicarbonate +
            2 * s.carbonate +
            s.hydroxide -
            s.proton +
            s.borate +
            s.hypochlorite +
            s.h2cy +
            2 * s.hcy +
            3 * s.cy +
            s.hclcy +
            2 * s.clcy +
            s.cl2cy,
          totals.alkalinity,
        );
      }),
    );
  });

  it("stand to one another as the constants say", () => {
    const conditions = conditionsAt(25, 0.02);
    const s = speciate(conditions, totalsOf({ ...POOL_WATER, cyanuricAcid: 50 }), 7.5);
    const h = 10 ** -7.5;
    expect((h * s.hypochlorite) / s.hypochlorousAcid).toBeCloseTo(conditions.hypochlorous, 15);
    // HClCy− → H2Cy− + HOCl, pK 5.62 by way of the others (O'Brien, Morris and Butler 1974)
    expect(-Math.log10((s.h2cy * s.hypochlorousAcid) / s.hclcy)).toBeCloseTo(5.62, 6);
    // Cl2Cy− → HClCy− + HOCl, pK 4.51
    expect(-Math.log10((s.hclcy * s.hypochlorousAcid) / s.cl2cy)).toBeCloseTo(4.51, 6);
  });
});
