import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf } from "../dosing/plan/highs";
import type { Solver } from "../dosing/plan/programme";
import { type Hand, runLoop, type Tally } from "./firm.fixtures";
import { byTable, goodHand } from "./hands.fixtures";
import { byPlan } from "./pelagon.fixtures";

/** The chain in its smallest form: log, what is learned, plan, water. Figures to quote come from `npm run bench:loop`. */
let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

const WEEKS = 10;
const run = (hand: Hand) => {
  const results = runLoop({ seed: 3, world: "byShares", basins: 3, weeks: WEEKS }, hand, solver);
  const sum = (key: keyof Tally) => results.reduce((all, { tally }) => all + tally[key], 0);
  return { sum, share: (key: keyof Tally) => sum(key) / sum("hours") };
};

describe("from the log to the water and back", () => {
  it("keeps pools right for longer than a table does and a good hand's chlorine within its limits", () => {
    const plan = run(byPlan());
    const table = run(byTable());
    const good = run(goodHand());
    expect(plan.share("right")).toBeGreaterThan(table.share("right") + 0.1);
    expect(plan.share("right")).toBeGreaterThan(good.share("right") - 0.05);
    expect(plan.share("over")).toBeLessThan(good.share("over"));
    expect(plan.share("phLow")).toBeLessThan(0.02);
    expect(plan.sum("late")).toBe(0);
    expect(plan.sum("money")).toBeLessThan(good.sum("money"));
    // Intervals of nine in ten, of some twenty after eight weeks.
    expect(plan.sum("phTold")).toBeGreaterThan(5);
    expect(plan.sum("phHeld")).toBeGreaterThan(0.7 * plan.sum("phTold"));
  });
});
