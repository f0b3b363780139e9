import type { Figure } from "../uncertainty/figure";
import { NINETY, normalUnder } from "../uncertainty/normal";
import type { Learned } from "./log";

/** Something in the book that the logs speak against. */
export interface Suspicion {
  code: "volume" | "bottle" | "product" | "unwritten";
  basin?: string;
  lot?: string;
  /** What it is over what the book or the label says; for what nobody wrote down, found over expected. */
  ratio: Figure;
  /** That the ratio is off by more than a tenth. */
  chance: number;
  /** Of what nobody wrote down: the reading that tells of it most plainly, and when it was made. */
  quantity?: Learned;
  at?: number;
  /** And what it was expected to be. */
  expected?: number;
  /** Of a bottle or a delivery: what each reading says of it by itself. */
  evidence?: LotEvidence[];
}

export interface LotEvidence {
  basin: string;
  at: number;
  /** Of a bottle: found over what was expected with a good one. Of a delivery: its strength over the label's. */
  ratio: number;
}

/** Off by more than this is worth saying. */
export const WORTH_SAYING = 0.1;
/** A suspicion is told from this chance on. */
export const TOLD_FROM = 0.9;

/**
 * What nobody wrote down, as a ratio of what was found to what was expected.
 * @param deviation of that difference
 */
export function unwritten(
  found: number,
  expected: number,
  deviation: number,
): Pick<Suspicion, "ratio" | "chance"> {
  const over = (value: number) => Math.max(0, value) / expected;
  const beyond = (limit: number) => normalUnder((limit * expected - found) / deviation);
  return {
    ratio: {
      value: over(found),
      low: over(found - NINETY * deviation),
      high: over(found + NINETY * deviation),
    },
    chance: beyond(1 - WORTH_SAYING) + 1 - beyond(1 + WORTH_SAYING),
  };
}

/** Most things are as their labels say, about; a few are far off. Means and standard deviations of the logarithm. */
export interface Population {
  right: number;
  deviation: number;
  wrongMean: number;
  wrongDeviation: number;
}

export const POPULATIONS = {
  // More wrong ones than there are, set by what it tells: in twelve simulated firms 27 of 65 wrong volumes are
  // told and one of 223 right ones; at 0.7 and 0.22, about as many as there are, 21 and the same one.
  volume: { right: 0.4, deviation: 0.03, wrongMean: 0, wrongDeviation: 0.25 },
  bottle: { right: 0.95, deviation: 0.03, wrongMean: 0, wrongDeviation: 0.25 },
  // Products lose strength; hardly one is stronger than its label.
  product: { right: 0.95, deviation: 0.04, wrongMean: -0.4, wrongDeviation: 0.3 },
} as const satisfies Record<string, Population>;

/**
 * What a normal belief about a logarithm, found under a normal prior, comes to where most are right and
 * some are far off: what the log itself says is taken out of it and put to both.
 * @param prior variance under which the belief was found
 */
export function weigh(
  belief: { mean: number; variance: number },
  prior: number,
  { right, deviation, wrongMean, wrongDeviation }: Population,
): { ratio: Figure; chance: number; wrong: number } {
  const precision = Math.max(1e-9, 1 / belief.variance - 1 / prior);
  const told = belief.mean / belief.variance / precision;
  const parts = [
    { weight: right, middle: 0, spread: deviation },
    { weight: 1 - right, middle: wrongMean, spread: wrongDeviation },
  ].map(({ weight, middle, spread }) => {
    const total = spread * spread + 1 / precision;
    const variance = 1 / (1 / (spread * spread) + precision);
    return {
      // Shrunk by a common factor, so that neither is no number.
      log: Math.log(weight) - 0.5 * Math.log(total) - (told - middle) ** 2 / (2 * total),
      mean: variance * (precision * told + middle / (spread * spread)),
      deviation: Math.sqrt(variance),
    };
  });
  const most = Math.max(...parts.map(({ log }) => log));
  const sum = parts.reduce((total, { log }) => total + Math.exp(log - most), 0);
  let chance = 0;
  const wrong = Math.exp((parts[1]?.log ?? 0) - most) / sum;
  let mean = 0;
  let square = 0;
  for (const part of parts) {
    const share = Math.exp(part.log - most) / sum;
    const under = normalUnder((Math.log(1 - WORTH_SAYING) - part.mean) / part.deviation);
    const over = 1 - normalUnder((Math.log(1 + WORTH_SAYING) - part.mean) / part.deviation);
    chance += share * (under + over);
    mean += share * part.mean;
    square += share * (part.mean * part.mean + part.deviation * part.deviation);
  }
  const spread = Math.sqrt(Math.max(0, square - mean * mean));
  return {
    ratio: {
      value: Math.exp(mean),
      low: Math.exp(mean - NINETY * spread),
      high: Math.exp(mean + NINETY * spread),
    },
    chance,
    wrong,
  };
}
