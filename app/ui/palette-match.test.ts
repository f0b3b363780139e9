import { describe, expect, it } from "vitest";
import { BEFORE_ID, match } from "./palette-match";

describe("what the palette finds", () => {
  it("has every typed word in its name, in any order and case", () => {
    expect(match("Terrace pool Hotel Three Cairns", "TERR")).toBe(1);
    expect(match("Terrace pool Hotel Three Cairns", "hotel terr")).toBe(0.5);
    expect(match("Terrace pool Hotel Three Cairns", "terrace spa")).toBe(0);
  });

  it("is not made of letters strewn over a name, nor of an id", () => {
    expect(match("Settings: round in your calendar", "terrace")).toBe(0);
    expect(match(`Fern spa${BEFORE_ID}019abb3b-fb86-7161`, "9abb")).toBe(0);
  });

  it("is everything while nothing is typed", () => {
    expect(match("Round", " ")).toBe(1);
  });
});
