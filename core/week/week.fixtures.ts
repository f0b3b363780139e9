import { type Random, seeded } from "../random";
import { addDays } from "../schedule/days";
import { pairOf } from "../schedule/pace";
import type { WeekBasin, WeekCall, WeekPerson, WeekProblem } from "./problem";
import { fewestWithout } from "./wishes";
import { type CallWorth, LONGEST_GAP } from "./worth";

/** Firms that are made up for tests of the week: waters that leave their range sooner or later, roads, contracts. */

/** A water that is right for so many days after a call, and then ever less likely. */
export function worthOf(level: number, holds: number, loss: number): CallWorth {
  const curve = (days: number) =>
    Array.from({ length: days }, (_, day) => level * Math.exp(-loss * Math.max(0, day - holds)));
  return {
    alone: curve(LONGEST_GAP).map((right) => 0.8 * right),
    after: Array.from({ length: LONGEST_GAP }, (_, index) => curve(index + 1)),
  };
}

export const FROM = "2026-05-04";
const PEOPLE = ["ines", "jory", "wren", "tamsin"];

export interface MadeUp {
  seed: number;
  basins: number;
  days: number;
  people: number;
  /** Minutes of each working day. */
  hours: number;
  /** Contracts and customers with wishes, keys and licences, holidays, days off, loads. */
  rules?: boolean;
  minuteWorth?: number;
  changeWorth?: number;
}

/** A firm in villages, each basin called at once a week as it stands. */
export function madeUpWeek(asked: MadeUp): WeekProblem {
  const { seed, basins: count, days, people: staff, hours, rules = false } = asked;
  const random = seeded(seed * 613 + 17);
  const villages = Array.from({ length: 6 }, () => ({ east: 20 * random(), north: 20 * random() }));
  const places = Array.from({ length: Math.ceil(0.9 * count) }, () => {
    const { east, north } = villages[Math.floor(6 * random())] as { east: number; north: number };
    return { east: east + 4 * (random() - 0.5), north: north + 4 * (random() - 0.5) };
  });
  const ids = PEOPLE.slice(0, staff);
  const basins = Array.from({ length: count }, (_, index) =>
    madeUpBasin(index, Math.floor(0.9 * index), ids, rules, random),
  );
  const people = ids.map((id): WeekPerson => madeUpPerson(id, hours, days, rules, random));
  const known: Record<string, number> = {};
  for (const [a, one] of places.entries())
    for (const [b, other] of places.slice(0, a).entries())
      known[pairOf(`site-${a}`, `site-${b}`)] =
        3 + 2 * Math.hypot(one.east - other.east, one.north - other.north);
  const stands = basins.flatMap((basin, index) =>
    Array.from(
      { length: Math.ceil(days / 7) },
      (_, week): WeekCall => ({
        basin: basin.id,
        person: ids[index % staff] as string,
        day: addDays(FROM, 7 * week + (index % 5)),
      }),
    ).filter(({ day }) => day < addDays(FROM, days)),
  );
  return {
    from: FROM,
    days,
    basins: basins.map((basin) => ({
      ...basin,
      fewest: fewestWithout(basin.most, stands.filter((call) => call.basin === basin.id).length),
    })),
    people,
    ways: { known, usual: 12 },
    closed: rules && random() < 0.3 ? [addDays(FROM, Math.floor(days * random()))] : [],
    stands,
    minuteWorth: asked.minuteWorth ?? 0.01,
    changeWorth: asked.changeWorth ?? 0.05,
  };
}

function madeUpBasin(
  index: number,
  site: number,
  people: readonly string[],
  rules: boolean,
  random: Random,
): Omit<WeekBasin, "fewest"> {
  const some = (chance: number) => rules && random() < chance;
  const worth = worthOf(0.75 + 0.25 * random(), 1 + 2 * random(), 0.02 + 0.5 * random() ** 2);
  const since = Math.floor(7 * random());
  const minutes = 25 + 30 * random();
  return {
    id: `basin-${index}`,
    site: `site-${site}`,
    minutes,
    worth,
    since: some(0.1) ? null : since,
    use: some(0.2) ? Array.from({ length: 28 }, (_, day) => (day % 7 >= 5 ? 3 : 1)) : [],
    must: some(0.15) ? [addDays(FROM, Math.floor(6 * random()))] : [],
    allowed: some(0.2) ? [1, 2, 3, 4, 5].filter(() => random() < 0.6) : null,
    fixed: some(0.15) ? [1 + Math.floor(5 * random())] : [],
    daily: some(0.03),
    least: some(0.3) ? 2 : 1,
    most: rules ? ([5, 7, 10, null][Math.floor(4 * random())] ?? null) : ([7, 10, 14][index % 3] ?? null),
    season: some(0.05) ? { from: "05-06", to: "09-30" } : null,
    mayGo: some(0.25) ? people.filter(() => random() < 0.7) : null,
    load: 5,
  };
}

function madeUpPerson(id: string, hours: number, days: number, rules: boolean, random: Random): WeekPerson {
  const some = (chance: number) => rules && random() < chance;
  return {
    id,
    hours: [1, 2, 3, 4, 5, 6, 7].map((weekday) => (weekday < 6 && !some(0.1) ? hours : 0)),
    off: some(0.3) ? [addDays(FROM, Math.floor(days * random()))] : [],
    start: some(0.3) ? "site-0" : null,
    carries: some(0.3) ? 40 : null,
  };
}
