import loadHighs from "highs";
import { expect, it } from "vitest";
import { type Highs, solverOf } from "../plan/highs";
import { randomProblem, silly } from "./random-plans.fixtures";

/** The first sixty of the two thousand that `npm run bench:plans` walks. */
it("no random plan is one that a colleague would not understand", async () => {
  const solver = solverOf((await loadHighs()) as unknown as Highs);
  for (let seed = 0; seed < 60; seed++)
    expect(silly(randomProblem(seed), solver), `seed ${seed}`).toEqual([]);
});
