import { addDays } from "../schedule/days";
import type { WeekBasin, WeekCall, WeekPerson, WeekProblem } from "./problem";
import { type BrokenRule, brokenRules, forbidden, hoursOn, minutesOf } from "./rules";

/** Rules that do not hold together: which one is left, which stand against it, and what would have to give. */
export interface Conflict {
  broken: BrokenRule;
  /** What stands against a call on each day on which it would have mended that. */
  against: Against[];
  /** Each by itself would do; the least of its kind first. */
  gives: Give[];
}

export type Against =
  | { rule: "closed"; day: string }
  | { rule: "season"; day: string }
  | { rule: "weekday"; day: string }
  | { rule: "off"; person: string; day: string }
  | { rule: "may-go"; person: string; day: string }
  /** Minutes, or kg, that are missing. */
  | { rule: "hours"; person: string; day: string; missing: number }
  | { rule: "load"; person: string; day: string; missing: number };

export type Give = Exclude<Against, { rule: "season" }> | { rule: "contract" };

/** Rules of a person's day: they are never broken, and so stand against others. */
const MENDED_BY_CALL = ["most-days", "must", "least-days", "fewest"] as const;

/**
 * @param calls of an arrangement that was drawn up, see `suggestion`
 * @example conflictsOf(week, week.stands) // []
 */
export function conflictsOf(week: WeekProblem, calls: readonly WeekCall[]): Conflict[] {
  return brokenRules(week, calls)
    .filter(({ rule }) => (MENDED_BY_CALL as readonly string[]).includes(rule))
    .flatMap((broken) => {
      const basin = week.basins.find(({ id }) => "basin" in broken && id === broken.basin);
      return basin ? [conflictOf(week, calls, basin, broken)] : [];
    });
}

function conflictOf(
  week: WeekProblem,
  calls: readonly WeekCall[],
  basin: WeekBasin,
  broken: BrokenRule,
): Conflict {
  const against = mendingDays(week, calls, broken).flatMap((day) =>
    week.people.flatMap((person) => standingAgainst(week, calls, basin, person, day)),
  );
  const told = unique(against);
  const least = (rule: Against["rule"]) =>
    told
      .filter((one) => one.rule === rule)
      .sort((a, b) => ("missing" in a ? a.missing : 0) - ("missing" in b ? b.missing : 0))
      .slice(0, 1);
  const gives = (["hours", "load", "may-go", "weekday", "off", "closed"] as const).flatMap(least) as Give[];
  return { broken, against: told, gives: [...gives, { rule: "contract" }] };
}

/** Days on which a call would mend it. */
function mendingDays(week: WeekProblem, calls: readonly WeekCall[], broken: BrokenRule): string[] {
  if (broken.rule === "must") return [broken.day];
  if (broken.rule === "fewest")
    return Array.from({ length: week.days }, (_, ahead) => addDays(week.from, ahead)).filter(
      (day) => !calls.some((call) => call.basin === broken.basin && call.day === day),
    );
  if (broken.rule === "least-days")
    return Array.from({ length: broken.least - broken.days }, (_, ahead) =>
      addDays(broken.day, ahead + 1),
    ).filter((day) => day < addDays(week.from, week.days));
  if (broken.rule !== "most-days") return [];
  const latest = broken.after === null ? broken.day : addDays(broken.after, broken.most);
  const days: string[] = [];
  for (
    let day = broken.after === null ? week.from : addDays(broken.after, 1);
    day < broken.day;
    day = addDays(day, 1)
  )
    if (day >= week.from && (day <= latest || days.length === 0)) days.push(day);
  return days;
}

function standingAgainst(
  week: WeekProblem,
  calls: readonly WeekCall[],
  basin: WeekBasin,
  person: WeekPerson,
  day: string,
): Against[] {
  const why = forbidden(week, basin, person, day);
  if (why === "off" || why === "may-go") return [{ rule: why, person: person.id, day }];
  if (why !== null) return [{ rule: why, day }];
  const stops = calls.filter(
    (call) => call.day === day && call.person === person.id && call.basin !== basin.id,
  );
  const missing = leastMinutes(week, person, stops, basin) - hoursOn(week, person, day);
  const load = [...stops, { basin: basin.id }].reduce(
    (sum, one) => sum + (week.basins.find(({ id }) => id === one.basin)?.load ?? 0),
    0,
  );
  if (person.carries !== null && load > person.carries)
    return [{ rule: "load", person: person.id, day, missing: load - person.carries }];
  return missing > 0 ? [{ rule: "hours", person: person.id, day, missing: Math.ceil(missing) }] : [];
}

/** With one call more where it fits best. */
function leastMinutes(
  week: WeekProblem,
  person: WeekPerson,
  stops: readonly WeekCall[],
  { id }: WeekBasin,
): number {
  const all = Array.from({ length: stops.length + 1 }, (_, place) =>
    minutesOf(week, person, [...stops.slice(0, place), { basin: id }, ...stops.slice(place)]),
  );
  return Math.min(...all);
}

const unique = (all: readonly Against[]): Against[] => [
  ...new Map(all.map((one) => [JSON.stringify(one), one])).values(),
];
