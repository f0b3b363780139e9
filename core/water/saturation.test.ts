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
import { totalsOf } from "./sample";
import {
  calciteKilograms,
  calcitePotential,
  factorSum,
  hardnessAtSaturation,
  phAtSaturation,
  saturation,
  saturationOf,
} from "./saturation";
import { anyWater, POOL_WATER } from "./water.fixtures";

describe("the saturation index", () => {
  it.each([
    [0, "0.097"],
    [30, "0.053"],
    [50, "0.021"],
    [100, "-0.072"],
  ])("at CYA %d is %s", (cyanuricAcid, index) => {
    expect(saturation({ ...POOL_WATER, cyanuricAcid }).full.corrected.toFixed(3)).toBe(index);
  });

  /**
   * Worked by hand from constants read off the tables (Plummer and Busenberg 1982): Davies with A from the
   * temperature, pK' = pK + charges' share of log γ1, CO3 from alkalinity, no program's help.
   *   carbonate alkalinity (eq/L) = TA/50 040 − [OH−] + [H+] − cyanurate
   *   [CO3−−] = CA / (2 + {H+}/K2'),  SI = log(Ca) + log(CO3) + 2·log γ2 + pKs
   */
  const hand = (given: {
    ph: number;
    ta: number;
    ch: number;
    logGamma1: number;
    pk2: number;
    pks: number;
    pkw: number;
    cyanurate: number;
  }) => {
    const k2 = 10 ** -(given.pk2 + 3 * given.logGamma1);
    const gamma1 = 10 ** given.logGamma1;
    const hydroxide = 10 ** (given.ph - given.pkw) / gamma1;
    const alkalinity = given.ta / 50_040 - hydroxide + 10 ** -given.ph / gamma1 - given.cyanurate;
    const carbonate = alkalinity / (2 + 10 ** -given.ph / k2);
    return Math.log10(given.ch / 100_090) + Math.log10(carbonate) + 8 * given.logGamma1 + given.pks;
  };

  it.each([
    {
      name: "a cold plunge: 10 °C, I = 0.0125, √I = 0.1118, A = 0.4976, log γ1 = −0.0482",
      water: {
        ph: 7.8,
        totalAlkalinity: 120,
        calciumHardness: 250,
        temperature: 10,
        totalDissolvedSolids: 500,
        cyanuricAcid: 0,
      },
      by: {
        ph: 7.8,
        ta: 120,
        ch: 250,
        logGamma1: -0.0482,
        pk2: 10.488,
        pks: 8.41,
        pkw: 14.529,
        cyanurate: 0,
      },
    },
    {
      name: "a pool with stabiliser: 25 °C, log γ1 = −0.0659; CYA 40 is 0.310 mmol/L, at pH 7.4 79.4 % of it H2Cy−",
      // pK' of H3Cy is 6.88 − 0.0659 = 6.814; share = 1 / (1 + 10^(6.814 − 7.4)) = 0.794
      water: {
        ph: 7.4,
        totalAlkalinity: 90,
        calciumHardness: 350,
        temperature: 25,
        totalDissolvedSolids: 1000,
        cyanuricAcid: 40,
      },
      by: {
        ph: 7.4,
        ta: 90,
        ch: 350,
        logGamma1: -0.0659,
        pk2: 10.329,
        pks: 8.48,
        pkw: 13.994,
        cyanurate: 0.794 * 0.3099e-3,
      },
    },
    {
      name: "a spa: 38 °C, I = 0.0375, √I = 0.1936, A = 0.5233, log γ1 = −0.0790",
      water: {
        ph: 7.6,
        totalAlkalinity: 100,
        calciumHardness: 200,
        temperature: 38,
        totalDissolvedSolids: 1500,
        cyanuricAcid: 0,
      },
      by: { ph: 7.6, ta: 100, ch: 200, logGamma1: -0.079, pk2: 10.233, pks: 8.565, pkw: 13.59, cyanurate: 0 },
    },
  ])("agrees with paper: $name", ({ water, by }) => {
    expect(Math.abs(saturation({ ...POOL_WATER, ...water }).full.corrected - hand(by))).toBeLessThan(0.005);
  });

  it("as titrated takes cyanurate for carbonate", () => {
    const stabilised = saturation({ ...POOL_WATER, cyanuricAcid: 80 });
    const plain = saturation(POOL_WATER);
    expect(stabilised.full.titrated).toBeCloseTo(plain.full.titrated, 9);
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
    // 50 m³ that could drop 2.51 mg/L: 126 g
    expect(calciteKilograms(POOL_WATER, 50_000)).toBeCloseTo(0.1256, 3);
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
