import { describe, expect, it } from "vitest";
import { PRODUCT_IDS, type ProductId } from "../../products/products";
import { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND, PUBLIC_CODE_SET, SPA_WARM_WATER } from "../../ranges/sets";
import { WATER_READINGS, type WaterEstimate } from "../../reading/from-readings";
import type { Sample } from "../../water/sample";
import { POOL_WATER } from "../../water/water.fixtures";
import { choosable } from "./choosable";
import { goalsOf } from "./goals";
import { onShelf } from "./plan.fixtures";

const EVERYTHING = PRODUCT_IDS.map((id) => onShelf(id));
const standing = (unread: readonly string[]): Pick<WaterEstimate, "standing"> => ({
  standing: Object.fromEntries(
    WATER_READINGS.map((name) => [name, unread.includes(name) ? "assumed" : "read"]),
  ) as WaterEstimate["standing"],
});
const low: Sample = { ...POOL_WATER, cyanuricAcid: 10, calciumHardness: 150, freeChlorine: 0.5 };

function ids(
  water: Sample = low,
  {
    unread = [],
    place,
    ...more
  }: {
    unread?: string[];
    place?: Parameters<typeof goalsOf>[4];
    stabilisedChlorine?: boolean;
    tablets?: boolean;
  } = {},
): ProductId[] {
  const goals = goalsOf(OUTDOOR_FIXED_BAND, "plaster", water, standing(unread), place);
  return choosable({ products: EVERYTHING, goals, water, ...more }).map(({ product }) => product);
}

describe("what a plan may choose", () => {
  it("is what has a use in it, and no tablets, reducer, persulfate or boric acid", () => {
    expect(ids()).toEqual([
      "hydrochloric-acid",
      "sodium-bisulfate",
      "sodium-bicarbonate",
      "sodium-carbonate",
      "calcium-chloride",
      "cyanuric-acid",
      "sodium-hypochlorite",
      "calcium-hypochlorite",
      "borax",
    ]);
  });

  it.each([
    ["ph", ["hydrochloric-acid", "sodium-bisulfate", "sodium-carbonate", "borax"]],
    ["totalAlkalinity", ["sodium-bicarbonate"]],
    ["calciumHardness", ["calcium-chloride"]],
    ["cyanuricAcid", ["cyanuric-acid"]],
    ["freeChlorine", ["sodium-hypochlorite", "calcium-hypochlorite"]],
  ])("is nothing for %s when nobody read it", (quantity, without) => {
    expect(ids(low, { unread: [quantity] })).toEqual(ids().filter((id) => !without.includes(id)));
  });

  it("brings no stabiliser to a spa or a hall", () => {
    for (const place of [
      { kind: "spa", outdoors: true },
      { kind: "pool", outdoors: false },
    ] as const)
      expect(ids(low, { place })).not.toContain("cyanuric-acid");
  });

  it("brings stabilised chlorine when asked, and stabiliser was read and is under its aim, under the sun", () => {
    const asked = { stabilisedChlorine: true };
    expect(ids(low, asked)).toContain("dichlor");
    expect(ids(low, asked)).not.toContain("trichlor");
    expect(ids({ ...low, cyanuricAcid: 40 }, asked)).not.toContain("dichlor");
    expect(ids(low, { ...asked, unread: ["cyanuricAcid"] })).not.toContain("dichlor");
    expect(ids(low, { ...asked, place: { kind: "pool", outdoors: false } })).not.toContain("dichlor");
  });

  it("brings it to a tub whose firm allows it, as far as the set bears its stabiliser", () => {
    const asked = { stabilisedChlorine: true, place: { kind: "spa", outdoors: true } } as const;
    expect(ids(low, asked)).toContain("dichlor");
    expect(ids(low, { ...asked, stabilisedChlorine: false })).not.toContain("dichlor");
    expect(ids({ ...low, cyanuricAcid: 55 }, asked)).not.toContain("dichlor");
  });

  it("brings calcium hypochlorite neither beside tablets nor where calcium is at its limit", () => {
    expect(ids(low, { tablets: true })).not.toContain("calcium-hypochlorite");
    expect(ids({ ...low, calciumHardness: 400 })).not.toContain("calcium-hypochlorite");
    expect(ids({ ...low, calciumHardness: 399 })).toContain("calcium-hypochlorite");
  });

  it("brings nothing of what is used up", () => {
    const goals = goalsOf(OUTDOOR_FIXED_BAND, "plaster", low);
    const products = [onShelf("hydrochloric-acid", 0), onShelf("sodium-bisulfate", 5)];
    expect(choosable({ products, goals, water: low }).map(({ product }) => product)).toEqual([
      "sodium-bisulfate",
    ]);
  });
});

