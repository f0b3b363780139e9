import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { gramsForChange, gramsForPh } from "../dosing/single";
import { agreement, gramsByDemand } from "../reading/demand";
import { readingsOf } from "../water/equilibrium";
import { asRead } from "../water/molar";
import { type Totals, totalsOf } from "../water/sample";
import { anyWater, POOL_WATER } from "../water/water.fixtures";
import {
  type Addition,
  addTo,
  aerate,
  carbonDioxide,
  carbonDioxideAtRest,
  driveOut,
  effectOf,
  evaporate,
  replaceWater,
  spendChlorine,
} from "./effects";
import { effectPerGram, PRODUCT_IDS, PRODUCTS, type ProductId } from "./products";

const of = (product: ProductId, grams: number): Addition => ({
  product,
  strength: PRODUCTS[product].strength,
  grams,
});
const LITRES = 40_000;
const KEYS = ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine", "borate"] as const;

/** Grams of a product that bring this much available chlorine, mg/L. */
const forChlorine = (product: ProductId, change: number) =>
  gramsForChange({ product, strength: PRODUCTS[product].strength }, "freeChlorine", change, LITRES);

const anyAddition = fc.record({
  product: fc.constantFrom(...PRODUCT_IDS.filter((id) => id !== "sodium-thiosulfate")),
  // From a microgram: below the smallest normal number halves do not add up to wholes.
  grams: fc.oneof(fc.constant(0), fc.double({ min: 1e-6, max: 20_000, noNaN: true })),
});

