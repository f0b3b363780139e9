import { millisecondsInDay } from "date-fns/constants";
import type { HorizonProblem } from "../dosing/horizon/problem";
import type { FirmLearner } from "../learning/learn";
import type { FirmLog } from "../learning/log";
import { posteriorAt, sampleIn } from "../learning/resume";
import { normal, seeded } from "../random";
import { addDays } from "../schedule/days";
import { callTakes, learnPace, pairOf, type TimedVisit, wayTakes } from "../schedule/pace";
import type { Arrangement } from "../week/arrangement";
import { asItStands, fromNothing, improve } from "../week/improve";
import { prepared } from "../week/prepared";
import type { WeekBasin, WeekCall, WeekPerson, WeekProblem } from "../week/problem";
import { brokenRules } from "../week/rules";
import { callWorth } from "../week/worth";
import type { Calendar } from "./firm.fixtures";
import { FIRST_DAY, type HiddenBasin } from "./hidden-basin.fixtures";
import { problemAt } from "./pelagon.fixtures";

/**
 * Who calls where in the simulated firm: fixed weekdays as a good owner draws them up, or weeks that plan themselves.
 * Where the basins lie, how long a call takes and the roads are hidden; both are learned from when visits began and
 * ended.
 */

const FIRST = new Date(FIRST_DAY).toISOString().slice(0, 10);
const dayAt = (day: number): string => addDays(FIRST, day);
const PEOPLE = ["wren", "jory", "ines"] as const;

/** The roads, and how long calls truly take. */
export class Town {
  readonly places: { east: number; north: number }[];
  private readonly minutes: number[];
  private readonly random;

  constructor(count: number, seed: number) {
    this.random = seeded(seed * 31 + 5);
    const centre = () => ({ east: 20 * this.random(), north: 20 * this.random() });
    const villages = Array.from({ length: 6 }, centre);
    this.places = Array.from({ length: count }, () => {
      const { east, north } = villages[Math.floor(6 * this.random())] as { east: number; north: number };
      return { east: east + 1.5 * normal(this.random), north: north + 1.5 * normal(this.random) };
    });
    this.minutes = Array.from({ length: count }, () => 32 * Math.exp(0.25 * normal(this.random)));
  }

  /** Minutes on the road, on the day. */
  drive(from: number, to: number): number {
    return this.usualDrive(from, to) * Math.exp(0.2 * normal(this.random));
  }

  usualDrive(from: number, to: number): number {
    const [a, b] = [this.places[from], this.places[to]] as { east: number; north: number }[];
    if (!a || !b || from === to) return 0;
    return 3 + 1.3 * 1.5 * Math.hypot(a.east - b.east, a.north - b.north);
  }

  call(basin: number): number {
    return (this.minutes[basin] as number) * Math.exp(0.2 * normal(this.random));
  }
}

/** One person's calls of a day, in their order. */
interface Route {
  person: string;
  stops: number[];
}

/** A calendar that tells what it took. */
export interface TimedCalendar extends Calendar {
  /** Minutes of work and ways, and calls, of each day that is over. */
  days: { day: number; minutes: number; calls: number }[];
  /** Calls that the week before had on other days, or with somebody else. */
  moved: number;
  weeks: number;
  /** Days by which contracts were broken. */
  late: number;
}

const siteOf = (basin: number) => `site-${basin}`;

/** Drives a day's routes: what they took goes into the sum and into the book. */
function drive(town: Town, day: number, routes: readonly Route[], book: TimedVisit[]): number {
  let sum = 0;
  for (const { person, stops } of routes) {
    let at = FIRST_DAY + day * millisecondsInDay + 8 * 3_600_000;
    stops.forEach((stop, index) => {
      const before = stops[index - 1];
      const way = before === undefined ? 0 : town.drive(before, stop);
      const minutes = town.call(stop);
      const startedAt = at + way * 60_000;
      book.push({
        memberId: person,
        basinId: `basin-${stop}`,
        siteId: siteOf(stop),
        startedAt,
        finishedAt: startedAt + minutes * 60_000,
      });
      at = startedAt + minutes * 60_000;
      sum += way + minutes;
    });
  }
  return sum;
}

/** Weekdays by how often a basin is called at, spread over the week. */
const PATTERNS: Record<number, readonly (readonly number[])[]> = {
  1: [[0], [1], [2], [3], [4]],
  2: [
    [0, 3],
    [1, 4],
  ],
  3: [[0, 2, 4]],
};

