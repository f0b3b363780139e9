import { describe, expect, it } from "vitest";
import { SURFACES } from "../../judging/range-set";
import { OUTDOOR_FIXED_BAND, RANGE_SETS } from "../../judging/sets";
import { POOL_WATER } from "../../water/water.fixtures";
import { goalsOf } from "./goals";
import { type PlanInput, WEIGHTS } from "./input";
import { onShelf } from "./plan.fixtures";
import { predicted, USUAL_SPREADS } from "./predict";
import type { Amounts } from "./solve";

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

  it("is nothing for a reducer, whose effect depends on what it meets", () => {
    expect(predicted(input, amounts({ "sodium-thiosulfate": 50 }))).toBeNull();
  });

  it("starts from how sure usual readings are", () => {
    const spreads = USUAL_SPREADS(POOL_WATER);
    expect(spreads.ph).toEqual({ low: POOL_WATER.ph - 0.1, high: POOL_WATER.ph + 0.1, deviation: 0 });
    expect(spreads.totalAlkalinity.high - spreads.totalAlkalinity.low).toBe(10);
    expect(USUAL_SPREADS({ ...POOL_WATER, cyanuricAcid: 2 }).cyanuricAcid.low).toBe(0);
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
    expect(goals.totalAlkalinity).toEqual({ low: null, high: null, aim: POOL_WATER.totalAlkalinity });
    expect(goals.cyanuricAcid).toEqual({ low: null, high: 30, aim: 30 });
  });
});
