import { describe, expect, it } from "vitest";
import { readScale, scalePlaces } from "./scale";

const phenolRed = { kind: "comparator", marks: [6.8, 7, 7.2, 7.4, 7.6, 7.8, 8, 8.2] } as const;
const tube = { kind: "turbidity", marks: [30, 35, 40, 50, 60] } as const;
const scale = (method: typeof phenolRed | typeof tube) => ({ kind: method.kind, marks: [...method.marks] });
const read = (method: typeof phenolRed | typeof tube, from: number | null, to: number | null, dilution = 1) =>
  readScale(scale(method), { from, to }, "mg/L", dilution);

describe("a comparator", () => {
  it("between two standards is that interval", () => {
    expect(read(phenolRed, 7.4, 7.6)).toMatchObject({ value: 7.5, low: 7.4, high: 7.6, bound: "within" });
  });
  it("on a standard reaches half way to each neighbour", () => {
    expect(read(phenolRed, 7.4, 7.4)).toMatchObject({ value: 7.4, low: 7.3, high: 7.5, bound: "within" });
  });
  it("at its last standards is a bound, never a number", () => {
    for (const to of [8.2, null])
      expect(read(phenolRed, 8.2, to)).toMatchObject({ value: 8.2, low: 8.2, high: null, bound: "at-least" });
    for (const from of [6.8, null])
      expect(read(phenolRed, from, 6.8)).toMatchObject({
        value: 6.8,
        low: null,
        high: 6.8,
        bound: "at-most",
      });
  });
  it("refuses what is not on it, and standards that are not neighbours", () => {
    expect(() => read(phenolRed, 7.3, 7.3)).toThrow("from: unknown");
    expect(() => read(phenolRed, 7, 7.6)).toThrow("to: inconsistent");
    expect(() => read(phenolRed, null, 7.6)).toThrow("from: inconsistent");
    expect(() => read(phenolRed, null, null)).toThrow("from: missing");
  });
});

describe("a turbidity tube", () => {
  it("has a real match on its last lines, and bounds beyond them", () => {
    expect(read(tube, 30, 30)).toMatchObject({ value: 30, low: 27.5, high: 32.5, bound: "within" });
    expect(read(tube, null, 30)).toMatchObject({ value: 30, low: null, high: 30, bound: "at-most" });
    expect(read(tube, 60, null)).toMatchObject({ value: 60, low: 60, high: null, bound: "at-least" });
  });
  it("reads a diluted sample times its dilution, bracket and all", () => {
    expect(read(tube, 50, 60, 2)).toMatchObject({ value: 110, low: 100, high: 120 });
  });
});

describe("the places to choose from", () => {
  it("can each be read, and rise", () => {
    for (const method of [phenolRed, tube]) {
      const values = scalePlaces(scale(method)).map((place) => readScale(scale(method), place, "mg/L"));
      const middle = values.map(({ value }) => value);
      expect(middle).toEqual([...middle].sort((a, b) => a - b));
      expect(values[0]?.bound).toBe("at-most");
      expect(values.at(-1)?.bound).toBe("at-least");
      expect(values.slice(1, -1).every(({ bound }) => bound === "within")).toBe(true);
    }
  });
});
