import { expose } from "comlink";
import { type JobAnswer, runJob, type UncertaintyJob } from "#core";
import { checked, jobSchema } from "#core/schemas";

/** Draws by the hundred thousand, away from the page. What it is sent is checked like anything from outside. */
const worker = {
  run(sent: UncertaintyJob, told: (share: number) => void): JobAnswer {
    const steps = runJob(checked<UncertaintyJob>(jobSchema, sent));
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      told(step.value);
    }
  },
};

export type UncertaintyWorker = typeof worker;

expose(worker);
