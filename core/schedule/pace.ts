/**
 * What a day takes, by the book: minutes at each basin, and the way from one site to the next. Both are learned from
 * when visits began and ended; what was never made, or never driven, is told by the rest, and less surely.
 */

/** A visit as the book has it. Times are ms since 1970. */
export interface TimedVisit {
  memberId: string;
  basinId: string;
  siteId: string;
  startedAt: number;
  finishedAt: number;
}

/** Minutes that something takes: the middle, and the ends between which four of five lie. */
export interface Takes {
  minutes: number;
  low: number;
  high: number;
  /** How often it was timed. */
  times: number;
}

export interface Pace {
  /** By basin; of the firm's calls where a basin has none. */
  calls: Readonly<Record<string, Takes>>;
  usualCall: Takes;
  /** By pair of sites, see `pairOf`; of all its ways where a pair was never driven. */
  ways: Readonly<Record<string, Takes>>;
  usualWay: Takes;
}

const MINUTE = 60_000;

/** What is no call: opened by mistake, or left open overnight. Minutes */
const CALL = { least: 3, most: 240 } as const;
/** What is no way: the next door, or a lunch on it. Minutes */
const WAY = { least: 1, most: 90 } as const;

/** Before anything was timed, in minutes and as the deviation of the logarithm: a weekly call in a town. */
const USUAL_CALL = { minutes: 40, deviation: 0.5 } as const;
const USUAL_WAY = { minutes: 12, deviation: 0.6 } as const;
/** As many timings as what is usual is worth beside a thing's own. */
const USUAL_COUNTS = 2;
/** Standard deviations within which four of five lie. */
const FOUR_OF_FIVE = 1.2816;
/** A median deviation over the standard one of a Gaussian. */
const MAD_TO_DEVIATION = 1.4826;

/** A pair of sites, either way: there and back take the same. @example pairOf("b", "a") // "a b" */
export const pairOf = (one: string, other: string): string => [one, other].sort().join(" ");

/**
 * Learns a firm's pace from its visits.
 * @param dayOf the calendar day of a moment, in the firm's zone: nobody drives from one day into the next
 * @example learnPace([], () => "2031-05-05").usualCall.minutes // 40
 */
export function learnPace(visits: readonly TimedVisit[], dayOf: (at: number) => string): Pace {
  const calls = new Map<string, number[]>();
  const ways = new Map<string, number[]>();
  const last = new Map<string, TimedVisit>();
  for (const visit of [...visits].sort((a, b) => a.startedAt - b.startedAt)) {
    add(calls, visit.basinId, (visit.finishedAt - visit.startedAt) / MINUTE, CALL);
    const before = last.get(visit.memberId);
    if (before && before.siteId !== visit.siteId && dayOf(before.startedAt) === dayOf(visit.startedAt))
      add(ways, pairOf(before.siteId, visit.siteId), (visit.startedAt - before.finishedAt) / MINUTE, WAY);
    last.set(visit.memberId, visit);
  }
  const usualCall = takes([...calls.values()].flat(), USUAL_CALL);
  const usualWay = takes([...ways.values()].flat(), USUAL_WAY);
  return {
    calls: beside(calls, usualCall),
    usualCall,
    ways: beside(ways, usualWay),
    usualWay,
  };
}

function add(
  timed: Map<string, number[]>,
  key: string,
  minutes: number,
  { least, most }: { least: number; most: number },
): void {
  if (minutes >= least && minutes <= most) timed.set(key, [...(timed.get(key) ?? []), minutes]);
}

const beside = (timed: ReadonlyMap<string, number[]>, usual: Takes): Record<string, Takes> => {
  const deviation = Math.log(usual.high / usual.minutes) / FOUR_OF_FIVE;
  return Object.fromEntries(
    [...timed].map(([key, minutes]) => [key, takes(minutes, { minutes: usual.minutes, deviation })]),
  );
};

/** The middle of what was timed, drawn to the usual while there is little of it; its scatter likewise. */
function takes(minutes: readonly number[], usual: { minutes: number; deviation: number }): Takes {
  const times = minutes.length;
  const weight = times / (times + USUAL_COUNTS);
  const logs = minutes.map(Math.log);
  const middle = times === 0 ? 0 : median(logs);
  const own = times === 0 ? 0 : MAD_TO_DEVIATION * median(logs.map((one) => Math.abs(one - middle)));
  const log = weight * middle + (1 - weight) * Math.log(usual.minutes);
  const deviation = Math.hypot(Math.sqrt(weight) * own, Math.sqrt(1 - weight) * usual.deviation);
  return {
    minutes: Math.exp(log),
    low: Math.exp(log - FOUR_OF_FIVE * deviation),
    high: Math.exp(log + FOUR_OF_FIVE * deviation),
    times,
  };
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2
    ? (sorted[middle] as number)
    : ((sorted[middle - 1] as number) + (sorted[middle] as number)) / 2;
}

/** Minutes at a basin. @example callTakes(learnPace([], () => ""), "any").times // 0 */
export const callTakes = ({ calls, usualCall }: Pace, basinId: string): Takes =>
  calls[basinId] ?? { ...usualCall, times: 0 };

/** The way between two sites; none within one. @example wayTakes(learnPace([], () => ""), "a", "a").minutes // 0 */
export const wayTakes = ({ ways, usualWay }: Pace, from: string, to: string): Takes =>
  from === to
    ? { minutes: 0, low: 0, high: 0, times: 0 }
    : (ways[pairOf(from, to)] ?? { ...usualWay, times: 0 });
