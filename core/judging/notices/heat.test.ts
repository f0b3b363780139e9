import { describe, expect, it } from "vitest";
import type { Measurement } from "../../measure/quantity";
import { cell, heat } from "./heat";

const read = (value: number, bound: Measurement["bound"] = "within"): Measurement => ({
  value,
  unit: "°C",
  low: value,
  high: value,
  bound,
});

describe("temperature", () => {
  it("names who stays out from 38 °C on, and the shock of cold water under 15", () => {
    const codes = (value: number) => heat(read(value)).map(({ code }) => code);
    expect(codes(37.9)).toEqual([]);
    expect(codes(38)).toEqual(["water.hot"]);
    expect(codes(44)).toEqual(["water.hot"]);
    expect(codes(15)).toEqual([]);
    expect(codes(11)).toEqual(["water.cold"]);
    expect(heat(undefined)).toEqual([]);
  });
});

describe("a cell that gives little", () => {
  it("has too little salt for its plate, or cold water, and only where there is a cell", () => {
    const codes = (salt: number, temperature: number) =>
      cell("salt-cell", read(salt), 2700, read(temperature)).map(({ code }) => code);
    expect(codes(1200, 25)).toEqual(["cell.low-salt"]);
    expect(codes(3000, 12)).toEqual(["cell.cold"]);
    expect(codes(3000, 25)).toEqual([]);
    expect(cell("chlorine", read(0), 2700, read(5))).toEqual([]);
    expect(cell("salt-cell", read(1200, "at-least"), 2700, undefined)).toEqual([]);
  });
});
