import { millisecondsInDay } from "date-fns/constants";
import type { HorizonProblem } from "../dosing/horizon/problem";
import { regimeNow, Walker } from "../hold/walk";

/**
 * What a call is worth at a basin: how likely its chlorine and pH are right on each day, without a call and after
 * one. It walks the same water as what would hold it, see `Walker`.
 */
export interface CallWorth {
  /** Share of the draws that are right, 0…1, in each 24 hours from now on while nobody calls. */
  alone: number[];
  /** The same after a call, by the days to the one after it: `after[length - 1]` has so many. */
  after: number[][];
}

/** The longest that a basin is left between two calls. Days */
export const LONGEST_GAP = 21;
/** Gaps that are walked; what lies between two of them is taken between them. Days */
const WALKED = [1, 2, 3, 4, 5, 7, 10, 14, 21] as const;
const DRAWS = 48;

/**
 * @param problem as what would hold a basin is asked, see `holdProblem`: its calls are not looked at
 * @example callWorth(horizonOf(opened), 4).alone.length // 21
 */
export function callWorth(problem: HorizonProblem, draws = DRAWS): CallWorth {
  const walker = new Walker(problem, draws);
  const curve = (days: number, called: boolean) => {
    const until = problem.from + days * millisecondsInDay;
    const [gap] = walker.walk(regimeNow(problem, [until]), called).gaps;
    return byDays(gap?.right ?? new Float64Array(), days);
  };
  const walked = WALKED.map((days) => ({ days: days as number, right: curve(days, true) }));
  return {
    alone: curve(LONGEST_GAP, false),
    after: Array.from({ length: LONGEST_GAP }, (_, index) => between(walked, index + 1)),
  };
}

/** Means of each 24 hours. */
const byDays = (steps: Float64Array, days: number): number[] =>
  Array.from({ length: days }, (_, day) => {
    const of = steps.slice(
      Math.round((day * steps.length) / days),
      Math.round(((day + 1) * steps.length) / days),
    );
    return of.reduce((sum, one) => sum + one, 0) / Math.max(1, of.length);
  });

/** A gap between two that were walked: what is left is left for the longer of two by their distance. */
function between(walked: readonly { days: number; right: number[] }[], days: number): number[] {
  const longer = walked.find((one) => one.days >= days) as (typeof walked)[number];
  if (longer.days === days) return longer.right;
  const shorter = walked.findLast((one) => one.days < days) as (typeof walked)[number];
  const share = (days - shorter.days) / (longer.days - shorter.days);
  return Array.from({ length: days }, (_, day) => {
    const short = shorter.right[day];
    const long = longer.right[day] as number;
    return short === undefined ? long : short + share * (long - short);
  });
}

/**
 * Days that a basin is right over a gap, weighted by its use.
 * @param weights of each day of the gap; every day counts alike without them
 * @example rightOver([1, 0.5]) // 1.5
 */
export const rightOver = (curve: readonly number[], weights?: readonly number[]): number =>
  curve.reduce((sum, right, day) => sum + right * (weights?.[day] ?? 1), 0);

/**
 * How likely a water is right on a day after a call, the next being so many days away.
 * @example rightOn([[0.9]], 0, 1) // 0.9
 */
export function rightOn(after: CallWorth["after"], day: number, gap: number): number {
  const curve = after[Math.min(gap, after.length) - 1] ?? [];
  return curve[Math.min(day, curve.length - 1)] ?? 0;
}

/** Days between calls that a call is taken to leave for where nobody can say yet when the next one is. */
const OPEN_GAP = 14;

/**
 * The same from a later day on.
 * @param passed days since it was worked out
 * @param since days since a call that came after it was worked out; null where there was none
 * @example worthFrom({ alone: [0.9, 0.5], after: [[1]] }, 1, null).alone // [0.5]
 */
export function worthFrom({ alone, after }: CallWorth, passed: number, since: number | null): CallWorth {
  const now = since === null ? alone.slice(Math.max(0, passed)) : (after[OPEN_GAP - 1] ?? []).slice(since);
  const last = (since === null ? alone : (after[OPEN_GAP - 1] ?? [])).at(-1) ?? 0;
  return { alone: now.length > 0 ? now : [last], after };
}
