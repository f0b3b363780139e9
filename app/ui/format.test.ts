import { millisecondsInHour } from "date-fns/constants";
import { describe, expect, it } from "vitest";
import {
  ago,
  agoShort,
  bracket,
  bracketOf,
  dayText,
  hoursText,
  plain,
  signed,
  unitText,
  valueText,
  volumeText,
  withUnit,
} from "./format";

const NOW = new Date("2026-11-24T12:00:00Z");
const earlier = (hours: number) => new Date(NOW.getTime() - hours * millisecondsInHour);

describe("values", () => {
  it("have the decimals that their test can tell apart, and the firm's unit", () => {
    expect(withUnit("freeChlorine", 4.6, "us")).toBe("4.6 ppm");
    expect(withUnit("ph", 7.5, "us")).toBe("7.5");
    expect(withUnit("calciumHardness", 1250, "metric")).toBe("1,250 ppm");
    expect(withUnit("temperature", 40, "us")).toBe("104 °F");
    expect(withUnit("temperature", 40, "metric")).toBe("40 °C");
    expect(withUnit("temperature", 40, "imperial")).toBe("40 °C");
    expect(withUnit("acidDemand", 0.2, "us")).toBe("0.20 meq/L");
    expect(valueText("totalAlkalinity", 90, "us")).toBe("90");
    expect(unitText("salt", "us")).toBe("ppm");
  });
  it("tell what is known of their error", () => {
    const within = { value: 4.6, unit: "mg/L" as const, low: 4.4, high: 4.6, bound: "within" as const };
    expect(bracket("freeChlorine", within, "us")).toBe("4.4 to 4.6");
    expect(bracket("freeChlorine", { ...within, low: 5, high: null, bound: "at-least" }, "us")).toBe(
      "at least 5.0",
    );
    expect(bracket("freeChlorine", { ...within, low: null, high: 0.5, bound: "at-most" }, "us")).toBe(
      "at most 0.5",
    );
    const text = (value: number) => plain(value, 1);
    expect(bracketOf({ low: 2.65, high: 3.16 }, text)).toBe("2.7 to 3.2");
    expect(bracketOf({ low: 5, high: null }, text)).toBe("at least 5");
    expect(bracketOf({ low: null, high: 5 }, text)).toBe("at most 5");
  });
  it("carry a sign where it is the point", () => {
    expect(signed(0.05)).toBe("+0.05");
    expect(signed(-0.31).replace("−", "-")).toBe("-0.31");
    expect(signed(0)).toBe("0.00");
  });
  it("of a basin are told to three figures or so", () => {
    expect(volumeText(37_854, "us")).toBe("10,000 gal");
    expect(volumeText(1590, "metric")).toBe("1,590 L");
    expect(volumeText(300, "us")).toBe("79 gal");
  });
});

describe("ages", () => {
  it.each([
    [0.5, "30 minutes ago", "1 h"],
    [3, "3 hours ago", "3 h"],
    [30, "30 hours ago", "30 h"],
    [50, "2 days ago", "2 d"],
    [24 * 90, "3 months ago", "90 d"],
  ])("of %s hours", (hours, long, short) => {
    expect(ago(earlier(hours), NOW)).toBe(long);
    expect(agoShort(earlier(hours), NOW)).toBe(short);
  });
  it("are told in words where a sentence needs them", () => {
    expect(hoursText(0.01)).toBe("1 minute");
    expect(hoursText(0.7)).toBe("42 minutes");
    expect(hoursText(1)).toBe("1 hour");
    expect(hoursText(40)).toBe("2 days");
  });
  it("of calendar days do not move with the time zone", () => {
    expect(dayText("2026-04-01")).toBe("Apr 1, 2026");
  });
});
