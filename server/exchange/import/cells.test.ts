import { describe, expect, it } from "vitest";
import { InputFault } from "#core";
import { dateIn, instantOf, minuteIn, numberIn, readingIn } from "./cells";
import { guessMapping, type Mapping } from "./mapping";

const mapping: Mapping = {
  columns: {},
  dates: "iso",
  decimal: ".",
  temperature: "C",
  hardness: "ppm",
  doses: "g",
  basinId: null,
};

describe("a number in a cell", () => {
  it.each([
    ["1.5", ".", 1.5],
    ["1,5", ",", 1.5],
    ["1,234.5", ".", 1234.5],
    ["1.234,5", ",", 1234.5],
    ["12 000", ",", 12_000],
    ["-3", ".", -3],
    [".5", ".", 0.5],
  ] as const)("%s with %s is %d", (text, decimal, value) => expect(numberIn(text, decimal, "x")).toBe(value));
  it.each([
    ["1,5", "."],
    ["1.5", ","],
    ["1,23,456", "."],
    ["=1+2", "."],
    ["1e3", "."],
    ["0x10", "."],
    ["", "."],
    ["-", "."],
    ["1.2.3", "."],
  ] as const)("%j with %s is none", (text, decimal) =>
    expect(() => numberIn(text, decimal, "x")).toThrow(InputFault),
  );
});

describe("a reading in a cell", () => {
  it("is converted by hand-checked factors", () => {
    // 10 grains a US gallon: 10 × 64.79891 mg / 3.785412 L = 171.2 mg/L
    expect(readingIn("10", "calciumHardness", { ...mapping, hardness: "grains" }).value).toBeCloseTo(
      171.18,
      2,
    );
    // 10 German degrees: 100 mg CaO / L × 100.087 / 56.077 = 178.5 mg/L
    expect(readingIn("10", "totalAlkalinity", { ...mapping, hardness: "german" }).value).toBeCloseTo(
      178.48,
      2,
    );
    expect(readingIn("2.5", "totalHardness", { ...mapping, hardness: "mmol" }).value).toBeCloseTo(250.22, 2);
    // Chlorine is no hardness.
    expect(readingIn("3", "freeChlorine", { ...mapping, hardness: "grains" }).value).toBe(3);
    expect(readingIn("86", "temperature", { ...mapping, temperature: "F" }).value).toBe(30);
  });
  it("keeps what it is bounded by", () => {
    expect(readingIn("< 30", "cyanuricAcid", mapping)).toEqual({ value: 30, bound: "at-most" });
    expect(readingIn(">=8.2", "ph", mapping)).toEqual({ value: 8.2, bound: "at-least" });
    expect(readingIn("7.5", "ph", mapping)).toEqual({ value: 7.5, bound: "within" });
  });
  it("that no water can have is refused with its limit", () => {
    expect(() => readingIn("15", "ph", mapping)).toThrow(
      expect.objectContaining({ code: "too-high", limit: 11 }),
    );
  });
});

describe("a date in a cell", () => {
  it.each([
    ["2026-05-31", "iso", "2026-05-31", null],
    ["2026-05-31T14:05", "iso", "2026-05-31", 845],
    ["31.5.2026", "day-month", "2026-05-31", null],
    ["31/05/26 2:05 pm", "day-month", "2026-05-31", 845],
    ["5/31/2026", "month-day", "2026-05-31", null],
    // 2026-05-31 is 46 173 days after 1899-12-30 and 44 711 after 1904-01-01.
    ["46173", "serial-1900", "2026-05-31", null],
    ["46173.5", "serial-1900", "2026-05-31", 720],
    ["44711", "serial-1904", "2026-05-31", null],
    // The first day after the leap day that never was.
    ["61", "serial-1900", "1900-03-01", null],
  ] as const)("%s as %s is %s", (text, form, day, minute) =>
    expect(dateIn(text, form)).toEqual({ day, minute }),
  );
  it.each([
    ["31.2.2026", "day-month"],
    ["5/31/2026", "day-month"],
    ["2026-13-01", "iso"],
    ["yesterday", "iso"],
    ["-5", "serial-1900"],
    ["", "iso"],
    ["2026-05-31 25:00", "iso"],
  ] as const)("%s as %s is none", (text, form) => expect(() => dateIn(text, form)).toThrow(InputFault));
  it("has a time told in any of the usual ways", () => {
    expect(["14:05", "2:05 PM", "14.05", "0.5868055556", "12:00 am"].map((text) => minuteIn(text))).toEqual([
      845, 845, 845, 845, 0,
    ]);
  });
  it("is an instant in the firm's time zone, summer and winter", () => {
    expect(instantOf("2026-07-01", 720, "America/Denver").toISOString()).toBe("2026-07-01T18:00:00.000Z");
    expect(instantOf("2026-12-01", 720, "America/Denver").toISOString()).toBe("2026-12-01T19:00:00.000Z");
  });
});

describe("a guess at the columns", () => {
  it("goes by the heading and the first rows", () => {
    const heading = ["Datum", "Pool", "FC (ppm)", "pH", "Alk", "Water temp", "Remarks", "Whatever"];
    const guess = guessMapping(heading, [["31.5.2026", "Long", "1,5", "7,4", "90", "82", "x", "y"]], false);
    expect(guess).toMatchObject({
      columns: {
        0: "date",
        1: "basin",
        2: "reading.freeChlorine",
        3: "reading.ph",
        4: "reading.totalAlkalinity",
        5: "reading.temperature",
        6: "note",
      },
      dates: "day-month",
      decimal: ",",
      temperature: "F",
    });
    expect(guessMapping(["Date"], [["44711"]], true).dates).toBe("serial-1900");
    expect(guessMapping(["Date"], [["42000"]], true).dates).toBe("serial-1904");
    expect(guessMapping(["Date"], [["5/31/2026"]], true).dates).toBe("month-day");
  });
});