/** Fixed weekdays: each person has a part of the country, each weekday a part of that. */
export function fixedWeek(
  town: Town,
  people = PEOPLE.length,
): TimedCalendar & { weekdays: number[][]; book: TimedVisit[] } {
  const weekdays: number[][] = [];
  const ofPerson: string[] = [];
  const calendar = {
    days: [] as TimedCalendar["days"],
    moved: 0,
    weeks: 0,
    late: 0,
    weekdays,
    book: [] as TimedVisit[],
    first(basins: readonly HiddenBasin[], until: number) {
      const order = basins.map((_, index) => index).sort((a, b) => angle(a) - angle(b));
      order.forEach((basin, place) => {
        const person = Math.floor((place * people) / order.length);
        ofPerson[basin] = PEOPLE[person] as string;
        const { rhythm } = basins[basin] as HiddenBasin;
        const aWeek = Math.round((7 * rhythm.length) / rhythm.reduce((sum, one) => sum + one, 0));
        const patterns = PATTERNS[aWeek] as readonly (readonly number[])[];
        const within = ((place * people) % order.length) / order.length;
        weekdays[basin] = [...(patterns[Math.floor(within * patterns.length)] as readonly number[])];
      });
      return basins.map((_, index) => {
        const days = [];
        for (let day = 0; day < until; day++) if (weekdays[index]?.includes(day % 7)) days.push(day);
        return days;
      });
    },
    morning(day: number) {
      const today = weekdays.flatMap((days, basin) => (days.includes(day % 7) ? [basin] : []));
      const routes = PEOPLE.map((person) => ({
        person,
        stops: nearest(
          town,
          today.filter((basin) => ofPerson[basin] === person),
        ),
      }));
      calendar.days.push({ day, minutes: drive(town, day, routes, calendar.book), calls: today.length });
    },
  };
  const angle = (basin: number) => {
    const { east, north } = town.places[basin] as { east: number; north: number };
    return Math.atan2(north - 10, east - 10);
  };
  return calendar;
}

/** From the first on always to the nearest. */
function nearest(town: Town, stops: number[]): number[] {
  const left = [...stops];
  const order = left.splice(0, 1);
  while (left.length > 0) {
    const at = order.at(-1) as number;
    left.sort((a, b) => town.usualDrive(at, a) - town.usualDrive(at, b));
    order.push(left.shift() as number);
  }
  return order;
}

export interface SelfPlanned {
  /** Minutes of a person on a weekday. */
  hours: number;
  minuteWorth: number;
  changeWorth: number;
  /** Turns of a hundred that a week is improved. */
  rounds: number;
  learner(): FirmLearner | null;
  /** Days from one drawing up to the next; a week where nobody says. */
  every?: number;
  /** Fixed weekdays until there is something to go by. */
  from: number;
}

/** Days between calls at most: every tub and every pool that is called at twice is to be seen each week, the others each other one. */
const contractOf = ({ kind, rhythm }: HiddenBasin): number => (kind === "spa" || rhythm.length > 1 ? 7 : 14);

const DAYS = 14;

