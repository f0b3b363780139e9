import { describe, expect, it } from "vitest";
import { InputFault } from "../fault";
import {
  type ControllerPair,
  checkMeter,
  controllerOff,
  filterIsFull,
  orpShape,
  PLANT,
  PLANT_KINDS,
  plantValue,
} from "./plant";

const DAY = 86_400_000;
const pairs = (...rows: [shown: number, drops: number][]): ControllerPair[] =>
  rows.map(([shown, drops], day) => ({ at: day * DAY, shown, drops }));

describe("a gauge", () => {
  it("shows what such a gauge can, and names what it cannot", () => {
    for (const kind of PLANT_KINDS) {
      expect(plantValue(kind, PLANT[kind].high)).toBe(PLANT[kind].high);
      for (const wrong of [PLANT[kind].high + 1, PLANT[kind].low - 1, Number.NaN, "12"])
        expect(() => plantValue(kind, wrong), `${kind} ${wrong}`).toThrow(InputFault);
    }
    expect(() => plantValue("filterPressure", -1)).toThrow(/filterPressure/);
  });

  it("that counts water only counts up, unless it was changed", () => {
    expect(() => checkMeter(10, null, false)).not.toThrow();
    expect(() => checkMeter(10, 10, false)).not.toThrow();
    expect(() => checkMeter(9, 10, false)).toThrow(InputFault);
    expect(() => checkMeter(9, 10, true)).not.toThrow();
  });
});

describe("a filter", () => {
  it("wants cleaning from 25 % over its clean pressure, or 8 psi where that is less", () => {
    // 12 psi clean: 25 % are 3 psi, less than 8.
    const psi = 6.894757;
    expect(filterIsFull(14.9 * psi, 12 * psi)).toBe(false);
    expect(filterIsFull(15 * psi, 12 * psi)).toBe(true);
    // 40 psi clean: 25 % would be 10 psi; 8 come before.
    expect(filterIsFull(47.9 * psi, 40 * psi)).toBe(false);
    expect(filterIsFull(48.1 * psi, 40 * psi)).toBe(true);
    expect(filterIsFull(undefined, 80)).toBeNull();
    expect(filterIsFull(100, undefined)).toBeNull();
    expect(filterIsFull(100, 0)).toBeNull();
  });
});

describe("a controller beside the drops", () => {
  it("is as it should be within what both differ by anyway", () => {
    expect(controllerOff("controllerPh", pairs([7.5, 7.4]))).toBeNull();
    expect(controllerOff("controllerPh", [])).toBeNull();
    expect(controllerOff("controllerChlorine", pairs([2.4, 2]))).toBeNull();
  });

  it("is off by what it shows more, and drifts when it did so before", () => {
    expect(controllerOff("controllerPh", pairs([7.9, 7.5]))?.off).toBeCloseTo(0.4);
    expect(controllerOff("controllerPh", pairs([7.9, 7.5]))?.drifts).toBe(false);
    expect(controllerOff("controllerPh", pairs([7.8, 7.5], [7.9, 7.5]))?.drifts).toBe(true);
    // Off to either side is a bad reading, not a drift.
    expect(controllerOff("controllerPh", pairs([7.2, 7.5], [7.9, 7.5]))?.drifts).toBe(false);
    // Set right since.
    expect(controllerOff("controllerPh", pairs([7.9, 7.5], [7.5, 7.5]))).toBeNull();
  });

  it("by its electrode is held against what its own basin taught: 60 mV are found, the water's own moves are not", () => {
    // By hand: HOCl from 0.1 to 0.01 mg/L is one tenfold, 29.58 mV; pH from 7.2 to 7.8 takes 0.6 × 29.58 = 17.75 mV.
    expect(orpShape(0.1, 7.5) - orpShape(0.01, 7.5)).toBeCloseTo(29.58, 6);
    expect(orpShape(0.1, 7.2) - orpShape(0.1, 7.8)).toBeCloseTo(17.748, 3);
    const electrode = 930;
    const waters: [hocl: number, ph: number][] = [
      [0.05, 7.4],
      [0.02, 7.8],
      [0.08, 7.2],
      [0.03, 7.6],
      [0.05, 7.5],
    ];
    const rows = waters.map(([hocl, ph]): [number, number] => [
      electrode + orpShape(hocl, ph),
      orpShape(hocl, ph),
    ]);
    const shownOf = (offs: number[]) =>
      pairs(...rows.map(([shown, drops], index): [number, number] => [shown + (offs[index] ?? 0), drops]));
    expect(controllerOff("orp", shownOf([]))).toBeNull();
    expect(controllerOff("orp", shownOf([0, 0, 0, 0, -60]))?.off).toBeCloseTo(-60);
    expect(controllerOff("orp", shownOf([5, -5, 0, -60, -60]))?.drifts).toBe(true);
    // What nobody has learned yet is held against nothing.
    expect(controllerOff("orp", shownOf([0, 0, -60]).slice(0, 3))).toBeNull();
  });
});