describe("the goals of a plan", () => {
  const right: Sample = { ...POOL_WATER, cyanuricAcid: 40 };
  it("steer what is out and nothing that is in", () => {
    for (const set of [OUTDOOR_FIXED_BAND, PUBLIC_CODE_SET]) {
      const goals = goalsOf(set, "plaster", right);
      for (const name of ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const)
        expect(goals[name].steer, `${set.id} ${name}`).toBe(false);
    }
    expect(goalsOf(OUTDOOR_FIXED_BAND, "plaster", { ...right, ph: 7.1 }).ph).toEqual({
      low: 7.2,
      high: 7.8,
      aim: 7.5,
      steer: true,
      known: true,
    });
  });

  it("never chase chlorine that is over: it falls by itself", () => {
    expect(goalsOf(OUTDOOR_FIXED_BAND, "plaster", { ...right, freeChlorine: 8 }).freeChlorine.steer).toBe(
      false,
    );
    expect(goalsOf(OUTDOOR_FIXED_BAND, "plaster", { ...right, freeChlorine: 0.2 }).freeChlorine.steer).toBe(
      true,
    );
  });

  it("hold chlorine by its acid only where it was read, and under what bathing can wait for", () => {
    const held = goalsOf(HELD_BY_HOCL_SET, "plaster", right);
    expect(held.hypochlorousAcid).toEqual({ low: 0.03, high: 0.08, aim: 0.05 });
    expect(held.mostChlorine).toBe(10);
    expect(
      goalsOf(HELD_BY_HOCL_SET, "plaster", right, standing(["freeChlorine"])).hypochlorousAcid,
    ).toBeNull();
    const strict = { ...OUTDOOR_FIXED_BAND, ranges: { freeChlorine: { low: 1, high: 4, closeAbove: 6 } } };
    expect(goalsOf(strict, "plaster", right).mostChlorine).toBe(6);
  });

  it("ask for no stabiliser that a spa's set has no use for", () => {
    const spa = { ...right, cyanuricAcid: 0 };
    expect(
      goalsOf(SPA_WARM_WATER, "acrylic", spa, null, { kind: "spa", outdoors: true }).cyanuricAcid,
    ).toMatchObject({
      low: null,
      high: 30,
      steer: false,
    });
    const over = goalsOf(SPA_WARM_WATER, "acrylic", { ...spa, cyanuricAcid: 45 }, null, {
      kind: "spa",
      outdoors: true,
    });
    expect(over.cyanuricAcid).toMatchObject({ steer: true, high: 30 });
  });

  it("take a limit that only closes for a limit", () => {
    const set = { ...OUTDOOR_FIXED_BAND, ranges: { ph: { closeBelow: 7, closeAbove: 8 } }, bySurface: {} };
    expect(goalsOf(set, "plaster", { ...right, ph: 8.2 }).ph).toMatchObject({
      low: 7,
      high: 8,
      aim: 7.5,
      steer: true,
    });
    expect(goalsOf(set, "plaster", right).calciumHardness).toMatchObject({
      low: null,
      high: null,
      steer: false,
    });
    expect(goalsOf({ ...set, saturation: { low: -0.2, high: 0.2 } }, "plaster", right).saturation).toEqual({
      low: -0.2,
      high: 0.2,
    });
  });
});
