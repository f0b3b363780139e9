import { wholeWithin } from "../fault";
import { seeded } from "../random";
import { checkedSpread, draw, type Spread } from "./spread";

/**
 * A calculation from numbers to numbers. It writes its outputs in place and says whether the draw
 * made a water at all (a draw of too little alkalinity for its cyanurate does not).
 */
export interface Model<Output extends string> {
  outputs: readonly Output[];
  run: (drawn: Float64Array, out: Float64Array) => boolean;
}

/** What a hundred thousand draws say of an output. */
export interface Interval {
  mean: number;
  deviation: number;
  median: number;
  /** Holds 95 % of the draws. */
  low: number;
  high: number;
}

export interface Propagated<Output extends string> {
  intervals: Record<Output, Interval>;
  /** Every draw that made a water, sorted, by output: for chances beyond a limit. */
  draws: Record<Output, Float64Array>;
  /** Draws that made no water. */
  refused: number;
}

export const MOST_SAMPLES = 1_000_000;
const CHUNK = 4096;

/**
 * Pushes the spreads of the inputs through a model. A generator: it yields the share done after every
 * few thousand draws, so that a worker can tell and can stop. The same seed gives the same answer.
 */
export function* propagate<Output extends string>(
  model: Model<Output>,
  inputs: readonly Spread[],
  options: { samples: number; seed: number },
): Generator<number, Propagated<Output>> {
  const samples = wholeWithin("samples", options.samples, 1, MOST_SAMPLES);
  const random = seeded(wholeWithin("seed", options.seed, 0, 2 ** 32 - 1));
  for (const [index, spread] of inputs.entries()) checkedSpread(`inputs.${index}`, spread);
  const drawn = new Float64Array(inputs.length);
  const out = new Float64Array(model.outputs.length);
  const columns = model.outputs.map(() => new Float64Array(samples));
  let kept = 0;
  for (let sample = 0; sample < samples; sample++) {
    for (let input = 0; input < inputs.length; input++) drawn[input] = draw(inputs[input] as Spread, random);
    if (model.run(drawn, out)) {
      for (let output = 0; output < columns.length; output++)
        (columns[output] as Float64Array)[kept] = out[output] as number;
      kept += 1;
    }
    if ((sample + 1) % CHUNK === 0) yield (sample + 1) / samples;
  }
  const draws = {} as Record<Output, Float64Array>;
  const intervals = {} as Record<Output, Interval>;
  model.outputs.forEach((name, output) => {
    const column = (columns[output] as Float64Array).subarray(0, kept).sort();
    draws[name] = column;
    intervals[name] = intervalOf(column);
  });
  return { intervals, draws, refused: samples - kept };
}

/** Runs `propagate` to its end in one go. */
export function propagated<Output extends string>(
  ...of: Parameters<typeof propagate<Output>>
): Propagated<Output> {
  const steps = propagate(...of);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Value below which a share of the sorted draws lies. */
const quantile = (sorted: Float64Array, share: number): number => {
  const place = share * (sorted.length - 1);
  const low = sorted[Math.floor(place)] ?? Number.NaN;
  const high = sorted[Math.ceil(place)] ?? Number.NaN;
  return low + (high - low) * (place - Math.floor(place));
};

function intervalOf(sorted: Float64Array): Interval {
  let sum = 0;
  for (const value of sorted) sum += value;
  const mean = sum / sorted.length;
  let squares = 0;
  for (const value of sorted) squares += (value - mean) ** 2;
  return {
    mean,
    deviation: Math.sqrt(squares / Math.max(1, sorted.length - 1)),
    median: quantile(sorted, 0.5),
    low: quantile(sorted, 0.025),
    high: quantile(sorted, 0.975),
  };
}

/** Share of the sorted draws above a limit. */
export function chanceAbove(sorted: Float64Array, limit: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sorted[middle] as number) <= limit) low = middle + 1;
    else high = middle;
  }
  return sorted.length === 0 ? Number.NaN : 1 - low / sorted.length;
}
