import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf } from "../dosing/plan/highs";
import type { Solver } from "../dosing/plan/programme";
import { runLoop, type Tally } from "./firm.fixtures";
import { byPlan } from "./pelagon.fixtures";
import { fixedWeek, selfPlanned, Town } from "./week.fixtures";

/** The whole chain in its smallest form: log, what is learned, what calls are worth, week, plan, water. */
let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

const BASINS = 6;
const LEARNS = 3;
const WEEKS = 4;
const SEED = 2;

function run(minuteWorth: number | null) {
  const town = new Town(BASINS, SEED);
  const hand = byPlan();
  const calendar =
    minuteWorth === null
      ? fixedWeek(town)
      : selfPlanned(town, {
          hours: 240,
          minuteWorth,
          changeWorth: 0.05,
          rounds: 3,
          learner: hand.learner,
          from: 7 * LEARNS,
        });
  const plan = {
    seed: SEED,
    world: "byLoads" as const,
    basins: BASINS,
    weeks: LEARNS + WEEKS,
    since: LEARNS,
  };
  const results = runLoop({ ...plan, calendar }, hand, solver);
  const sum = (key: keyof Tally) => results.reduce((all, { tally }) => all + tally[key], 0);
  const days = calendar.days.filter(({ day }) => day >= 7 * LEARNS);
  return {
    right: sum("right") / sum("hours"),
    calls: days.reduce((all, day) => all + day.calls, 0),
    late: calendar.late,
    moved: calendar.moved,
  };
}

describe("from the log to the week and the water", () => {
  it("keeps waters as right with no more calls, breaks no contract, and moves some", () => {
    const fixed = run(null);
    const planned = run(0.02);
    expect(planned.right).toBeGreaterThan(fixed.right - 0.02);
    expect(planned.calls).toBeLessThanOrEqual(fixed.calls);
    expect(planned.late).toBe(0);
    expect(planned.moved).toBeGreaterThan(0);
  });
});