/** Weeks that plan themselves, every Monday morning, by what the book says and nothing else. */
export function selfPlanned(town: Town, options: SelfPlanned): TimedCalendar {
  const fixed = fixedWeek(town);
  const { book } = fixed;
  let stands: WeekCall[] = [];
  let routes = new Map<string, Route[]>();
  const calendar: TimedCalendar = {
    days: fixed.days,
    moved: 0,
    weeks: 0,
    late: 0,
    first: fixed.first,
    morning(day, { log, basins, calls }) {
      if (day < options.from) {
        fixed.morning?.(day, { log, basins, calls });
        return;
      }
      if ((day - options.from) % (options.every ?? 7) === 0) plan(day, { log, basins, calls });
      const today = routes.get(dayAt(day)) ?? [];
      const made = today.reduce((sum, { stops }) => sum + stops.length, 0);
      calendar.days.push({ day, minutes: drive(town, day, today, book), calls: made });
    },
  };
  return calendar;

  function plan(
    day: number,
    { log, basins, calls }: { log: FirmLog; basins: readonly HiddenBasin[]; calls: number[][] },
  ): void {
    const learner = options.learner();
    const pace = learnPace(book, (at) => new Date(at).toISOString().slice(0, 10));
    if (stands.length === 0)
      stands = calls.flatMap((days, basin) =>
        days.flatMap((one) =>
          one >= day && one < day + DAYS ? [{ day: dayAt(one), basin: `basin-${basin}`, person: "" }] : [],
        ),
      );
    const at = FIRST_DAY + day * millisecondsInDay + 9 * 3_600_000;
    const week: WeekProblem = {
      from: dayAt(day),
      days: DAYS,
      basins: basins.map((basin, index): WeekBasin => {
        const visits = log.basins[index]?.visits ?? [];
        const last = visits.findLast(({ readings }) => readings.length > 0);
        return {
          id: basin.id,
          site: siteOf(index),
          minutes: callTakes(pace, basin.id).minutes,
          worth: callWorth(problemBetween(basin, index, log, learner, at)),
          since: last ? Math.round((at - last.at) / millisecondsInDay) : null,
          use: [],
          must: [],
          allowed: null,
          fixed: [],
          daily: false,
          least: 1,
          most: contractOf(basin),
          fewest: 0,
          season: null,
          mayGo: null,
          load: 0,
        };
      }),
      people: PEOPLE.map(
        (id): WeekPerson => ({
          id,
          hours: [1, 2, 3, 4, 5, 6, 7].map((weekday) => (weekday <= 5 ? options.hours : 0)),
          off: [],
          start: null,
          carries: null,
        }),
      ),
      ways: {
        known: Object.fromEntries(
          basins.flatMap((_, a) =>
            basins.flatMap((__, b) => {
              const [one, other] = [siteOf(a), siteOf(b)];
              // What was never driven is told by where it lies, as far as roads are like one another.
              const learned = wayTakes(pace, one, other);
              return a < b
                ? [[pairOf(one, other), learned.times > 0 ? learned.minutes : town.usualDrive(a, b)]]
                : [];
            }),
          ),
        ),
        usual: pace.usualWay.minutes,
      },
      closed: [],
      stands,
      minuteWorth: options.minuteWorth,
      changeWorth: options.changeWorth,
    };
    const ready = prepared(week);
    const starts = [asItStands(ready), fromNothing(ready)].sort((a, b) => b.worth() - a.worth());
    const turns = improve(ready, starts[0] as Arrangement);
    let best = starts[0] as Arrangement;
    for (let round = 0; round < options.rounds; round++) best = turns.next().value;
    note(day, week, best, calls);
  }

  function note(day: number, week: WeekProblem, best: Arrangement, calls: number[][]): void {
    const { days, people } = best.week;
    routes = new Map(
      days.map((name, index) => [
        name,
        PEOPLE.map((person, place) => ({
          person,
          stops: [...(best.routes[index * people + place] as number[])],
        })),
      ]),
    );
    const made: WeekCall[] = [];
    for (const [name, of] of routes)
      for (const { person, stops } of of)
        for (const stop of stops) made.push({ day: name, person, basin: `basin-${stop}` });
    const until = addDays(week.from, options.every ?? 7);
    const key = ({ day: on, basin }: WeekCall) => `${on} ${basin}`;
    const stood = new Set(week.stands.filter((one) => one.day < until).map(key));
    calendar.moved += made.filter((one) => one.day < until && !stood.has(key(one))).length;
    calendar.weeks++;
    calendar.late += brokenRules(week, made).filter(({ rule }) => rule === "most-days").length;
    stands = made;
    calls.forEach((of, basin) => {
      const mine = days.flatMap((_, index) =>
        (best.calls[basin * days.length + index] as number) >= 0 ? [day + index] : [],
      );
      // What lies beyond is expected at the distance of the last ones.
      const gap = mine.length > 1 ? (mine.at(-1) as number) - (mine.at(-2) as number) : 7;
      const last = mine.at(-1) ?? day + DAYS - 1;
      of.splice(0, of.length, ...mine, last + gap, last + 2 * gap, last + 3 * gap);
    });
  }
}

/** What a basin's belief poses on a morning without a call; before there is one, what is usual. */
function problemBetween(
  basin: HiddenBasin,
  index: number,
  log: FirmLog,
  learner: FirmLearner | null,
  at: number,
): HorizonProblem {
  const posterior = learner?.answerOf(index).posterior;
  if (!posterior) throw new Error("nothing was learned yet");
  const believed = posteriorAt(posterior, at, { visits: [], weather: log.weather, location: log.location });
  const read = sampleIn(believed, at, { weather: log.weather, location: log.location });
  const problem = problemAt(
    { basin, read, readings: [], at, next: [at + 7 * millisecondsInDay], log, solver: () => null },
    learner,
  );
  return { ...problem, believed };
}
