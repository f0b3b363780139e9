import { describe, expect, it } from "vitest";
import { portionsOf } from "../dosing/portions";
import { isLabelled } from "./labels";
import { PRODUCT_IDS, PRODUCTS } from "./products";
import { isAcid, isChlorine, meetBadly, mostAtATime, TRAITS, USES } from "./traits";

describe("the traits of products", () => {
  it("move nothing where a product is dosed by its label, and something everywhere else", () => {
    for (const id of PRODUCT_IDS)
      expect(
        Object.values(PRODUCTS[id].effect).every((moved) => moved === 0),
        id,
      ).toBe(isLabelled(id));
  });

  it("give every use of a plan somebody to do it, and the rest to nobody", () => {
    for (const use of USES)
      expect(
        PRODUCT_IDS.some((id) => TRAITS[id].use === use),
        use,
      ).toBe(true);
    const unused = PRODUCT_IDS.filter((id) => TRAITS[id].use === null && !isLabelled(id));
    expect(unused.sort()).toEqual([
      "boric-acid",
      "bromine-granules",
      "bromine-tablets",
      "potassium-monopersulfate",
      "sodium-bromide",
      "sodium-chloride",
      "sodium-thiosulfate",
      "trichlor",
    ]);
  });

  it("agree with what the products do to a water", () => {
    for (const id of PRODUCT_IDS) {
      const { chlorine, cyanurate, alkalinity, calcium } = PRODUCTS[id].effect;
      expect(isChlorine(id), id).toBe(chlorine > 0);
      expect(TRAITS[id].stabilised, id).toBe(chlorine > 0 && cyanurate > 0);
      if (TRAITS[id].use === "acid") expect(alkalinity).toBeLessThan(0);
      if (TRAITS[id].use === "base" || TRAITS[id].use === "alkalinity") expect(alkalinity).toBeGreaterThan(0);
      if (TRAITS[id].use === "calcium") expect(calcium).toBeGreaterThan(0);
      if (TRAITS[id].use === "stabiliser") expect(cyanurate).toBeGreaterThan(0);
    }
  });

  it("keep acids, persulfate too, from chlorine", () => {
    for (const acid of ["hydrochloric-acid", "sodium-bisulfate", "potassium-monopersulfate"] as const) {
      expect(isAcid(acid)).toBe(true);
      for (const other of ["dichlor", "trichlor", "calcium-hypochlorite", "sodium-hypochlorite"] as const) {
        expect(meetBadly(acid, other)).toBe(true);
        expect(meetBadly(other, acid)).toBe(true);
      }
      expect(meetBadly(acid, "sodium-bicarbonate")).toBe(false);
    }
    expect(meetBadly("dichlor", "calcium-chloride")).toBe(false);
  });

  it("limit what goes in at once, by strength and by litres", () => {
    // 5 mg/L in 40 m³ are 200 g of chlorine: 1.6 L of 125 g/L, 308 g of 65 %
    expect(mostAtATime({ product: "sodium-hypochlorite", strength: 0.125 / 1.168 }, 40_000)).toBeCloseTo(
      1869,
      0,
    );
    expect(mostAtATime({ product: "calcium-hypochlorite", strength: 0.65 }, 40_000)).toBeCloseTo(307.7, 1);
    expect(mostAtATime({ product: "dichlor", strength: 0.56 }, 40_000)).toBeCloseTo(357.1, 1);
    expect(mostAtATime({ product: "trichlor", strength: 0.9 }, 40_000)).toBeCloseTo(222.2, 1);
    // and 5 mg/L out: 200 / 70.906 / 2 × 248.18 / 0.99
    expect(mostAtATime({ product: "sodium-thiosulfate", strength: 0.99 }, 40_000)).toBeCloseTo(353.5, 1);
    expect(mostAtATime({ product: "sodium-bisulfate", strength: 0.932 }, 40_000)).toBeCloseTo(1289, 0);
    expect(portionsOf({ product: "sodium-carbonate", strength: 0.99 }, 8000, 40_000).count).toBe(8);
    expect(mostAtATime({ product: "borax", strength: 0.99 }, 20_000)).toBeCloseTo(1000, 6);
    expect(mostAtATime({ product: "cyanuric-acid", strength: 0.99 }, 40_000)).toBeCloseTo(2000, 6);
    expect(mostAtATime({ product: "calcium-chloride", strength: 0.385 }, 40_000)).toBeCloseTo(10_000, 6);
    expect(mostAtATime({ product: "boric-acid", strength: 0.99 }, 40_000)).toBeCloseTo(5000, 6);
    expect(mostAtATime({ product: "potassium-monopersulfate", strength: 0.43 }, 40_000)).toBeCloseTo(1000, 6);
    expect(portionsOf({ product: "dichlor", strength: 0.56 }, 0, 40_000)).toEqual({ count: 1, grams: 0 });
  });
});
