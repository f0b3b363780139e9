import type { Sample } from "../water/sample";
import {
  balanceModel,
  DRAWN_READINGS,
  effectInputs,
  effectModel,
  type PlannedAddition,
  type SampleSpread,
  volumeModel,
} from "./models";
import { type Interval, propagate } from "./propagate";
import type { Spread } from "./spread";

/** What a worker can be asked: which model, on what, how many draws. Plain data, checked by `jobSchema`. */
export type UncertaintyJob = { samples: number; seed: number } & (
  | { model: "balance"; water: Sample; readings: SampleSpread }
  | { model: "effect"; water: Sample; readings: SampleSpread; litres: Spread; additions: PlannedAddition[] }
  | { model: "volume"; moles: Spread; before: Spread; after: Spread }
);

export interface JobAnswer {
  intervals: Record<string, Interval>;
  refused: number;
}

/**
 * Runs a job a few thousand draws at a time; yields the share done.
 * @example [...runJob({ model: "volume", samples: 5000, seed: 1, moles: about(10, 0.02), before: about(0.002, 0.01), after: about(0.003, 0.01) })].at(-1) // 0.8192
 */
export function* runJob(job: UncertaintyJob): Generator<number, JobAnswer> {
  const options = { samples: job.samples, seed: job.seed };
  switch (job.model) {
    case "balance": {
      const inputs = DRAWN_READINGS.map((name) => job.readings[name]);
      return answer(yield* propagate(balanceModel(job.water), inputs, options));
    }
    case "effect": {
      const nominal = { water: job.water, litres: (job.litres.low + job.litres.high) / 2 };
      const inputs = effectInputs(job.readings, job.litres, job.additions);
      return answer(yield* propagate(effectModel(job.water, job.additions, nominal), inputs, options));
    }
    case "volume":
      return answer(yield* propagate(volumeModel, [job.moles, job.before, job.after], options));
  }
}

const answer = ({ intervals, refused }: JobAnswer): JobAnswer => ({ intervals, refused });
