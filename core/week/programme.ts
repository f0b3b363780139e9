import { Arrangement, brokenBetween, changeCost } from "./arrangement";
import { BROKEN, type Prepared } from "./prepared";

/**
 * A week as a mixed-integer programme, in the LP format of CPLEX: for each basin a path through its calls, each call
 * with somebody who has the time. Ways are taken for the least that they can be, so that no arrangement is better than
 * what this proves.
 *
 * Columns: `x<basin>_<call>_<next>` for the step from one call to the next (s before the first day, e beyond the last),
 * `y<basin>_<day>_<person>` for who makes it, `l<day and person>` for the way that their last stop of a day does not have, `f<basin>` for calls that are missing.
 */
export interface WeekProgramme {
  text: string;
  /** What the objective leaves out: added to it, it is an arrangement's worth at best. */
  constant: number;
}

export interface ProgrammeOptions {
  /** False for the relaxation, in which a call may be made by halves. */
  whole: boolean;
  /** Only what is broken counts: whether the rules can hold together at all. */
  rulesAlone?: boolean;
}

export function programmeOf(week: Prepared, { whole, rulesAlone = false }: ProgrammeOptions): WeekProgramme {
  const { values, days, people, minutes, loads, hours, carries, problem } = week;
  const last = days.length;
  const leastWays = leastWaysOf(week);
  const objective: string[] = [];
  const rows: string[] = [];
  const columns: string[] = [];
  const used = Array.from({ length: last * people }, () => [] as string[]);
  const loaded = Array.from({ length: last * people }, () => [] as string[]);
  const onRoad = Array.from({ length: last * people }, () => [] as string[]);
  const bounds: string[] = [];
  let constant = 0;
  for (let basin = 0; basin < values.length; basin++) {
    const takers = days.map((_, day) => takersOf(week, basin, day));
    const callable = days.flatMap((_, day) => (takers[day]?.length ? [day] : []));
    const into = new Map<number, string[]>(callable.map((day) => [day, []]));
    const out = new Map<number, string[]>(callable.map((day) => [day, []]));
    const first: string[] = [];
    for (const call of [-1, ...callable])
      for (const next of [...callable.filter((day) => day > call), last]) {
        const name = `x${basin}_${call < 0 ? "s" : call}_${next === last ? "e" : next}`;
        objective.push(
          term(
            rulesAlone ? -brokenBetween(week, basin, call, next) : stepValue(week, basin, call, next),
            name,
          ),
        );
        columns.push(name);
        if (call < 0) first.push(name);
        else out.get(call)?.push(name);
        into.get(next)?.push(name);
      }
    rows.push(`${first.map((name) => `+ ${name}`).join(" ")} = 1`);
    const fewest = week.fewest[basin] as number;
    const made: string[] = [];
    for (let day = 0; day < last; day++) constant -= changeCost(week, basin, day, -1);
    for (const day of callable) {
      const there = (into.get(day) ?? []).map((name) => `+ ${name}`).join(" ");
      rows.push(`${there} ${(out.get(day) ?? []).map((name) => `- ${name}`).join(" ")} = 0`);
      const makers: string[] = [];
      for (const person of takers[day] ?? []) {
        const name = `y${basin}_${day}_${person}`;
        const at = day * people + person;
        const takes = (minutes[basin] as number) + (leastWays.ways[basin * people + person] as number);
        const change = changeCost(week, basin, day, person) - changeCost(week, basin, day, -1);
        if (!rulesAlone) objective.push(term(-problem.minuteWorth * takes - change, name));
        columns.push(name);
        makers.push(`- ${name}`);
        made.push(`+ ${name}`);
        used[at]?.push(term(takes, name));
        onRoad[at]?.push(term(-(leastWays.ways[basin * people + person] as number), name));
        if ((loads[basin] as number) > 0) loaded[at]?.push(term(loads[basin] as number, name));
      }
      rows.push(`${there} ${makers.join(" ")} = 0`);
    }
    if (fewest > 0) {
      const missing = `f${basin}`;
      rows.push(`+ ${missing} ${made.join(" ")} >= ${fewest}`);
      bounds.push(` 0 <= ${missing} <= ${fewest}`);
      objective.push(term(-BROKEN, missing));
    }
  }
  used.forEach((terms, at) => {
    const person = at % people;
    const credit = leastWays.credits[person] as number;
    if (terms.length > 0) {
      // What the last stop of a day has no way on from; none of a day without stops.
      rows.push(`+ l${at} ${onRoad[at]?.join(" ")} <= 0`);
      bounds.push(` 0 <= l${at} <= ${number(credit)}`);
      rows.push(`${terms.join(" ")} - l${at} <= ${number(hours[at] as number)}`);
      if (!rulesAlone) objective.push(term(problem.minuteWorth, `l${at}`));
    }
    const most = carries[person] as number;
    const weights = loaded[at] as string[];
    if (weights.length > 0 && Number.isFinite(most)) rows.push(`${weights.join(" ")} <= ${number(most)}`);
  });
  const text = [
    "Maximize",
    ` value: ${objective.join("\n ")}`,
    "Subject To",
    ...rows.map((row, index) => ` r${index}: ${row}`),
    "Bounds",
    ...bounds,
    ...(whole
      ? ["Binary", ...columns.map((name) => ` ${name}`)]
      : columns.map((name) => ` 0 <= ${name} <= 1`)),
    "End",
  ].join("\n");
  return { text, constant: rulesAlone ? 0 : constant };
}

