import { describe, expect, it } from "vitest";
import { gramsForPh } from "../dosing/single";
import type { Readings } from "../measure/quantity";
import { PRODUCTS } from "../products/products";
import { exactSample } from "../uncertainty/models";
import { POOL_WATER } from "../water/water.fixtures";
import {
  compareDemand,
  demandByDrops,
  demandByModel,
  demandEstimate,
  demandNotices,
  phByDemand,
} from "./demand-model";

const counted = (value: number, drop = 0.05) => ({
  value,
  unit: "meq/L" as const,
  low: value - drop,
  high: value,
  bound: "within" as const,
});
const water = { ...POOL_WATER, ph: 8, totalAlkalinity: 100, cyanuricAcid: 30 };

describe("acid demand by the model", () => {
  it("is the acid that the same water takes in a basin, per litre", () => {
    const acid = { product: "hydrochloric-acid", strength: PRODUCTS["hydrochloric-acid"].strength } as const;
    const grams = gramsForPh(acid, water, 7.4, 10_000);
    const milliequivalents = ((grams * acid.strength) / 36.461 / 10_000) * 1000;
    expect(demandByModel(water, 7.4)).toBeCloseTo(milliequivalents, 3);
  });

  it("is nothing at the target and base below it", () => {
    expect(demandByModel({ ...water, ph: 7.4 }, 7.4)).toBeCloseTo(0, 9);
    expect(demandByModel({ ...water, ph: 7 }, 7.4)).toBeLessThan(0);
  });

  it("is as unsure as the readings are", () => {
    expect(demandEstimate(water, exactSample(water), 7.4).deviation).toBe(0);
    const spreads = { ...exactSample(water), ph: { low: 7.9, high: 8.1, deviation: 0 } };
    const { value, deviation } = demandEstimate(water, spreads, 7.4);
    // The slope times a fifth of a pH evenly filled.
    const slope =
      (demandByModel({ ...water, ph: 8.05 }, 7.4) - demandByModel({ ...water, ph: 7.95 }, 7.4)) / 0.1;
    expect(deviation).toBeCloseTo((slope * 0.2) / Math.sqrt(12), 3);
    expect(deviation).toBeLessThan(value);
  });
});

describe("drops beside the model", () => {
  const spreads = {
    ...exactSample(water),
    ph: { low: 7.9, high: 8.1, deviation: 0 },
    totalAlkalinity: { low: 90, high: 100, deviation: 0.05 },
  };
  const reading = (drops: number): Readings => ({ acidDemand: counted(drops * 0.05) });
  const right = Math.ceil(demandByModel(water, 7.4) / 0.05);

  it("take the middle of the bracket", () => {
    expect(demandByDrops(counted(0.3)).value).toBeCloseTo(0.275, 12);
  });

  it("agree when both come to the same, and are no finding then", () => {
    expect(compareDemand(water, spreads, reading(right), 7.4)?.agree).toBe(true);
    expect(demandNotices(water, spreads, reading(right), 7.4)).toEqual([]);
  });

  it("are a finding when they lie further apart than both are unsure", () => {
    const [finding] = demandNotices(water, spreads, reading(3 * right), 7.4);
    expect(finding).toMatchObject({ code: "demand.disagrees", quantity: "acidDemand" });
    expect(finding?.deviations).toBeGreaterThan(2);
  });

  it("say nothing where no demand was counted", () => {
    expect(compareDemand(water, spreads, {}, 7.4)).toBeNull();
  });

  it("tell a pH that ran off its scale", () => {
    for (const ph of [8.3, 8.6, 9.1]) {
      const { ph: _, ...rest } = water;
      expect(phByDemand(rest, demandByModel({ ...water, ph }, 7.4), 7.4)).toBeCloseTo(ph, 4);
    }
    const { ph: _, ...rest } = water;
    expect(phByDemand(rest, demandByModel({ ...water, ph: 6.5 }, 7.4), 7.4)).toBeCloseTo(6.5, 4);
    expect(phByDemand(rest, 40, 7.4)).toBeNull();
  });
});
