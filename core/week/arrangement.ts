import { BROKEN, NOBODY, type Prepared } from "./prepared";
import { bestOrder, cheapestPlace, wayOf } from "./route";

/** Who calls where on which day, in which order, while it is being put together. */
export class Arrangement {
  /** Stops of each person's day: `routes[day * people + person]`, basins in their order. */
  readonly routes: number[][];
  /** Minutes and kg of each. */
  readonly used: Float64Array;
  readonly loaded: Float64Array;
  /** Person who calls: `calls[basin * days + day]`, -1 for nobody. */
  readonly calls: Int32Array;

  constructor(readonly week: Prepared) {
    const { days, people, values } = week;
    this.routes = Array.from({ length: days.length * people }, () => []);
    this.used = new Float64Array(days.length * people);
    this.loaded = new Float64Array(days.length * people);
    this.calls = new Int32Array(values.length * days.length).fill(-1);
  }

  copy(): Arrangement {
    const made = new Arrangement(this.week);
    made.takeFrom(this);
    return made;
  }

  takeFrom({ routes, used, loaded, calls }: Arrangement): void {
    routes.forEach((stops, index) => {
      this.routes[index] = [...stops];
    });
    this.used.set(used);
    this.loaded.set(loaded);
    this.calls.set(calls);
  }

  /** Takes all calls of a basin out. */
  takeOut(basin: number): void {
    const { days, people } = this.week;
    for (let day = 0; day < days.length; day++) {
      const person = this.calls[basin * days.length + day] as number;
      if (person >= 0) this.leave(basin, day, person, day * people + person);
    }
  }

  private leave(basin: number, day: number, person: number, at: number): void {
    const { week } = this;
    this.calls[basin * week.days.length + day] = -1;
    const stops = (this.routes[at] as number[]).filter((stop) => stop !== basin);
    this.setRoute(at, person, stops);
  }

  setRoute(at: number, person: number, stops: number[]): void {
    const { week } = this;
    this.routes[at] = stops;
    this.used[at] = wayOf(week, person, stops) + sumOf(week.minutes, stops);
    this.loaded[at] = sumOf(week.loads, stops);
  }

  /** Puts a call at the end of a day, whatever the rules say. */
  append(basin: number, day: number, person: number): void {
    const at = day * this.week.people + person;
    this.calls[basin * this.week.days.length + day] = person;
    this.setRoute(at, person, [...(this.routes[at] as number[]), basin]);
  }

  /** Whether a basin may be called at on a day by somebody, hours and load apart. */
  mayBe(basin: number, day: number, person: number): boolean {
    const { open, mayGo, hours, days, people } = this.week;
    return (
      open[basin * days.length + day] === 1 &&
      mayGo[basin * people + person] === 1 &&
      (hours[day * people + person] as number) > 0
    );
  }

  /** The calls of a basin that are best beside all the others' as they are, put in where they take the least way. */
  putIn(basin: number): void {
    const { week } = this;
    const { days, people } = week;
    const fits = days.map((_, day) => this.cheapest(basin, day));
    for (const day of bestDays(
      week,
      basin,
      fits.map((fit) => fit?.cost ?? null),
    )) {
      const { person, place } = fits[day] as Fit;
      const at = day * people + person;
      const stops = [...(this.routes[at] as number[])];
      stops.splice(place, 0, basin);
      this.calls[basin * days.length + day] = person;
      this.setRoute(at, person, stops);
    }
  }

  /** Who takes a call on a day at the least cost; null where nobody can. */
  private cheapest(basin: number, day: number): Fit | null {
    const { week } = this;
    let best: Fit | null = null;
    for (let person = 0; person < week.people; person++) {
      if (!this.mayBe(basin, day, person)) continue;
      const at = day * week.people + person;
      if (
        (this.loaded[at] as number) + (week.loads[basin] as number) >
        (week.carries[person] as number) + SLACK
      )
        continue;
      const { place, minutes } = cheapestPlace(week, person, this.routes[at] as number[], basin);
      const taken = minutes + (week.minutes[basin] as number);
      if ((this.used[at] as number) + taken > (week.hours[at] as number) + SLACK) continue;
      const cost = week.problem.minuteWorth * taken + changeCost(week, basin, day, person);
      if (best === null || cost < best.cost) best = { person, place, cost };
    }
    return best;
  }

  /** The best order for each day of these. */
  order(routes: Iterable<number>): void {
    for (const at of routes) {
      const person = at % this.week.people;
      this.setRoute(at, person, bestOrder(this.week, person, this.routes[at] as number[]));
    }
  }

  /** Days of a basin's calls. */
  daysOf(basin: number): number[] {
    const { days } = this.week;
    return days.flatMap((_, day) => ((this.calls[basin * days.length + day] as number) >= 0 ? [day] : []));
  }

  /** Right days, less what work, ways, changes and broken rules cost. */
  worth(): number {
    const { week } = this;
    let worth = -week.problem.minuteWorth * sumAll(this.used);
    for (let basin = 0; basin < week.values.length; basin++) worth += this.worthOf(basin);
    return worth;
  }

  /** Of one basin, its work and ways apart. */
  worthOf(basin: number): number {
    const { week } = this;
    const { days } = week;
    const calls = this.daysOf(basin);
    let worth = pathWorth(week, basin, calls);
    for (let day = 0; day < days.length; day++)
      worth -= changeCost(week, basin, day, this.calls[basin * days.length + day] as number);
    return worth;
  }
}

