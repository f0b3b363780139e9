import { describe, expect, it } from "vitest";
import { SURFACES } from "../../ranges/range-set";
import { OUTDOOR_FIXED_BAND, RANGE_SETS } from "../../ranges/sets";
import { usualSpreads } from "../../uncertainty/spread";
import { POOL_WATER } from "../../water/water.fixtures";
import type { Amounts } from "./amounts";
import { goalsOf } from "./goals";
import { type PlanInput, WEIGHTS } from "./input";
import { onShelf } from "./plan.fixtures";
import { predicted } from "./predict";

const input: PlanInput = {
  water: POOL_WATER,
  litres: 40_000,
  goals: goalsOf(OUTDOOR_FIXED_BAND, "plaster", POOL_WATER),
  products: [onShelf("hydrochloric-acid"), onShelf("sodium-thiosulfate"), onShelf("sodium-bicarbonate")],
  fill: { ...POOL_WATER, calciumHardness: 50, cyanuricAcid: 0, freeChlorine: 0 },
  mostReplaced: 0.5,
  aeration: true,
  weights: WEIGHTS,
};
const amounts = (grams: Record<string, number>, more: Partial<Amounts> = {}): Amounts => ({
  grams: new Map(Object.entries(grams)),
  replaced: 0,
  aerated: 0,
  ...more,
});

describe("what a plan promises", () => {
  it("is an interval, the same for the same seed, wider for a larger dose", () => {
    const small = predicted(input, amounts({ "hydrochloric-acid": 100 }));
    const large = predicted(input, amounts({ "hydrochloric-acid": 2000 }));
    expect(small).toEqual(predicted(input, amounts({ "hydrochloric-acid": 100 })));
    const width = (of: typeof small) => (of ? of.ph.high - of.ph.low : Number.NaN);
    expect(width(large)).toBeGreaterThan(width(small));
    expect(large?.totalAlkalinity.mean ?? 0).toBeLessThan(small?.totalAlkalinity.mean ?? 0);
  });

  it("knows of water replaced and of air", () => {
    const replaced = predicted(input, amounts({}, { replaced: 0.4 }));
    // 0.6 × what is read as about 295, and 0.4 × 50
    expect(replaced?.calciumHardness.mean).toBeGreaterThan(180);
    expect(replaced?.calciumHardness.mean).toBeLessThan(215);
    const still = predicted(input, amounts({}));
    const aired = predicted(input, amounts({}, { aerated: 0.1 }));
    expect(aired?.ph.mean ?? 0).toBeGreaterThan((still?.ph.mean ?? 0) + 0.1);
    expect(aired?.totalAlkalinity.mean).toBeCloseTo(still?.totalAlkalinity.mean ?? 0, 0);
  });

  it("knows what a reducer does to the chlorine it finds, draw by draw", () => {
    const reduced = predicted(input, amounts({ "sodium-thiosulfate": 50 }));
    // 50 g at 99 % are 0.1995 mol, 0.399 of chlorine in 40 m³: 0.71 mg/L of the 3
    expect(reduced?.freeChlorine.mean).toBeCloseTo(2.293, 1);
    const over = predicted(input, amounts({ "sodium-thiosulfate": 1000 }));
    expect(over?.freeChlorine.mean).toBe(0);
    expect(over?.ph.low ?? 0).toBeGreaterThan(6.9);
  });

  it("meets the effect at its middle: half a drop in one is half a drop in the other", () => {
    const plan = amounts({ "sodium-bicarbonate": 2037 });
    // 2037 g at 99 % in 40 m³: 2037 × 0.99 / 84.007 / 40 000 × 50 040 = 30.0 mg/L
    const promised = predicted(input, plan)?.totalAlkalinity.mean ?? 0;
    expect(promised).toBeCloseTo(POOL_WATER.totalAlkalinity + 30, 0);
  });

  it("starts from how sure usual readings are", () => {
    const spreads = usualSpreads(POOL_WATER);
    expect(spreads.ph).toEqual({ low: POOL_WATER.ph - 0.1, high: POOL_WATER.ph + 0.1, deviation: 0 });
    expect(spreads.totalAlkalinity.high - spreads.totalAlkalinity.low).toBe(10);
    expect(usualSpreads({ ...POOL_WATER, cyanuricAcid: 2 }).cyanuricAcid.low).toBe(0);
  });
});

describe("the goals of a set", () => {
  it.each(Object.values(RANGE_SETS))("$id aim inside their limits on every surface", (set) => {
    for (const surface of SURFACES) {
      const goals = goalsOf(set, surface, POOL_WATER);
      for (const name of [
        "ph",
        "totalAlkalinity",
        "calciumHardness",
        "cyanuricAcid",
        "freeChlorine",
      ] as const) {
        const { low, high, aim } = goals[name];
        if (low !== null) expect(aim, `${name} on ${surface}`).toBeGreaterThanOrEqual(low);
        if (high !== null) expect(aim, `${name} on ${surface}`).toBeLessThanOrEqual(high);
      }
      expect(goals.saturation.low).toBeLessThan(goals.saturation.high);
      expect(goals.hypochlorousAcid === null).toBe(set.ranges.freeChlorine?.heldBy === undefined);
    }
  });

  it("leave a reading without a range where it is, and one under a ceiling under it", () => {
    const bare = { ...OUTDOOR_FIXED_BAND, ranges: { cyanuricAcid: { high: 30 } }, bySurface: {} };
    const goals = goalsOf(bare, "plaster", { ...POOL_WATER, cyanuricAcid: 45 });
    expect(goals.totalAlkalinity).toMatchObject({ low: null, high: null, steer: false });
    expect(goals.cyanuricAcid).toMatchObject({ low: null, high: 30, aim: 30, steer: true });
  });
});
