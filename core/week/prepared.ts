import { inSeason } from "../schedule/calls";
import { addDays, daysBetween, weekdayOf } from "../schedule/days";
import { pairOf } from "../schedule/pace";
import type { WeekBasin, WeekPerson, WeekProblem } from "./problem";
import { type Values, valuesOf } from "./value";

/** A week's problem by numbers: days, people and basins by their places, ways as a table. */
export interface Prepared {
  problem: WeekProblem;
  days: string[];
  people: number;
  /** Of each basin. */
  minutes: Float64Array;
  loads: Float64Array;
  values: Values[];
  /** Whether somebody may be there: `open[basin * days + day]`; and must. */
  open: Uint8Array;
  must: Uint8Array;
  /** `mayGo[basin * people + person]` */
  mayGo: Uint8Array;
  /** Days to the call before the first day; null where there was none. */
  since: (number | null)[];
  least: Int32Array;
  most: Int32Array;
  fewest: Int32Array;
  /** `hours[day * people + person]`, minutes; and kg on the truck. */
  hours: Float64Array;
  carries: Float64Array;
  /** Minutes from place to place: basins first, then where each person starts. */
  ways: Float64Array;
  places: number;
  /** Place of a person's start; -1 where there is none. */
  starts: Int32Array;
  /** Who calls at a basin most as it stands; -1 where nobody does. */
  usual: Int32Array;
  /** Who calls as it stands: `stands[basin * days + day]`, -1 for nobody. */
  stands: Int32Array;
}

/** More than any water is worth: what must be is only left where it cannot be. Right days */
export const BROKEN = 1000;

/** @example prepared(week).days.length // 14 */
export function prepared(problem: WeekProblem): Prepared {
  const { basins, people, from, closed, stands } = problem;
  const days = Array.from({ length: problem.days }, (_, ahead) => addDays(from, ahead));
  const { ways, places, starts } = wayTable(problem);
  const forPair = (fill: (basin: WeekBasin, day: string, index: number) => boolean) =>
    Uint8Array.from(basins.flatMap((basin, index) => days.map((day) => Number(fill(basin, day, index)))));
  const isClosed = new Set(closed);
  const personAt = new Map(people.map(({ id }, index) => [id, index]));
  const basinAt = new Map(basins.map(({ id }, index) => [id, index]));
  const standing = new Int32Array(basins.length * days.length).fill(-1);
  for (const call of stands) {
    const basin = basinAt.get(call.basin);
    const day = daysBetween(from, call.day);
    if (basin === undefined || day < 0 || day >= days.length) continue;
    standing[basin * days.length + day] = personAt.get(call.person) ?? NOBODY;
  }
  const hoursOn = ({ hours, off }: WeekPerson, day: string) =>
    isClosed.has(day) || off.includes(day) ? 0 : (hours[weekdayOf(day) - 1] ?? 0);
  return {
    problem,
    days,
    people: people.length,
    minutes: Float64Array.from(basins, ({ minutes }) => minutes),
    loads: Float64Array.from(basins, ({ load }) => load),
    values: basins.map((basin, index) =>
      valuesOf(
        basin.worth,
        days.length,
        days.map((day, ahead) => (inSeason(day, basin.season) ? (basin.use[ahead] ?? 1) : 0)),
        problem.minuteWorth * (basin.minutes + nearestWay(ways, places, index)),
        basin.most,
      ),
    ),
    open: forPair(
      (basin, day) =>
        inSeason(day, basin.season) &&
        (basin.allowed === null || basin.allowed.includes(weekdayOf(day)) || basin.must.includes(day)),
    ),
    must: forPair(mustOn),
    mayGo: Uint8Array.from(
      basins.flatMap(({ mayGo }) => people.map(({ id }) => Number(mayGo === null || mayGo.includes(id)))),
    ),
    since: basins.map(({ since }) => since),
    least: Int32Array.from(basins, ({ least }) => Math.max(1, least)),
    most: Int32Array.from(basins, ({ most }) => Math.min(most ?? NO_LIMIT, NO_LIMIT)),
    fewest: Int32Array.from(basins, ({ fewest }) => Math.min(fewest, days.length)),
    hours: Float64Array.from(days.flatMap((day) => people.map((person) => hoursOn(person, day)))),
    carries: Float64Array.from(people, ({ carries }) => carries ?? Number.POSITIVE_INFINITY),
    ways,
    places,
    starts,
    usual: usualOf(standing, basins.length, days.length),
    stands: standing,
  };
}

function usualOf(stands: Int32Array, basins: number, days: number): Int32Array {
  return Int32Array.from({ length: basins }, (_, basin) => {
    const count = new Map<number, number>();
    for (const person of stands.subarray(basin * days, (basin + 1) * days))
      if (person >= 0) count.set(person, (count.get(person) ?? 0) + 1);
    return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? -1;
  });
}

/** Somebody who is not among the people any more: such a call is nobody's, and moves without a price. */
export const NOBODY = -2;
const NO_LIMIT = 10_000;

/** Whether a call must be made at a basin on a day, by an event, the customer's days or the law. */
export function mustOn(basin: WeekBasin, day: string): boolean {
  if (!inSeason(day, basin.season)) return false;
  return basin.must.includes(day) || basin.daily || basin.fixed.includes(weekdayOf(day));
}

function wayTable({ basins, people, ways: { known, usual } }: WeekProblem) {
  const sites = [...basins.map(({ site }) => site), ...people.map(({ start }) => start)];
  const places = sites.length;
  const ways = new Float64Array(places * places);
  for (let from = 0; from < places; from++)
    for (let to = 0; to < places; to++) {
      const [a, b] = [sites[from], sites[to]];
      ways[from * places + to] = !a || !b || a === b ? 0 : (known[pairOf(a, b)] ?? usual);
    }
  const starts = Int32Array.from(people, ({ start }, index) => (start === null ? -1 : basins.length + index));
  return { ways, places, starts };
}

/** Half a way there and half a way on, from the nearest others: about what a call more takes on the road. */
function nearestWay(ways: Float64Array, places: number, place: number): number {
  let [first, second] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY];
  for (let other = 0; other < places; other++) {
    if (other === place) continue;
    const way = ways[place * places + other] as number;
    if (way < first) [first, second] = [way, first];
    else if (way < second) second = way;
  }
  return Number.isFinite(second) ? (first + second) / 2 : Number.isFinite(first) ? first : 0;
}
