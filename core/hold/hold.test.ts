import { describe, expect, it } from "vitest";
import { dosesIn, withDoses } from "../dosing/horizon/between";
import { problem } from "../dosing/horizon/horizon.fixtures";
import type { HorizonProblem } from "../dosing/horizon/problem";
import { believedBy, usualRates } from "../dosing/horizon/rates";
import { goalsOf } from "../dosing/plan/goals";
import { seeded } from "../random";
import { OUTDOOR_FIXED_BAND, SPA_WARM_WATER } from "../ranges/sets";
import { VERBS } from "../verbs";
import { HOLD_DAYS, hold, PROMISED } from "./hold";
import { measuredOut } from "./layman";

/** A hot tub under a roof that loses so much of its chlorine a day, and nothing is unsure. */
function tub(rate: number, calls: number[]): HorizonProblem {
  const posed = problem({ calls });
  const place = { kind: "spa", outdoors: false, feeder: "none" } as const;
  const water = {
    ...posed.still.input.water,
    temperature: 27,
    cyanuricAcid: 0,
    freeChlorine: 5,
    ph: 7.5,
  };
  const rates = { ...usualRates(place).rates, darkDemand: rate, gasExchange: 0.01 };
  const believed = believedBy(water, { rates, unsure: usualRates(place).unsure });
  return {
    ...posed,
    rates,
    believed: {
      mean: believed.mean,
      covariance: believed.covariance.map((row) => row.map(() => 0)),
      scales: {
        freeChlorine: 1e-9,
        ph: 1e-9,
        totalAlkalinity: 1e-9,
        calciumHardness: 1e-9,
        cyanuricAcid: 1e-9,
      },
    },
    outdoors: false,
    still: {
      ...posed.still,
      set: SPA_WARM_WATER,
      setting: { ...posed.still.setting, kind: "spa" },
      input: {
        ...posed.still.input,
        water,
        litres: 1500,
        goals: goalsOf(SPA_WARM_WATER, "acrylic", water, null, place),
      },
    },
  };
}

describe("hold", () => {
  it("tells the time under the floor as it comes out on paper", () => {
    // Left at the set's most, 5, and lost at 0.3 a day of 3 mg/L (at 27 °C). With x = C/3, ln(x)/1.4 + ln(1.4 + 0.6·x)/1.05
    // falls by 0.3 a day: from 1.199 at 5 to 0.817 at the floor of 3.5 in 1.27 days, so of four days between two calls
    // 68 % are under it. Nothing of 4 days lasts under 5: it is 2.017 at 9.9, which would have to be left.
    const { asItIs, short } = hold(tub(0.3, [4, 8, 12, 16]));
    // A quarter of a day, over four: what a step cannot tell apart.
    expect(Math.abs(asItIs.under.value - (1 - 1.273 / 4))).toBeLessThan(0.0625);
    expect(short?.most).toBe(5);
    expect(short?.wanted).toBeGreaterThan(9.5);
    expect(short?.wanted).toBeLessThan(11.5);
    expect(Math.abs((short?.day ?? 0) - 1.273)).toBeLessThanOrEqual(0.25);
    // After 4 days −0.001, at 1.48: 2.02 under.
    expect(Math.abs((short?.by ?? 0) - 2.02)).toBeLessThan(0.15);
  });

  it("finds that daily doses hold a tub that three calls do not, and what they cost", () => {
    const { asItIs, ways, cheapest } = hold(tub(0.3, [2, 4, 7]), { callPrice: 30 });
    expect(asItIs.under.value).toBeGreaterThan(0.3);
    const theirs = ways.find(({ means: [one] }) => one?.code === "between");
    expect(theirs?.under.value).toBeLessThan(0.05);
    expect(theirs?.calls).toBe(asItIs.calls);
    // 4.55·(e^0.3 − 1) = 1.6 mg/L of 1500 L is 2.4 g of chlorine a day, from a few cents to some dimes: no call.
    expect((theirs?.cost ?? 0) - asItIs.cost).toBeLessThan(5);
    expect(cheapest?.right.value).toBeGreaterThanOrEqual(PROMISED);
    for (const way of [asItIs, ...ways].filter(({ right }) => right.value >= PROMISED)) {
      // None is cheaper by more than a twentieth, and none that costs about the same keeps clearly longer.
      const cost = cheapest?.cost ?? 0;
      expect(1.05 * way.cost).toBeGreaterThanOrEqual(cost);
      if (way.cost <= cost) expect(way.right.value).toBeLessThanOrEqual((cheapest?.right.value ?? 0) + 0.005);
    }
  });

  it("offers no stabiliser without sun, no chlorine that leaves more of it than may be, and no cover on a tub", () => {
    const { ways } = hold(tub(0.6, [2, 4, 7]));
    const codes = ways.flatMap(({ means }) => means.map(({ code }) => code));
    expect(codes).not.toContain("stabiliser");
    expect(codes).not.toContain("cover");
    expect(codes).not.toContain("floater");
    expect(JSON.stringify(ways)).not.toContain("dichlor");
  });

  it("leaves out doses where nobody there may give any", () => {
    const { ways } = hold(tub(0.6, [2, 4, 7]), { laymen: [] });
    expect(JSON.stringify(ways)).not.toContain('"between"');
  });

  it("counts a call more as a call more", () => {
    const { asItIs, ways } = hold(problem({ calls: [7, 14, 21, 28] }), { callPrice: 100, callMinutes: 50 });
    const twice = ways.find(
      ({ means }) => means.length === 1 && means[0]?.code === "calls" && means[0].aWeek === 2,
    );
    expect(asItIs.calls).toBeCloseTo((4 * 30) / HOLD_DAYS, 6);
    expect(twice?.calls).toBeCloseTo((8 * 30) / HOLD_DAYS, 6);
    expect((twice?.minutes ?? 0) - asItIs.minutes).toBeCloseTo((4 * 50 * 30) / HOLD_DAYS, 6);
    expect(twice?.right.value).toBeGreaterThan(asItIs.right.value);
  });

  it("tells shares that are shares, whatever the water", () => {
    const random = seeded(5);
    for (let turn = 0; turn < 6; turn++) {
      const water = {
        ph: 7 + random(),
        totalAlkalinity: 50 + 100 * random(),
        cyanuricAcid: 80 * random(),
        freeChlorine: 6 * random(),
      };
      const { asItIs, ways } = hold(problem({ water, calls: [1 + 6 * random()], set: OUTDOOR_FIXED_BAND }));
      for (const { right, under, over, phHigh, phLow, cost } of [asItIs, ...ways]) {
        for (const { value, low, high } of [right, under, over, phHigh, phLow]) {
          expect(low).toBeGreaterThanOrEqual(0);
          expect(high).toBeLessThanOrEqual(1);
          expect(high).toBeGreaterThanOrEqual(low);
          expect(value).toBeGreaterThanOrEqual(0);
          expect(value).toBeLessThanOrEqual(1);
        }
        expect(right.value).toBeLessThanOrEqual(1 - Math.max(under.value, phHigh.value, phLow.value) + 1e-9);
        expect(cost).toBeGreaterThan(0);
      }
    }
  });
});

