import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { accountsOf, inCents } from "./account";

const visit = (id: string, siteId: string, day = "2026-05-04") => ({
  id,
  day,
  siteId,
  site: siteId === "a" ? "Ashgill" : "Mere End",
  basin: "Cedar",
});
const dose = (visitId: string, grams: number, cost: number | null = 4) => ({
  visitId,
  productId: "acid",
  product: "Acid",
  grams,
  cost,
});

describe("a month's accounts", () => {
  it("add up on paper", () => {
    const accounts = accountsOf({
      visits: [visit("1", "b"), visit("2", "a"), visit("3", "a")],
      // Twice into one water is one line: 0.5 kg at 4 is 2.
      doses: [dose("2", 200), dose("2", 300), dose("3", 250), dose("1", 100)],
      prices: new Map([["a", { perVisit: 45, products: { acid: 9.9 } }]]),
      visitPrice: 30,
    });
    expect(accounts.map(({ site, visits, total }) => [site, visits, total])).toEqual([
      // 45 + 0.5 × 9.9 = 49.95, and 45 + 0.25 × 9.9 = 47.475, in cents 47.48.
      ["Ashgill", 2, 97.43],
      // 30 + 0.1 × 4
      ["Mere End", 1, 30.4],
    ]);
    expect(accounts[0]?.lines.map(({ quantity, price, amount }) => [quantity, price, amount])).toEqual([
      [1, 45, 45],
      [0.5, 9.9, 4.95],
      [1, 45, 45],
      [0.25, 9.9, 2.48],
    ]);
  });

  it("leave what has no price open, and say so", () => {
    const [account] = accountsOf({
      visits: [visit("1", "a")],
      doses: [dose("1", 100, null), dose("1", 0)],
      prices: new Map(),
      visitPrice: 30,
    });
    expect(account).toMatchObject({ total: 30, unpriced: 1 });
    expect(account?.lines[1]).toMatchObject({ kind: "product", price: null, amount: null });
  });

  it("are the sum of their lines, to the cent, whatever went in", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(50_000), fc.nat(9999)), { maxLength: 30 }), (given) => {
        const [account] = accountsOf({
          visits: [visit("1", "a")],
          doses: given.map(([grams, cost], index) => ({
            ...dose("1", grams, cost / 100),
            productId: `${index}`,
          })),
          prices: new Map(),
          visitPrice: 12.34,
        });
        const cents = (account?.lines ?? []).reduce(
          (sum, { amount }) => sum + Math.round((amount ?? 0) * 100),
          0,
        );
        expect(Math.round((account?.total ?? 0) * 100)).toBe(cents);
      }),
    );
    expect(inCents(1.005)).toBe(1.01);
  });
});