describe("additions", () => {
  it("conserve every total, in any order and in any portions", () => {
    fc.assert(
      fc.property(anyWater, fc.array(anyAddition, { maxLength: 8 }), fc.nat(), (water, list, turn) => {
        const additions = list.map(({ product, grams }) => of(product, grams));
        const start = totalsOf(water);
        const once = addTo(start, additions, LITRES).totals;
        const turned = [...additions.slice(turn % 7), ...additions.slice(0, turn % 7)].reverse();
        const byOne = turned.reduce(
          (totals: Totals, one) =>
            addTo(
              totals,
              [
                { ...one, grams: one.grams / 2 },
                { ...one, grams: one.grams / 2 },
              ],
              LITRES,
            ).totals,
          start,
        );
        for (const key of KEYS) {
          const added = additions.map((one) => (effectPerGram(one)[key] * one.grams) / LITRES);
          // Alkalinity may nearly cancel: the scale is what went in and came out, not what is left.
          const scale = added.reduce((sum, part) => sum + Math.abs(part), Math.abs(start[key]));
          const wanted = added.reduce((sum, part) => sum + part, start[key]);
          expect(Math.abs(once[key] - wanted)).toBeLessThanOrEqual(1e-12 * scale);
          expect(Math.abs(byOne[key] - wanted)).toBeLessThanOrEqual(1e-12 * scale);
        }
      }),
    );
  });

  it("bring what people want said", () => {
    const water = { ...POOL_WATER, freeChlorine: 0, cyanuricAcid: 0 };
    const treated = (product: ProductId) =>
      effectOf({ water, litres: LITRES, additions: [of(product, forChlorine(product, 10))] });
    expect(treated("trichlor").cyanuricAcid).toBeCloseTo(6.07, 1); // about 6 per 10 ppm: 129.075 / (3 × 70.906)
    expect(treated("dichlor").cyanuricAcid).toBeCloseTo(9.1, 1); // about 9: 129.075 / (2 × 70.906)
    expect(treated("calcium-hypochlorite").calciumHardness - 300).toBeCloseTo(7.06, 1); // about 7: 100.09 / (2 × 70.906)
    expect(treated("sodium-hypochlorite").cyanuricAcid).toBe(0);
    for (const product of ["trichlor", "dichlor", "calcium-hypochlorite", "sodium-hypochlorite"] as const)
      expect(treated(product).freeChlorine).toBeCloseTo(10, 9);
  });

  it("of hypochlorite raise the pH while it stands, and hardly once it is spent", () => {
    const water = { ...POOL_WATER, freeChlorine: 0 };
    const additions = [of("sodium-hypochlorite", forChlorine("sodium-hypochlorite", 5))];
    const standing = effectOf({ water, litres: LITRES, additions });
    const spent = effectOf({ water, litres: LITRES, additions, chlorineSpent: true });
    expect(standing.ph).toBeGreaterThan(7.55);
    expect(spent.ph).toBeCloseTo(7.5, 2);
    expect(spent.freeChlorine).toBe(0);
    // Two moles of chloride for each of hypochlorite: 5 / 70.906 × 2 × 35.453
    expect(spent.chlorideAdded).toBeCloseTo(5, 6);
  });

  it("of bicarbonate raise alkalinity mostly, of soda ash the pH mostly", () => {
    const water = { ...POOL_WATER, freeChlorine: 0 };
    const raised = (product: ProductId) =>
      effectOf({
        water,
        litres: LITRES,
        additions: [
          of(
            product,
            gramsForChange({ product, strength: PRODUCTS[product].strength }, "totalAlkalinity", 20, LITRES),
          ),
        ],
      });
    expect(raised("sodium-bicarbonate").totalAlkalinity).toBeCloseTo(120, 1);
    expect(raised("sodium-bicarbonate").ph - 7.5).toBeLessThan(0.08);
    expect(raised("sodium-carbonate").ph - 7.5).toBeGreaterThan(0.6);
  });

  it("of reducer take chlorine to none and no further", () => {
    // 2 moles of Cl(+1) for each of thiosulfate: 3 mg/L × 40 000 L / 70.906 / 2 × 248.18 / 0.99 = 212 g
    const gone = effectOf({
      water: POOL_WATER,
      litres: LITRES,
      additions: [of("sodium-thiosulfate", 212.1)],
    });
    expect(gone.freeChlorine).toBeCloseTo(0, 2);
    const half = effectOf({
      water: POOL_WATER,
      litres: LITRES,
      additions: [of("sodium-thiosulfate", 106.05)],
    });
    expect(half.freeChlorine).toBeCloseTo(1.5, 2);
    const over = effectOf({ water: POOL_WATER, litres: LITRES, additions: [of("sodium-thiosulfate", 5000)] });
    expect(over.freeChlorine).toBe(0);
    expect(over.ph).toBeGreaterThan(7.2);
  });

  it("of thiosulfate take chlorine, its charge, and the acid that it leaves", () => {
    // 778 g of 99 % in 40 m³: 7.76e-5 mol/L, 2 of chlorine each (11.0 mg/L) and 8/3 of alkalinity: 2.07e-4 eq,
    // of which the hypochlorite's own charge was never in the titrated alkalinity.
    const water = { ...POOL_WATER, ph: 8, totalAlkalinity: 100, freeChlorine: 12, cyanuricAcid: 30 };
    const totals = totalsOf(water);
    const after = addTo(totals, [of("sodium-thiosulfate", 778)], LITRES).totals;
    const moles = (778 * 0.99) / 248.18 / LITRES;
    expect(totals.chlorine - after.chlorine).toBeCloseTo(2 * moles, 12);
    expect(totals.alkalinity - after.alkalinity).toBeCloseTo((8 / 3) * moles, 12);
    const read = readingsOf(after);
    expect(read.ph).toBeCloseTo(7.28, 2);
    expect(read.totalAlkalinity).toBeCloseTo(90.5, 1);
  });

  it("of monopersulfate and trichlor lower the pH, of borax raise it", () => {
    const ph = (product: ProductId, grams: number) =>
      effectOf({ water: POOL_WATER, litres: LITRES, additions: [of(product, grams)], chlorineSpent: true })
        .ph;
    const plain = effectOf({ water: POOL_WATER, litres: LITRES, additions: [], chlorineSpent: true }).ph;
    expect(ph("potassium-monopersulfate", 500)).toBeLessThan(plain);
    expect(ph("trichlor", 500)).toBeLessThan(plain);
    expect(ph("borax", 2000)).toBeGreaterThan(plain);
    expect(
      effectOf({ water: POOL_WATER, litres: LITRES, additions: [of("boric-acid", 10_000)] }).borate,
    ).toBeCloseTo((10_000 * 0.99 * 10.81 * 1000) / 61.83 / LITRES, 6);
  });

  it.each([
    [{ additions: [{ product: "x", strength: 1, grams: 1 }] }, "additions.0.product: unknown"],
    [
      { additions: [of("dichlor", 5), { product: "dichlor", strength: 3, grams: 1 }] },
      "additions.1.strength: too-high",
    ],
    [{ additions: [of("dichlor", -1)] }, "additions.0.grams: too-low"],
    [{ additions: [of("dichlor", Number.NaN)] }, "additions.0.grams: not-a-number"],
    [{ litres: 0 }, "litres: too-low"],
    [{ replaced: { fraction: 1.5, fill: POOL_WATER } }, "fraction: too-high"],
    [{ aeratedTo: 0 }, "carbonDioxide: too-low"],
  ])("%o is refused", (part, said) => {
    const input = { water: POOL_WATER, litres: LITRES, additions: [], ...part };
    expect(() => effectOf(input as Parameters<typeof effectOf>[0])).toThrow(said);
  });
});