describe("doses between the calls", () => {
  it("come on their days after a call and leave the day of the next to it", () => {
    expect(dosesIn(7, 1)).toBe(6);
    expect(dosesIn(7, 2)).toBe(3);
    expect(dosesIn(7, 3)).toBe(2);
    expect(dosesIn(2, 0.5)).toBe(3);
    expect(dosesIn(1, 1)).toBe(0);
    const steps = Array.from({ length: 28 }, () => ({ days: 0.25, sun: 0, warmth: 1, airHolds: 0 })) as never;
    const dose = { product: "dichlor", strength: 0.56, grams: 5, everyDays: 2 } as const;
    const given = withDoses(steps, dose, 1500).flatMap((step, index) => (step.given ? [index / 4] : []));
    expect(given).toEqual([2, 4, 6]);
  });

  it("bring what they hold", () => {
    const steps = Array.from({ length: 8 }, () => ({ days: 0.25, sun: 0, warmth: 1, airHolds: 0 })) as never;
    const dose = { product: "dichlor", strength: 0.56, grams: 5, everyDays: 1 } as const;
    const [given] = withDoses(steps, dose, 1500).flatMap((step) => (step.given ? [step.given] : []));
    // 5 g × 0.56 = 2.8 g of chlorine over 70.906 g/mol in 1500 L; half as many moles of stabiliser.
    expect(given?.chlorine).toBeCloseTo(2.8 / 70.906 / 1500, 9);
    expect(given?.cyanurate).toBeCloseTo(2.8 / 70.906 / 1500 / 2, 9);
  });

  it("are told in what a kitchen has", () => {
    // Dichlor at 0.95 g/mL: a level tablespoon of 15 mL is 14.25 g; a cup of 240 mL is 228 g.
    expect(measuredOut("dichlor", 30)).toEqual({ count: 2, measure: "spoon", grams: 28.5 });
    expect(measuredOut("dichlor", 3)).toEqual({ count: 0.5, measure: "spoon", grams: 7.125 });
    expect(measuredOut("dichlor", 180)).toEqual({ count: 0.75, measure: "cup", grams: 171 });
  });

  it("are part of a plan: what they keep, nobody pours for", () => {
    const line = (more: object) =>
      VERBS.hold.answer(
        JSON.stringify({
          water: {
            ph: 7.5,
            totalAlkalinity: 90,
            calciumHardness: 200,
            cyanuricAcid: 0,
            freeChlorine: 4,
            temperature: 38,
          },
          basin: { litres: 1500, kind: "spa", outdoors: false },
          rangeSet: "spa-warm-water",
          products: ["sodium-hypochlorite", "hydrochloric-acid"],
          calls: [2, 4, 7],
          ...more,
        }),
      ) as { asItIs: { under: { value: number } }; error?: object };
    const alone = line({});
    const dosed = line({ between: { product: "sodium-hypochlorite", grams: 60, everyDays: 0.5 } });
    expect(dosed.asItIs.under.value).toBeLessThan(alone.asItIs.under.value - 0.2);
  });

  it("are refused by field, value and limit", () => {
    const fault = (more: object) =>
      (
        VERBS.hold.answer(
          JSON.stringify({
            water: { ph: 7.5, totalAlkalinity: 90 },
            basin: { litres: 1500 },
            products: [],
            calls: [7],
            ...more,
          }),
        ) as { error: { field: string; code: string } }
      ).error;
    expect(fault({ between: { product: "dichlor", grams: 5, everyDays: 0.1 } })).toMatchObject({
      code: "too-low",
      field: "between.everyDays",
    });
    expect(fault({ between: { product: "bleach", grams: 5, everyDays: 1 } })).toMatchObject({
      field: "between.product",
    });
    expect(fault({ sets: ["nobody's"] })).toMatchObject({ field: "sets.0" });
    expect(fault({ callPrice: -1 })).toMatchObject({ code: "too-low", field: "callPrice" });
    expect(fault({ still: true })).toMatchObject({ field: "still" });
  });
});
