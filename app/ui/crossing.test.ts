import { describe, expect, it } from "vitest";
import type { Crossing } from "#core";
import { words } from "../words";
import { crossingText } from "./crossing";

const NOW = new Date("2026-06-01T12:00:00Z");
const DAY = 86_400_000;
const said = (more: Partial<Crossing>) =>
  crossingText(
    { quantity: "ph", edge: "high", limit: 7.8, at: NOW.getTime() + 2 * DAY, chance: 0.8, ...more },
    "us",
    "UTC",
    NOW,
  );

describe("a limit that will be passed", () => {
  it("is one whole sentence with its likelihood in the verb, by the name of a near day", () => {
    expect(said({})).toBe("pH will probably pass 7.8 about Wednesday.");
    expect(said({ chance: 0.5, edge: "low", limit: 7.2 })).toBe("pH may fall below 7.2 about Wednesday.");
    expect(said({ chance: 0.95, at: NOW.getTime() + 20 * DAY })).toMatch(
      /^pH will almost certainly pass 7\.8 about Jun 21/,
    );
  });
  it("says where it stands once it has passed", () => {
    expect(said({ at: NOW.getTime() - DAY, chance: 0.95 })).toBe("pH is almost certainly above 7.8 by now.");
    expect(said({ at: NOW.getTime(), chance: 0.3, quantity: "freeChlorine", edge: "low", limit: 1 })).toBe(
      "Free chlorine may be below 1.0 ppm by now.",
    );
  });
});

describe("a feeder that a plan sets", () => {
  it("is turned up or down by a share, and on from a standstill", () => {
    const { feeder } = words.ahead.leaves;
    expect(feeder({ to: "120 g of chlorine a day", more: true, share: "20%" })).toBe(
      "Turn the feeder up by 20%: 120 g of chlorine a day.",
    );
    expect(feeder({ to: "60 g of chlorine a day", more: false, share: "50%" })).toMatch(
      /^Turn the feeder down by 50%/,
    );
    expect(feeder({ to: "40 g of chlorine a day", more: true, share: null })).toBe(
      "Turn the feeder on: 40 g of chlorine a day.",
    );
  });
});
