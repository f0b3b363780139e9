import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { meaningsOf, numberFrom } from "./typed";

describe("a number as people write it", () => {
  it.each([
    ["15,000", 15_000],
    ["15000", 15_000],
    ["15 000", 15_000],
    ["15 000", 15_000],
    ["15'000", 15_000],
    ["1,234,567", 1_234_567],
    ["1,234.5", 1234.5],
    ["1.234,5", 1234.5],
    ["1.234.567", 1_234_567],
    ["1,5", 1.5],
    ["15,00", 15],
    ["0,125", 0.125],
    ["0.125", 0.125],
    ["15.000", 15],
    [".5", 0.5],
    [",5", 0.5],
    ["5.", 5],
    ["-2", -2],
    ["−2,5", -2.5],
    ["+3", 3],
    [" 7.4 ", 7.4],
    ["1e-7", 1e-7],
    ["0", 0],
    ["1,000", 1000],
  ])("%j is %d", (text, value) => expect(numberFrom(text)).toBe(value));

  it.each([
    "",
    " ",
    "abc",
    "1,2,3",
    "1.2.3",
    "15,00,000",
    "1,2345.6",
    "7,4 pH",
    "--1",
    ".",
    ",",
    "1 5",
    "1e",
    "0x10",
    "1,234 567",
  ])("%j is none", (text) => expect(numberFrom(text)).toBeNaN());

  it.each([
    ["1.234,5", ",", 1234.5],
    ["1,234.5", ".", 1234.5],
    ["15,000", ",", 15],
    ["15.000", ",", 15_000],
    ["15,000", ".", 15_000],
  ] as const)("%j with %j is %d", (text, decimal, value) => expect(numberFrom(text, decimal)).toBe(value));

  it("is asked about where it means two: a dose is not guessed", () => {
    expect(meaningsOf("1.250")).toEqual([1.25, 1250]);
    expect(meaningsOf("1,250")).toEqual([1.25, 1250]);
    expect(meaningsOf("31.450")).toEqual([31.45, 31_450]);
    for (const text of ["1.25", "0.125", "1250", "12,5", "1.234.567", "", "abc", "1.2500"])
      expect(meaningsOf(text), text).toBeNull();
  });

  it("comes back as this program writes it", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 5e6, noNaN: true }),
        fc.integer({ min: 0, max: 3 }),
        (value, digits) => {
          const rounded = Number(value.toFixed(digits));
          const written = new Intl.NumberFormat("en-US", { maximumFractionDigits: digits }).format(rounded);
          expect(numberFrom(written)).toBeCloseTo(rounded, 9);
        },
      ),
    );
  });
});
