import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { chargeAt } from "../../water/charge";
import { freeChlorineFor } from "../../water/chlorine";
import { asRead, molar } from "../../water/molar";
import { activity, readingsAt, type Totals, totalsOf } from "../../water/sample";
import { anyWater, POOL_WATER } from "../../water/water.fixtures";
import {
  chargeExpression,
  chargePerPh,
  heldExpression,
  type LinearTotals,
  referenceOf,
  titratedExpression,
} from "./linearise";
import { type Linear, linear, plus } from "./programme";

/** Totals as expressions of nothing: constants, mmol/L. */
const asExpressions = (totals: Totals): LinearTotals => ({
  alkalinity: linear(1000 * totals.alkalinity),
  inorganicCarbon: linear(1000 * totals.inorganicCarbon),
  calcium: linear(1000 * totals.calcium),
  cyanurate: linear(1000 * totals.cyanurate),
  chlorine: linear(1000 * totals.chlorine),
  borate: linear(1000 * totals.borate),
});
const value = ({ constant, terms }: Linear, at: Record<string, number> = {}): number =>
  [...terms].reduce((sum, [name, factor]) => sum + factor * (at[name] ?? 0), constant);

describe("the water as linear expressions", () => {
  it("is the full equilibrium where it is tangent", () => {
    fc.assert(
      fc.property(anyWater, fc.double({ min: 6.8, max: 8.2, noNaN: true }), (water, ph) => {
        const totals = totalsOf(water);
        const reference = referenceOf(totals, water.ph);
        const expressions = asExpressions(totals);
        const { conditions } = reference;
        const charge = 1000 * chargeAt(conditions, totals, activity(ph)).charge;
        expect(value(chargeExpression(reference, expressions, ph))).toBeCloseTo(charge, 8);
        const titrated = asRead.alkalinity(value(titratedExpression(reference, expressions)) / 1000);
        expect(titrated).toBeCloseTo(readingsAt(totals, water.ph).totalAlkalinity, 6);
      }),
    );
  });

  it("leaves it by the square of the distance", () => {
    const totals = totalsOf({ ...POOL_WATER, cyanuricAcid: 40, freeChlorine: 3 });
    const reference = referenceOf(totals, 7.5);
    const miss = (more: number) => {
      const moved = { ...totals, chlorine: totals.chlorine + molar.chlorine(more) };
      const exact = 1000 * chargeAt(reference.conditions, moved, activity(7.5)).charge;
      return Math.abs(value(chargeExpression(reference, asExpressions(moved), 7.5)) - exact);
    };
    expect(miss(0.01)).toBeLessThan(1e-6);
    // Ten times as far, about a hundred times as wrong.
    expect(miss(1) / miss(0.1)).toBeGreaterThan(40);
    expect(miss(1) / miss(0.1)).toBeLessThan(160);
  });

  it("holds the chlorine that gives an amount of the acid that kills", () => {
    const water = { ...POOL_WATER, cyanuricAcid: 50, temperature: 27 };
    const totals = totalsOf(water);
    const held = heldExpression(referenceOf(totals, 7.5), asExpressions(totals), molar.chlorine(0.05));
    expect(asRead.chlorine(value(held) / 1000)).toBeCloseTo(freeChlorineFor(0.05, { ...water, ph: 7.5 }), 8);
  });

  it("tells a distance in charge as one in pH", () => {
    const totals = totalsOf(POOL_WATER);
    const reference = referenceOf(totals, 7.2);
    const at = (ph: number) => 1000 * chargeAt(reference.conditions, totals, activity(ph)).charge;
    expect(chargePerPh(reference, 7.6) * 0.4).toBeCloseTo(at(7.6) - at(7.2), 9);
    expect(chargePerPh(reference, 7.2)).toBeGreaterThan(0);
  });

  it("adds up like sums do", () => {
    const sum = plus(linear(1, { a: 2 }), linear(3, { a: -1, b: 4 }), 2);
    expect(sum.constant).toBe(7);
    expect(Object.fromEntries(sum.terms)).toEqual({ a: 0, b: 8 });
    expect(value(sum, { a: 5, b: 1 })).toBe(15);
  });
});