describe("the inverse", () => {
  it("gives the amount that the effect then shows, for pH", () => {
    fc.assert(
      fc.property(
        anyWater.filter((water) => water.ph > 7.25 && water.totalAlkalinity > 40),
        (water) => {
          const product = { product: "hydrochloric-acid", strength: 0.3145 } as const;
          const grams = gramsForPh(product, water, 7.2, LITRES);
          const after = addTo(totalsOf(water), [{ ...product, grams }], LITRES).totals;
          expect(readingsOf(after).ph).toBeCloseTo(7.2, 8);
        },
      ),
    );
  });
});

describe("water replaced, aired and evaporated", () => {
  const fill = { ...POOL_WATER, ph: 7.4, totalAlkalinity: 45, calciumHardness: 40, freeChlorine: 0 };
  it("mixes every total by its share", () => {
    const mixed = replaceWater(totalsOf(POOL_WATER), totalsOf(fill), 0.25);
    for (const key of KEYS)
      expect(mixed[key]).toBeCloseTo(0.75 * totalsOf(POOL_WATER)[key] + 0.25 * totalsOf(fill)[key], 15);
    expect(readingsOf(mixed).calciumHardness).toBeCloseTo(235, 9);
  });

  it("aeration raises the pH and adds nothing", () => {
    const before = totalsOf({ ...POOL_WATER, ph: 7.2 });
    const rest = carbonDioxideAtRest(before.temperature);
    const aired = aerate(before, rest);
    expect(carbonDioxide(aired)).toBeCloseTo(rest, 12);
    expect(aired.alkalinity).toBe(before.alkalinity);
    const after = readingsOf(aired);
    expect(after.ph).toBeGreaterThan(8.2);
    // TA is read with the chlorine destroyed, and hypochlorite has taken up some: a little lower, as measured.
    expect(Math.abs(after.totalAlkalinity - 100)).toBeLessThan(2);
  });

  it("air holds less carbon dioxide over warm water, and takes no more than down to it", () => {
    // Henry's constant: 0.039 mol/(L·atm) at 20 °C, 0.025 at 38 (Plummer and Busenberg 1982)
    expect(carbonDioxideAtRest(20) / 420e-6).toBeCloseTo(0.0392, 3);
    expect(carbonDioxideAtRest(38) / 420e-6).toBeCloseTo(0.0247, 3);
    const water = totalsOf({ ...POOL_WATER, ph: 7.4 });
    expect(driveOut(water, 5e-5).inorganicCarbon).toBeCloseTo(water.inorganicCarbon - 5e-5, 12);
    const most = driveOut(water, 1e-3);
    expect(carbonDioxide(most)).toBeCloseTo(carbonDioxideAtRest(water.temperature), 12);
    expect(driveOut(most, 1e-4)).toEqual(most);
    const flat = totalsOf({ ...POOL_WATER, ph: 8.8 });
    expect(driveOut(flat, 1e-4)).toBe(flat);
  });

  it("evaporation leaves the salts, and topping up brings more", () => {
    // Half a per cent a day for 60 days with well water of 320: 0.3 × 320 = 96 ppm more.
    const year = evaporate(totalsOf(POOL_WATER), totalsOf({ ...fill, calciumHardness: 320 }), 0.005, 60);
    expect(readingsOf(year).calciumHardness).toBeCloseTo(396, 6);
    expect(year.cyanurate).toBe(totalsOf(POOL_WATER).cyanurate);
  });

  it("spent chlorine takes its equivalent of alkalinity along", () => {
    const totals = totalsOf(POOL_WATER);
    const spent = spendChlorine(totals, 0.5);
    expect(asRead.chlorine(spent.chlorine)).toBeCloseTo(1.5, 12);
    expect(totals.alkalinity - spent.alkalinity).toBeCloseTo(totals.chlorine / 2, 15);
  });
});

describe("demand drops", () => {
  const acid = { product: "hydrochloric-acid", strength: 0.3145 } as const;
  it("are moles of acid, with a bracket", () => {
    // 4 drops of 0.05 meq/L: (3, 4] → 3.5 × 0.05 = 0.175 meq/L × 40 000 L = 7.0 eq × 36.461 / 0.3145 = 811.5 g
    const asked = gramsByDemand(4, 0.05, acid, LITRES);
    expect(asked.value).toBeCloseTo(811.5, 0);
    expect(asked.low).toBeLessThan(700);
    expect(asked.high).toBeGreaterThan(920);
    expect(gramsByDemand(0, 0.05, acid, LITRES).value).toBe(0);
    expect(() => gramsByDemand(-1, 0.05, acid, LITRES)).toThrow("drops: too-low");
  });
  it("agree with the model, or not, by both uncertainties", () => {
    const asked = gramsByDemand(4, 0.05, acid, LITRES);
    const model = { value: 900, deviation: 80, low: 740, high: 1060 };
    expect(agreement(asked, model).agree).toBe(true);
    expect(agreement(asked, { ...model, value: 1600 })).toMatchObject({ agree: false });
  });
});
