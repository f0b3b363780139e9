import { addDays, daysBetween, mondayOf, weekdayOf } from "./days";

/** On which days a basin is called at. */
export interface CallPlan {
  /** ISO days of the week, 1 Monday … 7 Sunday. */
  callDays: readonly number[];
  /** 1 every week, 2 every other one. */
  everyWeeks: number;
  /** A day in a week with a call; matters when it is not every week. */
  weeksFrom: string;
  /** Month and day of the first and last calls, as 05-01; null the whole year. It may span new year. */
  season: Season | null;
  /** Days of late and ahead on which the week was drawn up otherwise; absent where nobody looked. */
  moved?: MovedCalls | undefined;
}

/** Calls that moved: days that have none of their own any more, and days that have one besides. */
export interface MovedCalls {
  gone: readonly string[];
  come: readonly string[];
}

export interface Season {
  from: string;
  to: string;
}

/** Whether a day lies in a season, both ends included. */
export function inSeason(day: string, season: Season | null): boolean {
  if (!season) return true;
  const here = day.slice(5);
  return season.from <= season.to
    ? season.from <= here && here <= season.to
    : here >= season.from || here <= season.to;
}

/**
 * Whether a day has a call.
 * @example calledOn({ callDays: [2], everyWeeks: 2, weeksFrom: "2026-05-04", season: null }, "2026-05-05") // true
 */
export function calledOn(plan: CallPlan, day: string): boolean {
  if (plan.moved?.come.includes(day)) return true;
  if (plan.moved?.gone.includes(day)) return false;
  return calledByPlan(plan, day);
}

/**
 * Whether a day has a call by the plan alone, whatever moved since.
 * @example calledByPlan({ ...weekly, moved: { gone: ["2026-05-05"], come: [] } }, "2026-05-05") // true
 */
export function calledByPlan(plan: CallPlan, day: string): boolean {
  if (!plan.callDays.includes(weekdayOf(day)) || !inSeason(day, plan.season)) return false;
  const weeks = daysBetween(mondayOf(plan.weeksFrom), mondayOf(day)) / 7;
  return weeks % plan.everyWeeks === 0;
}

/** Longest that a plan is looked through for a call: a season away, and the longest interval. */
const FARTHEST = 366 + 26 * 7;

/**
 * The first day with a call after `day`, or null when the plan has none.
 * @example nextCall({ callDays: [2], everyWeeks: 2, weeksFrom: "2026-05-04", season: null }, "2026-05-06") // "2026-05-19"
 */
export const nextCall = (plan: CallPlan, day: string): string | null => callFrom(plan, day, 1, FARTHEST);

/**
 * The last day with a call before `day`, not more than so many days back; or null.
 * @example lastCall({ callDays: [2], everyWeeks: 1, weeksFrom: "2026-05-04", season: null }, "2026-05-08", 14) // "2026-05-05"
 */
export const lastCall = (plan: CallPlan, day: string, within: number): string | null =>
  callFrom(plan, day, -1, within);

/** The first call that is met on the way from a day, into the days to come or into those gone by. */
function callFrom(plan: CallPlan, day: string, step: 1 | -1, within: number): string | null {
  const weekday = weekdayOf(day);
  const moved = new Set(plan.moved?.come);
  for (let away = 1; away <= within; away++) {
    // Days of the week are counted; a date is made only where one fits.
    const there = ((((weekday - 1 + step * away) % 7) + 7) % 7) + 1;
    if (moved.size === 0 && !plan.callDays.includes(there)) continue;
    const found = addDays(day, step * away);
    if (calledOn(plan, found)) return found;
  }
  return null;
}

/** The days with a call in a span, both ends included. @example callsBetween(weekly, "2026-05-04", "2026-05-13") // ["2026-05-05", "2026-05-12"] */
export function callsBetween(plan: CallPlan, from: string, to: string): string[] {
  const days = Array.from({ length: Math.max(0, daysBetween(from, to) + 1) }, (_, ahead) =>
    addDays(from, ahead),
  );
  return days.filter((day) => calledOn(plan, day));
}
