import { proxy, wrap } from "comlink";
import type { JobAnswer, UncertaintyJob } from "#core";
import type { UncertaintyWorker } from "./uncertainty.worker";

/** A job under way in its worker. */
export interface Running {
  answer: Promise<JobAnswer>;
  /** Stops it at once; the answer then never comes. */
  cancel: () => void;
}

/**
 * Starts a job in a worker of its own.
 * @param told hears the share done, 0…1
 */
export function startUncertainty(job: UncertaintyJob, told: (share: number) => void = () => {}): Running {
  const worker = new Worker(new URL("./uncertainty.worker.ts", import.meta.url), { type: "module" });
  const answer = wrap<UncertaintyWorker>(worker).run(job, proxy(told));
  return {
    answer: answer.finally(() => worker.terminate()),
    cancel: () => worker.terminate(),
  };
}
