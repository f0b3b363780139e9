import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  bromineFromChlorine,
  chlorineShares,
  clearCombined,
  freeChlorineFor,
  unstabilisedEquivalent,
} from "./chlorine";
import { readingsOf } from "./equilibrium";
import { fullWorking, WATERS } from "./full-working.fixtures";
import { totalsOf } from "./sample";
import {
  calciteKilograms,
  calcitePotential,
  carbonateAlkalinity,
  factorSum,
  hardnessAtSaturation,
  phAtSaturation,
  saturation,
  saturationOf,
} from "./saturation";
import { anyWater, POOL_WATER } from "./water.fixtures";

describe("the saturation index", () => {
  // The published values were worked without ion pairs (which take some 0.02) and with an ionic strength of
  // 0.025 for 1000 mg/L (0.0195 for sodium chloride and what the readings hold, worth 0.03).
  it.each([
    [0, 0.097],
    [30, 0.053],
    [50, 0.021],
    [100, -0.072],
  ])("at CYA %d lies beside the published %d", (cyanuricAcid, index) => {
    expect(Math.abs(saturation({ ...POOL_WATER, cyanuricAcid }).full.corrected - index)).toBeLessThan(0.016);
  });

  it.each(WATERS)("agrees with a full working of every ion and pair: %o", (water) => {
    const sample = { ...POOL_WATER, freeChlorine: 0, ...water };
    expect(Math.abs(saturation(sample).full.corrected - fullWorking(sample))).toBeLessThan(0.02);
  });

  it("falls with sulfate, which keeps calcium to itself, and knows salt by its own test", () => {
    const at = (part: object) =>
      saturation({ ...POOL_WATER, totalDissolvedSolids: 2500, ...part }).full.corrected;
    expect(at({ sulfate: 600 })).toBeLessThan(at({}) - 0.05);
    expect(at({ sulfate: 0 })).toBe(at({}));
    // Salt over what the solids would tell counts; under it they do.
    expect(at({ salt: 4000 })).toBeLessThan(at({}) - 0.05);
    expect(at({ salt: 500 })).toBe(at({}));
  });

  it("as titrated takes cyanurate for carbonate", () => {
    const stabilised = saturation({ ...POOL_WATER, cyanuricAcid: 80 });
    const plain = saturation(POOL_WATER);
    expect(stabilised.full.titrated).toBeCloseTo(plain.full.titrated, 3);
    expect(stabilised.full.corrected).toBeLessThan(plain.full.corrected - 0.1);
  });

  it("is the same for a water known by its totals", () => {
    fc.assert(
      fc.property(
        anyWater.filter((water) => water.calciumHardness > 1),
        (water) => {
          expect(saturationOf(totalsOf(water))).toBeCloseTo(saturation(water).full.corrected, 7);
        },
      ),
    );
  });
});

describe("the factor sum", () => {
  // pH + TF + log CH − 0.4 + log TA − constant, worked with a four-figure table of logarithms
  it.each([
    // 7.5 + 0.6 + 2.4771 − 0.4 + 2.0000 − 12.1
    [{ ph: 7.5, temperature: 24, calciumHardness: 300, totalDissolvedSolids: 800 }, 100, 0.077],
    // 8.0 + 0.7 + 2.3979 − 0.4 + 1.9031 − 12.1
    [{ ph: 8, temperature: 29, calciumHardness: 250, totalDissolvedSolids: 1000 }, 80, 0.501],
    // 7.2 + 0.85 (half way from 34 to 41) + 2.1761 − 0.4 + 2.0792 − 12.25 (half way from 2000 to 3000)
    [{ ph: 7.2, temperature: 37.5, calciumHardness: 150, totalDissolvedSolids: 2500 }, 120, -0.345],
    // 7.6 + 0.0 + 2.6021 − 0.4 + 1.9542 − 12.4 beyond both ends of the tables
    [{ ph: 7.6, temperature: 0, calciumHardness: 400, totalDissolvedSolids: 9000 }, 90, -0.644],
  ])("%o with alkalinity %d is %d", (water, alkalinity, index) => {
    expect(Math.abs(factorSum(water, alkalinity) - index)).toBeLessThan(0.01);
  });

  it("keeps near the full index in everyday water", () => {
    const { full, factorSum: sum } = saturation(POOL_WATER);
    expect(Math.abs(full.corrected - sum.corrected)).toBeLessThan(0.05);
  });
});

