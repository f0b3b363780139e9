import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf } from "../dosing/plan/highs";
import { type LearnedResult, learnedIn } from "./learned.fixtures";

/** What is learned in a world with other laws of loss; figures to quote come from `npm run bench:learn`. */
let found: LearnedResult;
beforeAll(async () => {
  const solver = solverOf((await loadHighs()) as unknown as Highs);
  found = learnedIn({ seed: 4, world: "byLoads", basins: 10, weeks: 12, weakening: 0.01 }, solver);
}, 300_000);

describe("a world of loads, gusts, rain and helpers", () => {
  it.each([
    ["freeChlorine", 0.8],
    ["ph", 0.65],
    ["totalAlkalinity", 0.3],
  ] as const)("is told ahead in %s better than by its last or its usual reading", (quantity, ratio) => {
    const { count, told, last, usual, inside } = found.errors[quantity];
    expect(count).toBeGreaterThanOrEqual(40);
    expect(told / Math.min(last, usual)).toBeLessThan(ratio);
    expect(inside / count).toBeGreaterThan(0.65);
  });

  it("gives a titrant away that weakens, and accuses no good bottle or delivery", () => {
    expect(found.weakeningToldAt).toBeGreaterThan(0.6);
    expect(found.bottles.accused + found.deliveries.accused).toBe(0);
  });
});