/** Who may call there on a day, by themselves. */
export function takersOf(week: Prepared, basin: number, day: number): number[] {
  const { open, mayGo, hours, days, people, minutes, loads, carries } = week;
  if (open[basin * days.length + day] === 0) return [];
  return Array.from({ length: people }, (_, person) => person).filter(
    (person) =>
      mayGo[basin * people + person] === 1 &&
      (hours[day * people + person] as number) >= (minutes[basin] as number) &&
      (loads[basin] as number) <= (carries[person] as number),
  );
}

function stepValue(week: Prepared, basin: number, call: number, next: number): number {
  const last = week.days.length;
  const { until, between, after } = week.values[basin] as Prepared["values"][number];
  const right =
    call < 0
      ? next === last
        ? (after[last] as number)
        : (until[next] as number)
      : next === last
        ? (after[call] as number)
        : (between[call * (last + 1) + next] as number);
  return right - brokenBetween(week, basin, call, next);
}

/**
 * The least way that a stop takes: half of the two shortest ways from it where the day begins and ends somewhere; else
 * the one that leads on, which the last stop of a day has not: that is its credit.
 */
function leastWaysOf({ values, people, ways, places, starts }: Prepared): {
  ways: Float64Array;
  credits: Float64Array;
} {
  const count = values.length;
  const least = new Float64Array(count * people);
  const credits = new Float64Array(people);
  for (let person = 0; person < people; person++) {
    const start = starts[person] as number;
    for (let basin = 0; basin < count; basin++) {
      const others = Array.from({ length: count }, (_, other) => other)
        .filter((other) => other !== basin)
        .map((other) => ways[basin * places + other] as number);
      // A day may begin and end at the same place: a way of its own each.
      if (start >= 0) others.push(...Array<number>(2).fill(ways[basin * places + start] as number));
      others.sort((a, b) => a - b);
      const [near = 0, next = near] = others;
      const way = start >= 0 ? (near + next) / 2 : near;
      least[basin * people + person] = way;
      if (start < 0) credits[person] = Math.max(credits[person] as number, way);
    }
  }
  return { ways: least, credits };
}

const term = (value: number, name: string): string =>
  `${value < 0 ? "-" : "+"} ${number(Math.abs(value))} ${name}`;

/** Without exponents, which the format takes for the name that follows. */
const number = (value: number): string => value.toFixed(7);

/** The calls of a solution, in the order that takes the least way: they may take longer than there is time for. */
export function arrangedBy(week: Prepared, solved: (column: string) => number): Arrangement {
  const made = new Arrangement(week);
  for (let basin = 0; basin < week.values.length; basin++)
    for (let day = 0; day < week.days.length; day++)
      for (const person of takersOf(week, basin, day))
        if (solved(`y${basin}_${day}_${person}`) > 0.5) made.append(basin, day, person);
  made.order(made.routes.keys());
  return made;
}
