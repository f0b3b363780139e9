import { describe, expect, it } from "vitest";
import { saturation } from "../water/saturation";
import { balanceOf, type Made } from "./balance";

const made = (
  value: number,
  low: number | null,
  high: number | null,
  bound: Made["bound"] = "within",
): Made => ({ value, unit: "mg/L", low, high, bound, kind: "titration" });
const READINGS = {
  ph: { ...made(7.5, 7.4, 7.6), kind: "comparator" as const },
  totalAlkalinity: made(100, 90, 100),
  calciumHardness: made(300, 290, 300),
};

describe("the balance of a visit's readings", () => {
  it("is that of the water they describe, and says what it assumed", () => {
    const balance = balanceOf({ ...READINGS, cyanuricAcid: made(50, 45, 55) });
    expect(balance?.saturation).toEqual(
      saturation({
        ph: 7.5,
        totalAlkalinity: 100,
        calciumHardness: 300,
        cyanuricAcid: 50,
        freeChlorine: 0,
        borate: 0,
        temperature: 25,
        totalDissolvedSolids: 1000,
      }),
    );
    expect(balance?.assumed).toEqual(["freeChlorine", "temperature", "totalDissolvedSolids"]);
    expect(balance?.spreads.ph).toEqual({ low: 7.4, high: 7.6, deviation: 0 });
    expect(balance?.spreads.totalAlkalinity.deviation).toBeGreaterThan(0.05);
  });
  it("takes a stabiliser under its scale as anywhere below", () => {
    const balance = balanceOf({ ...READINGS, cyanuricAcid: made(30, null, 30, "at-most") });
    expect(balance?.water.cyanuricAcid).toBe(15);
    expect(balance?.spreads.cyanuricAcid).toEqual({ low: 0, high: 30, deviation: 0 });
  });
  it("is none without its readings, off a scale, or when they do not fit together", () => {
    const { ph: _, ...without } = READINGS;
    expect(balanceOf(without)).toBeNull();
    expect(balanceOf({ ...READINGS, ph: made(8.2, 8.2, null, "at-least") })).toBeNull();
    expect(
      balanceOf({ ...READINGS, totalAlkalinity: made(10, 0, 10), cyanuricAcid: made(90, 85, 95) }),
    ).toBeNull();
  });
});