describe("where the index is zero", () => {
  it("is where it says, by pH and by hardness", () => {
    for (const cyanuricAcid of [0, 60]) {
      const water = { ...POOL_WATER, cyanuricAcid };
      const ph = phAtSaturation(water);
      expect(saturation({ ...water, ph: ph ?? Number.NaN }).full.corrected).toBeCloseTo(0, 6);
      expect(
        saturation({ ...water, calciumHardness: hardnessAtSaturation(water) }).full.corrected,
      ).toBeCloseTo(0, 9);
    }
    expect(phAtSaturation({ ...POOL_WATER, calciumHardness: 0 })).toBeNull();
  });

  it("is where the calcite has gone, either way", () => {
    fc.assert(
      fc.property(
        anyWater.filter((water) => water.calciumHardness > 20),
        (water) => {
          const dropped = calcitePotential(water) / 100_090;
          const totals = totalsOf(water);
          const settled = {
            ...totals,
            calcium: totals.calcium - dropped,
            inorganicCarbon: totals.inorganicCarbon - dropped,
            alkalinity: totals.alkalinity - 2 * dropped,
          };
          expect(Math.abs(saturationOf(settled))).toBeLessThan(1e-4);
          expect(Math.sign(dropped)).toBe(Math.sign(saturation(water).full.corrected));
        },
      ),
    );
    // 50 m³ that could drop 2.91 mg/L: 145 g
    expect(calciteKilograms(POOL_WATER, 50_000)).toBeCloseTo(0.1455, 3);
  });
});

describe("chlorine and stabiliser", () => {
  const at27 = { ph: 7.5, temperature: 27, totalDissolvedSolids: 1000 };
  it.each([
    [0.03, 30, 2.2],
    [0.05, 30, 3.5],
    [0.3, 30, 12],
    [0.03, 50, 3.7],
    [0.05, 50, 5.8],
    [0.3, 50, 20],
  ])("HOCl %d with CYA %d takes FC %d", (hocl, cyanuricAcid, freeChlorine) => {
    const found = freeChlorineFor(hocl, { ...at27, cyanuricAcid });
    expect(Math.abs(found - freeChlorine) / freeChlorine).toBeLessThan(0.02);
  });

  it("shares add up, and lead back to the reading", () => {
    fc.assert(
      fc.property(anyWater, (water) => {
        const shares = chlorineShares(water);
        expect(shares.hypochlorousAcid + shares.hypochlorite + shares.bound).toBeCloseTo(
          water.freeChlorine,
          9,
        );
        expect(freeChlorineFor(shares.hypochlorousAcid, water)).toBeCloseTo(water.freeChlorine, 6);
      }),
    );
  });

  it("without stabiliser all of it is free to act", () => {
    expect(unstabilisedEquivalent(POOL_WATER)).toBeCloseTo(3, 12);
    expect(unstabilisedEquivalent({ ...POOL_WATER, cyanuricAcid: 50 })).toBeLessThan(0.06);
  });

  it("clears combined chlorine at ten times as much, or by persulfate", () => {
    // 0.8 mg/L is 0.01128 mmol/L; half as much KHSO5 (152.17): 0.858 mg/L
    const { breakpoint, monopersulfate } = clearCombined(0.8, 2);
    expect(breakpoint).toEqual({ freeChlorine: 8, raise: 6 });
    expect(monopersulfate).toBeCloseTo(0.858, 3);
    expect(clearCombined(0.1, 4).breakpoint.raise).toBe(0);
    expect(bromineFromChlorine(2)).toBe(4.5);
  });
});

describe("the alkalinity that is carbonate", () => {
  it("is all of it where nothing else is in the water, and both indices are one", () => {
    const plain = { ...POOL_WATER, cyanuricAcid: 0, borate: 0 };
    // Hydroxide less hydrogen ions at pH 7.5 is 0.3 µmol/L: 0.02 mg/L.
    expect(carbonateAlkalinity(plain)).toBeCloseTo(plain.totalAlkalinity, 1);
    const { full } = saturation(plain);
    expect(full.titrated).toBeCloseTo(full.corrected, 9);
  });
  it("is less by what cyanurate takes up, and parts the indices by its logarithm", () => {
    const shielded = { ...POOL_WATER, cyanuricAcid: 100 };
    const { full } = saturation(shielded);
    const share = carbonateAlkalinity(shielded) / shielded.totalAlkalinity;
    expect(share).toBeGreaterThan(0.6);
    expect(share).toBeLessThan(0.75);
    expect(full.corrected - full.titrated).toBeCloseTo(Math.log10(share), 2);
  });
});

describe("bad water", () => {
  it.each([
    [{ ph: 2 }, "ph: too-low"],
    [{ ph: Number.NaN }, "ph: not-a-number"],
    [{ totalAlkalinity: -5 }, "totalAlkalinity: too-low"],
    [{ calciumHardness: "300" as unknown as number }, "calciumHardness: not-a-number"],
    [{ temperature: 60 }, "temperature: too-high"],
    [{ totalDissolvedSolids: 50_000 }, "totalDissolvedSolids: too-high"],
    [{ totalAlkalinity: 15, cyanuricAcid: 90 }, "totalAlkalinity: inconsistent"],
  ])("%o is refused", (part, said) => {
    const water = { ...POOL_WATER, ...part };
    for (const work of [
      saturation,
      calcitePotential,
      chlorineShares,
      (sample: typeof water) => readingsOf(totalsOf(sample)),
    ])
      expect(() => work(water)).toThrow(said);
  });
});
