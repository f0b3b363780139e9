import { describe, expect, it } from "vitest";
import type { Product } from "../products/products";
import { SALT_CELL_SET } from "../ranges/sets";
import { type ChlorineWay, type SeasonAsked, season } from "./season";
import { asked, FROM, habits, strengths, WEEK, water } from "./season.fixtures";

const of = (way: ChlorineWay, more: Partial<SeasonAsked> = {}) => {
  const found = season(asked(more)).find((one) => one.way === way);
  if (!found) throw new Error(way);
  return found;
};
const last = (way: ChlorineWay, more: Partial<SeasonAsked> = {}) => {
  const point = of(way, more).points.at(-1);
  if (!point) throw new Error(way);
  return point;
};
/** Nothing evaporates, splashes or breathes: what came in is what is there. */
const closed = { habits: { ...habits, evaporation: 0, splashOut: 0, gasExchange: 0 }, weeks: 3 };

describe("a season", () => {
  it("brings with each product what its formula holds", () => {
    // Trichlor, C3Cl3N3O3: 232.41 g hold 3 mol of chlorine (212.7 g as Cl2) and 1 mol of cyanurate (129.1 g):
    // 0.607 mg/L of stabiliser with each mg/L. At 90 % a gram as sold holds 0.9 g of chlorine.
    const tablets = of("tablets", closed);
    const given = (tablets.chlorine * 0.9 * 1000) / 50_000;
    const climbed = (tablets.points.at(-1)?.cyanuricAcid ?? 0) - 40;
    // Three weeks take 0.0009 a day of what stands there: 0.8 of 40 to 60.
    expect(climbed).toBeGreaterThan(0.607 * given - 1.3);
    expect(climbed).toBeLessThan(0.607 * given);
    expect(given).toBeGreaterThan(10);
    // Ca(OCl)2: a mole of calcium (100.1 mg as CaCO3) for two of chlorine (141.8 mg): 0.706 for each mg/L.
    const granules = of("calcium-hypochlorite", closed);
    const chlorine = (granules.chlorine * strengths["calcium-hypochlorite"] * 1000) / 50_000;
    expect((granules.points.at(-1)?.calciumHardness ?? 0) - 250).toBeCloseTo(0.706 * chlorine, 0);
    expect(last("liquid", closed).calciumHardness).toBeCloseTo(250, 6);
    // A cell makes hypochlorite out of the water's own salt: it brings nothing.
    const cell = last("salt-cell", closed);
    expect(cell.totalDissolvedSolids).toBeCloseTo(1000, 6);
    expect(last("liquid", closed).totalDissolvedSolids).toBeGreaterThan(1010);
    // Dichlor holds two of chlorine to a cyanurate, trichlor three: half as much again.
    const dichlor = (last("dichlor", closed).cyanuricAcid - 40) / climbed;
    expect(dichlor).toBeGreaterThan(1.4);
    expect(dichlor).toBeLessThan(1.6);
  });

  it("says when a limit is passed, and what water goes for it", () => {
    const tablets = of("tablets");
    expect(tablets.passed.cyanuricAcid).toBeGreaterThan(FROM);
    expect(tablets.passed.cyanuricAcid).toBeLessThan(FROM + 8 * WEEK);
    expect(tablets.replaced).toBeGreaterThan(10_000);
    for (const way of ["liquid", "salt-cell"] as const) {
      expect(of(way).passed.cyanuricAcid).toBeUndefined();
      expect(of(way).replaced).toBe(0);
    }
    // What is drained for a limit is not drained under what is aimed at, to be given back the week after.
    const salt = of("tablets", { rangeSet: SALT_CELL_SET, water: { ...water, cyanuricAcid: 70 } });
    expect(salt.replaced).toBeGreaterThan(0);
    expect(salt.given["cyanuric-acid"]).toBeUndefined();
    // Soft water that comes in takes calcium along.
    expect(salt.given["calcium-chloride"]).toBeGreaterThan(0);
    // Stabiliser that goes is given back where nothing brings it.
    expect(of("liquid", { weeks: 52 }).given["cyanuric-acid"]).toBeGreaterThan(0);
    expect(of("tablets", { weeks: 52 }).given["cyanuric-acid"]).toBeUndefined();
    // The chlorine of tablets is acid, that of the cell is not: one takes bicarbonate, the other acid.
    expect(of("tablets").given["sodium-bicarbonate"]).toBeGreaterThan(0);
    expect(of("salt-cell").given["hydrochloric-acid"]).toBeGreaterThan(0);
  });

  it("says what stands over its limit already", () => {
    for (const { passed } of season(asked({ water: { ...water, cyanuricAcid: 90 } })))
      expect(passed.cyanuricAcid).toBe(FROM);
  });

  it("does not drain for what comes out of the tap", () => {
    const hard = { ...asked().fill, calciumHardness: 600 };
    const liquid = of("liquid", { fill: hard, water: { ...water, calciumHardness: 390 }, weeks: 40 });
    expect(liquid.passed.calciumHardness).toBeDefined();
    expect(liquid.replaced).toBe(0);
  });

  it("follows sun and use, and starts where the water stands", () => {
    const usual = of("liquid").chlorine;
    expect(of("liquid", { sun: 1.4 }).chlorine).toBeGreaterThan(usual * 1.1);
    expect(of("liquid", { sun: 0.5 }).chlorine).toBeLessThan(usual * 0.9);
    expect(of("liquid", { use: 2 }).chlorine).toBeGreaterThan(usual * 1.1);
    for (const { points } of season(asked())) {
      expect(points).toHaveLength(21);
      expect(points[0]).toEqual({
        at: FROM,
        cyanuricAcid: 40,
        calciumHardness: 250,
        totalDissolvedSolids: 1000,
      });
      for (const point of points)
        for (const value of Object.values(point)) expect(Number.isFinite(value) && value >= 0).toBe(true);
    }
  });

  it("costs what its parts cost, and nothing is said where a price is not known", () => {
    const liquid = of("liquid");
    const price = asked().prices;
    const parts = Object.entries(liquid.given).map(
      ([product, grams]) => (grams / 1000) * (price[product as Product["product"]] ?? Number.NaN),
    );
    const chlorine = (liquid.chlorine / 1000) * 1.4;
    expect(liquid.cost).toBeCloseTo(chlorine + parts.reduce((sum, one) => sum + one, 0), 6);
    expect(of("tablets").cost).toBeGreaterThan((of("tablets").replaced / 1000) * 3);
    const { trichlor: _, ...without } = price;
    expect(of("tablets", { prices: without }).cost).toBeNull();
    expect(of("liquid", { prices: without }).cost).not.toBeNull();
  });
});
