import { describe, expect, it } from "vitest";
import { storageGroup, storedApart } from "./apart";
import { oddStrength, PRODUCT_IDS, PRODUCTS } from "./products";
import { carriedAtOnce, loadsOf, meetBadly } from "./traits";

describe("what stands apart", () => {
  it("is never beside what it makes gas or fire with", () => {
    for (const one of PRODUCT_IDS)
      for (const other of PRODUCT_IDS)
        if (meetBadly(one, other)) expect(storageGroup(one), `${one} ${other}`).not.toBe(storageGroup(other));
    const dry = ["calcium-hypochlorite", "dichlor", "bromine-tablets", "sodium-hypochlorite"] as const;
    expect(new Set(dry.map(storageGroup)).size).toBe(dry.length);
    expect(
      storedApart([{ product: "trichlor" }, { product: "hydrochloric-acid" }, { product: "dichlor" }]),
    ).toEqual([
      ["acid", [{ product: "hydrochloric-acid" }]],
      ["stabilised-chlorine", [{ product: "trichlor" }, { product: "dichlor" }]],
    ]);
  });
});

describe("a strength", () => {
  it("that nothing is sold at is odd, and every usual one is not", () => {
    for (const product of PRODUCT_IDS)
      expect(oddStrength({ product, strength: PRODUCTS[product].strength }), product).toBeNull();
    // "0.31" typed in a field of per cent
    expect(oddStrength({ product: "hydrochloric-acid", strength: 0.0031 })).toEqual([0.1, 0.38]);
    expect(oddStrength({ product: "sodium-hypochlorite", strength: 0.5 })).not.toBeNull();
  });
});

describe("what arms carry", () => {
  it("is no more than a bucket, and of calcium chloride what does not scald", () => {
    for (const product of PRODUCT_IDS)
      if (product !== "sodium-chloride") expect(carriedAtOnce(product), product).toBeLessThanOrEqual(5000);
    // 1.5 kg of 94 % in 12 kg of water: 1500 × 0.94 / 110.98 × 81.3 kJ = 1033 kJ over 13.5 kg × 3.9 kJ/(kg K)
    const heated = ((carriedAtOnce("calcium-chloride") * 0.94) / 110.98) * 81.3;
    expect(heated / (13.5 * 3.9)).toBeLessThan(20);
    // 50 kg for 400 m³ are 34 buckets, and no bucket of 50 kg.
    expect(loadsOf("calcium-chloride", 50_000)).toBe(34);
    expect(loadsOf("hydrochloric-acid", 500)).toBe(1);
    expect(loadsOf("hydrochloric-acid", 11_600)).toBe(10);
  });
});
