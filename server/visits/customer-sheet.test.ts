import { millisecondsInHour } from "date-fns/constants";
import { describe, expect, it } from "vitest";
import type { Finding } from "#core";
import { swimming } from "./customer-sheet";

const finding = (change: Partial<Finding>): Finding => ({
  code: "ph.high",
  quantity: "ph",
  value: 8.4,
  bound: "within",
  limit: 7.8,
  aim: 7.5,
  closes: false,
  rangeSet: "x",
  ...change,
});
const noon = new Date("2026-07-01T12:00:00Z");
const hoursAfter = (hours: number) => new Date(noon.getTime() + hours * millisecondsInHour);

describe("when the water may be used", () => {
  it("is now when nothing closes it and nothing was given", () => {
    expect(swimming([], [], 4)).toEqual({ may: "now" });
    expect(swimming([finding({})], [], 4)).toEqual({ may: "now" });
  });
  it("is once the last dose has mixed, whichever was written down last", () => {
    expect(swimming([], [hoursAfter(0.5), noon], 4)).toEqual({ may: "from", at: hoursAfter(4.5) });
    expect(swimming([], [noon], 1 / 3)).toEqual({ may: "from", at: hoursAfter(1 / 3) });
  });
  it("is not while something closes the basin, doses or none", () => {
    const closing = finding({ code: "freeChlorine.low", quantity: "freeChlorine", closes: true });
    expect(swimming([finding({}), closing], [noon], 4)).toEqual({
      may: "not",
      because: ["freeChlorine.low"],
    });
  });
  it("is again when the last test of the visit no longer had it", () => {
    const mended = finding({ closes: true, settled: true });
    expect(swimming([mended], [noon], 4)).toEqual({ may: "from", at: hoursAfter(4) });
  });
});
