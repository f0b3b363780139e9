import { expose } from "comlink";
import loadHighs from "highs";
import wasmUrl from "highs/runtime?url";
import { type Suggestion, suggestWeek, type WeekProblem, type WeekSolver } from "#core";

/** Draws up a week, away from the page. */
const worker = {
  /**
   * @param seconds that it may take
   * @param told hears each better one
   */
  async suggest(
    problem: WeekProblem,
    seconds: number,
    told: (suggestion: Suggestion, share: number) => void,
  ): Promise<Suggestion> {
    const begun = performance.now();
    const share = () => (performance.now() - begun) / 1000 / seconds;
    // The first answer waits for no solver.
    const first = suggestWeek(problem, null).next().value;
    told(first, 0);
    const solver = (await loadHighs({ locateFile: () => wasmUrl })) as unknown as WeekSolver;
    const suggestions = suggestWeek(problem, solver);
    let best = suggestions.next().value;
    let last = 0;
    while (share() < 1) {
      best = suggestions.next().value;
      if (performance.now() - last < TOLD_MS) continue;
      last = performance.now();
      told(best, share());
    }
    return best;
  },
};

/** A page reads no faster than this. */
const TOLD_MS = 300;

export type WeekWorker = typeof worker;

expose(worker);
