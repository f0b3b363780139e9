import { proxy, wrap } from "comlink";
import type { Suggestion, WeekProblem } from "#core";
import type { WeekWorker } from "./week.worker";

/** A week that is being drawn up in its worker. */
export interface Drawing {
  answer: Promise<Suggestion>;
  /** Stops it at once; what was told so far stands, and the answer never comes. */
  stop: () => void;
}

/**
 * Starts drawing up a week in a worker of its own.
 * @param told hears each better one, with the share of the time that is gone, 0…1
 */
export function startWeek(
  problem: WeekProblem,
  seconds: number,
  told: (suggestion: Suggestion, share: number) => void,
): Drawing {
  const worker = new Worker(new URL("./week.worker.ts", import.meta.url), { type: "module" });
  const broken = new Promise<never>((_, reject) => {
    worker.addEventListener("error", () => reject(new Error("the week's worker did not start")));
  });
  const answer = wrap<WeekWorker>(worker).suggest(problem, seconds, proxy(told));
  return {
    answer: Promise.race([answer, broken]).finally(() => worker.terminate()),
    stop: () => worker.terminate(),
  };
}
