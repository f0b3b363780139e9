import { daysBetween } from "../schedule/days";
import type { Prepared } from "./prepared";
import type { WeekCall, WeekPerson, WeekProblem } from "./problem";
import { minutesOf } from "./rules";
import { rightDays } from "./value";

/** What one basin's calls are to be instead of what they are, why, and what that brings. */
export interface WeekChange {
  basin: string;
  /** Calls that go, and calls that come; one in both with another person is handed on. */
  gone: WeekCall[];
  come: WeekCall[];
  because: ChangeBecause;
  /** Share of these days on which chlorine and pH are right, 0…1, before and after. */
  right: { before: number; after: number };
  /** Minutes at the water and on the way, more than before. */
  minutes: number;
}

/** Why: what was broken before, what lasts, or what it saves. */
export type ChangeBecause = "rule" | "water" | "minutes";

/** Shares of the time that nobody would tell apart. */
const WORTH_TELLING = 0.005;

/**
 * @param week the problem that both were drawn up for
 * @param mended basins whose rules what stands did not keep
 */
export function changesOf(
  week: Prepared,
  stands: readonly WeekCall[],
  suggested: readonly WeekCall[],
  mended: ReadonlySet<string>,
): WeekChange[] {
  const { problem } = week;
  const changes = problem.basins.flatMap(({ id }, index): WeekChange[] => {
    const [before, now] = [stands, suggested].map((calls) => calls.filter(({ basin }) => basin === id)) as [
      WeekCall[],
      WeekCall[],
    ];
    const gone = before.filter((call) => !now.some((one) => isSame(one, call)));
    const come = now.filter((call) => !before.some((one) => isSame(one, call)));
    if (gone.length + come.length === 0) return [];
    const right = { before: shareOf(week, index, before), after: shareOf(week, index, now) };
    const because = mended.has(id)
      ? "rule"
      : right.after > right.before + WORTH_TELLING
        ? "water"
        : "minutes";
    const minutes = marginal(problem, suggested, id) - marginal(problem, stands, id);
    return [{ basin: id, gone, come, because, right, minutes }];
  });
  return changes.sort((a, b) => gainOf(b) - gainOf(a));
}

const gainOf = ({ right, because }: WeekChange): number =>
  right.after - right.before + (because === "rule" ? 1 : 0);

const isSame = (a: WeekCall, b: WeekCall): boolean => a.day === b.day && a.person === b.person;

/** Share of the days that are right, weighted by their use. */
export function shareOf(week: Prepared, basin: number, calls: readonly WeekCall[]): number {
  const { problem, days, values } = week;
  const own = values[basin] as Prepared["values"][number];
  const use = problem.basins[basin]?.use ?? [];
  const whole = days.reduce((sum, _, day) => sum + (use[day] ?? 1), 0);
  const on = [...new Set(calls.map(({ day }) => daysBetween(problem.from, day)))].sort((a, b) => a - b);
  return whole === 0 ? 0 : rightDays(own, on) / whole;
}

/** Minutes that a basin's calls take, with the ways that only they make. */
function marginal(problem: WeekProblem, calls: readonly WeekCall[], basin: string): number {
  const mine = calls.filter((one) => one.basin === basin);
  return mine.reduce((sum, { day, person: who }) => {
    const person = problem.people.find(({ id }) => id === who) ?? NOBODY_KNOWN;
    const stops = calls.filter((one) => one.day === day && one.person === who);
    const without = stops.filter((one) => one.basin !== basin);
    return sum + minutesOf(problem, person, stops) - minutesOf(problem, person, without);
  }, 0);
}

const NOBODY_KNOWN: Pick<WeekPerson, "start"> = { start: null };