interface Fit {
  person: number;
  place: number;
  cost: number;
}

const SLACK = 1e-6;

const sumOf = (of: Float64Array, stops: readonly number[]): number =>
  stops.reduce((sum, stop) => sum + (of[stop] as number), 0);
const sumAll = (values: Float64Array): number => values.reduce((sum, one) => sum + one, 0);

/**
 * What it costs that a day is not as it stands: a call that comes or goes half a change, so that one that moves is a
 * whole one; and half of one more with somebody who does not know the basin.
 * @param person who calls; -1 for nobody
 */
export function changeCost(
  { stands, usual, days, problem }: Prepared,
  basin: number,
  day: number,
  person: number,
): number {
  const stood = stands[basin * days.length + day] as number;
  if (stood === person) return 0;
  const half = problem.changeWorth / 2;
  const knows = usual[basin] as number;
  const isNew = person >= 0 && knows >= 0 && person !== knows;
  return (stood === NOBODY && person >= 0 ? 0 : half) + (isNew ? half : 0);
}

/** Right days with calls on these days, less what is broken. */
export function pathWorth(week: Prepared, basin: number, calls: readonly number[]): number {
  const { values } = week;
  const { until, after } = values[basin] as Prepared["values"][number];
  const last = week.days.length;
  const missing = BROKEN * Math.max(0, (week.fewest[basin] as number) - calls.length);
  if (calls.length === 0) return (after[last] as number) - brokenBetween(week, basin, -1, last) - missing;
  let worth = (until[calls[0] as number] as number) - brokenBetween(week, basin, -1, calls[0] as number);
  calls.forEach((call, index) => {
    const next = calls[index + 1];
    worth +=
      next === undefined
        ? (after[call] as number) - brokenBetween(week, basin, call, last)
        : stepWorth(week, basin, call, next);
  });
  return worth - missing;
}

const stepWorth = (week: Prepared, basin: number, call: number, next: number): number => {
  const { between } = week.values[basin] as Prepared["values"][number];
  return (between[call * (week.days.length + 1) + next] as number) - brokenBetween(week, basin, call, next);
};

/**
 * What it costs that no call lies between two days: a contract's most and least days, and days that must have one.
 * @param call -1 for the call before the first day
 * @param next the number of days for the end of them
 */
export function brokenBetween(week: Prepared, basin: number, call: number, next: number): number {
  const { days, must, most, least, since } = week;
  const last = days.length;
  let broken = 0;
  for (let day = Math.max(0, call + 1); day < next; day++)
    if (must[basin * last + day] === 1) broken += MISSED;
  const before = since[basin] ?? null;
  // One that nobody ever called at waits from the first day on.
  const gap = call >= 0 ? next - call : (before ?? 0) + next;
  broken += Math.max(0, gap - (most[basin] as number));
  // What must be is not too early; and a call beyond the end may still be put off.
  const isFree = next < last && must[basin * last + next] === 0 && (call >= 0 || before !== null);
  if (isFree) broken += Math.max(0, (least[basin] as number) - gap);
  return broken * BROKEN;
}

/** A day without a call that must have one, in days of a contract that is broken: told before any of those. */
const MISSED = 3;

/**
 * The best days for a basin's calls, by what each would cost: the longest path through the days, with as many calls as
 * it is to have at least.
 * @param costs of a call on each day; null where there can be none
 */
export function bestDays(week: Prepared, basin: number, costs: readonly (number | null)[]): number[] {
  const last = week.days.length;
  const { until, after } = week.values[basin] as Prepared["values"][number];
  const fewest = week.fewest[basin] as number;
  // `best[count * last + day]`: so many calls, the last of them on that day; from the fewest on they are told no more.
  const layers = Math.max(1, fewest);
  const best = new Float64Array(layers * last).fill(Number.NEGATIVE_INFINITY);
  const came = new Int32Array(layers * last).fill(-1);
  let end = (after[last] as number) - brokenBetween(week, basin, -1, last) - BROKEN * fewest;
  let lastCall = -1;
  for (let next = 0; next < last; next++) {
    const cost = costs[next];
    if (cost === null || cost === undefined) continue;
    // A day without its call costs where that stands: all of them, so that calls can be told from it.
    const own = changeCost(week, basin, next, -1) - cost;
    best[next] = (until[next] as number) - brokenBetween(week, basin, -1, next) + own;
    for (let call = 0; call < next; call++) {
      const step = stepWorth(week, basin, call, next) + own;
      for (let count = 0; count < layers; count++) {
        const at = count * last + call;
        const to = Math.min(count + 1, layers - 1) * last + next;
        const worth = (best[at] as number) + step;
        if (worth > (best[to] as number)) {
          best[to] = worth;
          came[to] = at;
        }
      }
    }
    const left = (after[next] as number) - brokenBetween(week, basin, next, last);
    for (let count = 0; count < layers; count++) {
      const at = count * last + next;
      const whole = (best[at] as number) + left - BROKEN * Math.max(0, fewest - count - 1);
      if (whole > end) {
        end = whole;
        lastCall = at;
      }
    }
  }
  const calls: number[] = [];
  for (let at = lastCall; at >= 0; at = came[at] as number) calls.unshift(at % last);
  return calls;
}
