import { describe, expect, it } from "vitest";
import type { RecentDose } from "../../doubts/context";
import type { Readings } from "../../measure/quantity";
import { rangesOf } from "../../ranges/range-set";
import { RANGE_SETS } from "../../ranges/sets";
import { standIns } from "../../water/stand-ins";
import { findings } from "../findings";
import { causes } from "./causes";
import { traces } from "./traces";

const made = (value: number, bound: "within" | "at-least" = "within") =>
  ({ value, unit: "mg/L", low: value, high: bound === "within" ? value : null, bound }) as const;
const water = standIns({ kind: "pool", outdoors: true });

describe("metals, phosphate and borate", () => {
  it.each(Object.values(RANGE_SETS))("have limits in $id, and close nothing", (set) => {
    const found = (readings: Readings) => findings(readings, set, "vinyl", water);
    expect(found({ iron: made(0.3), copper: made(0.3), phosphate: made(0.5), borate: made(50) })).toEqual([]);
    const over = found({ iron: made(0.4), copper: made(0.5), phosphate: made(1), borate: made(80) });
    expect(over.map(({ code, closes }) => [code, closes]).sort()).toEqual([
      ["borate.high", false],
      ["copper.high", false],
      ["iron.high", false],
      ["phosphate.high", false],
    ]);
    // The last standard of a scale is "this or more".
    expect(found({ copper: made(2, "at-least") })[0]?.code).toBe("copper.high");
  });

  const ranges = rangesOf({ ...RANGE_SETS["outdoor-fixed-band"], id: "own" } as never, "vinyl", water);
  const told = (readings: Readings) => traces(readings, ranges);
  it("say what they mean when they are high", () => {
    expect(told({ iron: made(0.2), copper: made(0.2), phosphate: made(0.3) })).toEqual([]);
    expect(told({ copper: made(0.5) })).toEqual([
      { code: "metal.stains", quantity: "copper", value: 0.5, limit: 0.3 },
    ]);
    // Chlorine that holds keeps algae away, food or no food.
    expect(told({ phosphate: made(1), freeChlorine: made(3) })).toMatchObject([{ isHeld: true }]);
    expect(told({ phosphate: made(1), freeChlorine: made(0.2) })).toMatchObject([{ isHeld: false }]);
    expect(told({ phosphate: made(1) })).toMatchObject([{ isHeld: false }]);
  });
  it("tell of borate from where it moves an amount", () => {
    expect(told({ borate: made(0) })).toEqual([]);
    expect(told({ borate: made(30) })).toEqual([{ code: "borate.holds", value: 30 }]);
  });

  const cause = (readings: Readings, doses: RecentDose[] = []) =>
    causes({
      findings: findings(readings, RANGE_SETS["outdoor-fixed-band"] as never, "vinyl", water),
      readings,
      doses,
      fillHardness: null,
      sanitiser: "chlorine",
      kind: "pool",
      habits: null,
    }).map(({ code }) => code);
  const dose = (product: RecentDose["product"]): RecentDose => ({
    product,
    strength: 1,
    grams: 300,
    litres: 40_000,
    hoursAgo: 240,
  });
  it("are put down to what the log and the pH say", () => {
    expect(cause({ copper: made(0.5) })).toEqual([]);
    expect(cause({ copper: made(0.5), ph: made(6.8) })).toEqual(["cause.copper-from-low-ph"]);
    expect(cause({ copper: made(0.5) }, [dose("copper-algaecide")])).toEqual(["cause.copper-from-algaecide"]);
    expect(cause({ copper: made(0.1) }, [dose("copper-algaecide")])).toEqual([]);
    expect(cause({ phosphate: made(1) }, [dose("sequestrant")])).toEqual([
      "cause.phosphate-from-sequestrant",
    ]);
  });
});
