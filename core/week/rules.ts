import { inSeason } from "../schedule/calls";
import { addDays, daysBetween, weekdayOf } from "../schedule/days";
import { pairOf } from "../schedule/pace";
import { mustOn } from "./prepared";
import type { Ways, WeekBasin, WeekCall, WeekPerson, WeekProblem } from "./problem";

/** What must hold in a week, and what of it does not: looked at by itself, call by call, whoever drew it up. */

export type BrokenRule =
  /** More minutes than somebody works. */
  | { rule: "hours"; person: string; day: string; minutes: number; most: number }
  /** Calls of somebody who does not work then, or on a day on which nobody does. */
  | { rule: "off"; person: string; day: string; basin: string }
  | { rule: "closed"; day: string; basin: string }
  | { rule: "may-go"; person: string; day: string; basin: string }
  /** A day that the customer does not allow, or one beyond the season. */
  | { rule: "weekday"; day: string; basin: string }
  | { rule: "season"; day: string; basin: string }
  /** kg */
  | { rule: "load"; person: string; day: string; load: number; most: number }
  | { rule: "twice"; day: string; basin: string }
  /** Days between two calls by the contract: `day` is the later, or the day after the last one looked at. */
  | { rule: "most-days"; basin: string; after: string | null; day: string; days: number; most: number }
  | { rule: "least-days"; basin: string; day: string; days: number; least: number }
  /** Fewer calls in all these days than stood, where no contract says how many. `day` is the first. */
  | { rule: "fewest"; basin: string; day: string; calls: number; fewest: number }
  /** No call on a day that must have one. */
  | { rule: "must"; basin: string; day: string; because: MustBecause };

export type MustBecause = "event" | "fixed" | "daily";

/** Minutes that nobody counts. */
const SLACK = 1e-6;

/**
 * @param calls of each day and person in their order
 * @example brokenRules(week, []).length // 2
 */
export function brokenRules(week: WeekProblem, calls: readonly WeekCall[]): BrokenRule[] {
  return [
    ...calls.flatMap((call) => atCall(week, call)),
    ...week.people.flatMap((person) => daysOf(week).flatMap((day) => onDay(week, person, day, calls))),
    ...week.basins.flatMap((basin) => atBasin(week, basin, calls)),
  ];
}

const daysOf = ({ from, days }: WeekProblem): string[] =>
  Array.from({ length: days }, (_, ahead) => addDays(from, ahead));

/** Minutes that somebody works on a day; none on a holiday. */
export const hoursOn = (
  { closed }: Pick<WeekProblem, "closed">,
  { hours, off }: WeekPerson,
  day: string,
): number => (closed.includes(day) || off.includes(day) ? 0 : (hours[weekdayOf(day) - 1] ?? 0));

/** Why a basin may not be called at by somebody on a day, hours and load apart. */
export function forbidden(
  week: Pick<WeekProblem, "closed">,
  basin: WeekBasin,
  person: WeekPerson,
  day: string,
): "closed" | "off" | "may-go" | "weekday" | "season" | null {
  if (!inSeason(day, basin.season)) return "season";
  const isAllowed = basin.allowed === null || basin.allowed.includes(weekdayOf(day));
  if (!isAllowed && !basin.must.includes(day)) return "weekday";
  if (week.closed.includes(day)) return "closed";
  if (hoursOn(week, person, day) === 0) return "off";
  return basin.mayGo === null || basin.mayGo.includes(person.id) ? null : "may-go";
}

function atCall(week: WeekProblem, { basin: id, person: who, day }: WeekCall): BrokenRule[] {
  const basin = week.basins.find((one) => one.id === id);
  const person = week.people.find((one) => one.id === who);
  if (!basin) return [];
  if (!person) return [{ rule: "off", person: who, day, basin: id }];
  const why = forbidden(week, basin, person, day);
  if (why === null) return [];
  return [
    why === "off" || why === "may-go"
      ? { rule: why, person: who, day, basin: id }
      : { rule: why, day, basin: id },
  ];
}

function onDay(week: WeekProblem, person: WeekPerson, day: string, calls: readonly WeekCall[]): BrokenRule[] {
  const stops = calls.filter((call) => call.day === day && call.person === person.id);
  if (stops.length === 0) return [];
  const minutes = minutesOf(week, person, stops);
  const load = stops.reduce(
    (sum, { basin }) => sum + (week.basins.find(({ id }) => id === basin)?.load ?? 0),
    0,
  );
  const most = hoursOn(week, person, day);
  return [
    ...(most > 0 && minutes > most + SLACK
      ? [{ rule: "hours" as const, person: person.id, day, minutes, most }]
      : []),
    ...(person.carries !== null && load > person.carries + SLACK
      ? [{ rule: "load" as const, person: person.id, day, load, most: person.carries }]
      : []),
  ];
}

/** Minutes from one place to another; none within one. @example minutesBetween({ known: {}, usual: 12 }, "a", "b") // 12 */
export const minutesBetween = ({ known, usual }: Ways, from: string, to: string): number =>
  from === to ? 0 : (known[pairOf(from, to)] ?? usual);

/** Minutes of somebody's calls on a day and of the ways between them, in this order. */
export function minutesOf(
  { basins, ways }: Pick<WeekProblem, "basins" | "ways">,
  { start }: Pick<WeekPerson, "start">,
  stops: readonly Pick<WeekCall, "basin">[],
): number {
  const at = stops.flatMap(({ basin }) => basins.find(({ id }) => id === basin) ?? []);
  const places = [
    ...(start === null ? [] : [start]),
    ...at.map(({ site }) => site),
    ...(start === null ? [] : [start]),
  ];
  const driven = places.reduce(
    (sum, place, index) => sum + (index > 0 ? minutesBetween(ways, places[index - 1] as string, place) : 0),
    0,
  );
  return at.length === 0 ? 0 : driven + at.reduce((sum, { minutes }) => sum + minutes, 0);
}

function atBasin(week: WeekProblem, basin: WeekBasin, calls: readonly WeekCall[]): BrokenRule[] {
  const { id, since, most, least } = basin;
  const mine = calls.flatMap(({ basin: one, day }) => (one === id ? [day] : [])).sort();
  const days = [...new Set(mine)];
  const twice = mine.filter((day, index) => mine[index + 1] === day);
  const end = addDays(week.from, week.days);
  const before = since === null ? null : addDays(week.from, -since);
  const broken: BrokenRule[] = twice.map((day) => ({ rule: "twice", day, basin: id }));
  for (const [index, day] of [...days, end].entries()) {
    const after = days[index - 1] ?? before;
    const gap = daysBetween(after ?? week.from, day);
    // What was late already when the week began is only told where it could be mended on its first day and is not.
    const allowed = index === 0 ? Math.max(most ?? 0, since ?? 0) : (most ?? 0);
    if (most !== null && gap > allowed)
      broken.push({ rule: "most-days", basin: id, after, day, days: gap, most });
    if (day !== end && after !== null && gap < least && !mustOn(basin, day))
      broken.push({ rule: "least-days", basin: id, day, days: gap, least });
  }
  if (days.length < basin.fewest)
    broken.push({ rule: "fewest", basin: id, day: week.from, calls: days.length, fewest: basin.fewest });
  for (const day of daysOf(week))
    if (mustOn(basin, day) && !days.includes(day))
      broken.push({ rule: "must", basin: id, day, because: mustBecause(basin, day) });
  return broken;
}

const mustBecause = (basin: WeekBasin, day: string): MustBecause =>
  basin.must.includes(day) ? "event" : basin.daily ? "daily" : "fixed";
