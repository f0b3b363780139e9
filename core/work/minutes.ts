import { isWorkKey, type WorkKey } from "./work";

/**
 * How long each piece of a call's work takes: what the trade usually needs, and what the taps of this firm's hands
 * say of it. A tap tells when a piece was done; the time since whatever was written down before is the piece's.
 */

/** Minutes where nobody has timed one yet: usual practice at a pool of some 50 m³. */
export const USUAL_WORK_MINUTES: Readonly<Record<WorkKey, number>> = {
  skim: 4,
  baskets: 3,
  "water-level": 1,
  brush: 8,
  vacuum: 15,
  filter: 10,
  cartridge: 12,
  "tile-line": 6,
  feeder: 2,
  cell: 8,
  heater: 3,
  cover: 5,
  jets: 5,
  refill: 90,
};
/** Of what a firm has named itself. */
const OWN_WORK_MINUTES = 5;

/** Something that was written down at a visit: a piece of work that was done, or anything else. */
export interface VisitMoment {
  visitId: string;
  /** Of the work; null for a reading, a dose, or the visit's beginning. */
  key: string | null;
  /** ms since 1970 */
  at: number;
}

export interface WorkMinutes {
  minutes: number;
  /** How often it was timed. */
  times: number;
}

/** Taps closer together than this were made after the work, one after another. Seconds */
const ONE_SITTING = 20;
/** Longer than this nobody was at it without a break, but for draining. Minutes */
const LONGEST = 60;
const LONGEST_REFILL = 300;
/** As many timings as the usual figure is worth. */
const USUAL_COUNTS = 3;

const usual = (key: string): number => (isWorkKey(key) ? USUAL_WORK_MINUTES[key] : OWN_WORK_MINUTES);

/**
 * What is expected of a piece of work.
 * @example minutesFor("vacuum", null) // 15
 */
export const minutesFor = (key: string, learned: Readonly<Record<string, WorkMinutes>> | null): number =>
  learned?.[key]?.minutes ?? usual(key);

/**
 * Minutes of each piece of work by the taps of visits. Pieces that were tapped in one sitting share the time since
 * what was written down before, by their usual figures. The middle of what was timed is taken, and drawn to the
 * usual figure while there is little of it.
 * @example learnMinutes([{ visitId: "v", key: null, at: 0 }, { visitId: "v", key: "brush", at: 6e5 }]).brush.times // 1
 */
export function learnMinutes(moments: readonly VisitMoment[]): Record<string, WorkMinutes> {
  const timed = new Map<string, number[]>();
  for (const visit of byVisit(moments))
    for (const { keys, minutes } of sittingsIn(visit)) {
      const whole = keys.reduce((sum, key) => sum + usual(key), 0);
      for (const key of keys) timed.set(key, [...(timed.get(key) ?? []), (minutes * usual(key)) / whole]);
    }
  return Object.fromEntries(
    [...timed].map(([key, samples]) => {
      const times = samples.length;
      const logs = samples.map(Math.log).sort((a, b) => a - b);
      const middle = ((logs[(times - 1) >> 1] as number) + (logs[times >> 1] as number)) / 2;
      const drawn = (USUAL_COUNTS * Math.log(usual(key)) + times * middle) / (USUAL_COUNTS + times);
      return [key, { minutes: Math.exp(drawn), times }];
    }),
  );
}

function byVisit(moments: readonly VisitMoment[]): VisitMoment[][] {
  const visits = new Map<string, VisitMoment[]>();
  for (const moment of moments) visits.set(moment.visitId, [...(visits.get(moment.visitId) ?? []), moment]);
  return [...visits.values()].map((visit) => visit.sort((a, b) => a.at - b.at));
}

/** Pieces that were tapped together, and the minutes since what was written down before them. */
function sittingsIn(visit: readonly VisitMoment[]): { keys: string[]; minutes: number }[] {
  const sittings: { keys: string[]; from: number; to: number }[] = [];
  visit.forEach(({ key, at }, index) => {
    const before = visit[index - 1];
    if (key === null || !before) return;
    const last = sittings.at(-1);
    const isSame =
      last && before.key !== null && last.to === before.at && at - before.at < ONE_SITTING * 1000;
    if (isSame) {
      last.keys.push(key);
      last.to = at;
    } else sittings.push({ keys: [key], from: before.at, to: at });
  });
  return sittings.flatMap(({ keys, from, to }) => {
    const minutes = (to - from) / 60_000;
    const longest = keys.includes("refill") ? LONGEST_REFILL : LONGEST;
    return minutes * 60 >= ONE_SITTING && minutes <= longest ? [{ keys, minutes }] : [];
  });
}
