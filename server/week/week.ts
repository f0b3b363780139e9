import { subDays } from "date-fns";
import {
  addDays,
  type Basin,
  type BasinWishes,
  type BrokenRule,
  brokenRules,
  type CallWorth,
  callsBetween,
  callTakes,
  dayIn,
  daysBetween,
  type Firm,
  fewestWithout,
  hourIn,
  type MemberWeek,
  minutesBetween,
  mostWithout,
  NO_HOURS,
  NO_WISHES,
  rightOn,
  USUAL_MEMBER_WEEK,
  type WeekBasin,
  type WeekCall,
  type WeekPerson,
  type WeekProblem,
  waysOf,
  wayTakes,
  weekdayOf,
  worthFrom,
} from "#core";
import { basinsInOrder } from "../db/basins";
import { reading } from "../db/batch";
import type { FirmScope } from "../db/connection";
import { paceOf } from "../db/pace";
import { roundVersions } from "../db/rounds";
import {
  firmWeekOf,
  lastCallDays,
  loadsOf,
  memberWeeks,
  movedTo,
  placesOf,
  wishesOf,
  worthsOf,
} from "../db/week";
import { type CallAhead, callsAhead } from "../round/ahead";

/** A firm's week as it stands: its calls day by day, and what it may be drawn up from. */

/** Days back of which calls tell what one takes off the truck. */
const LOAD_DAYS = 42;
/** What a call that moves has to bring, and a minute: days that a basin is right longer. */
export const USUAL_CHANGE_WORTH = 0.1;
export const USUAL_MINUTE_WORTH = 0.01;

export interface WeekMember {
  id: string;
  name: string;
  /** Minutes of each weekday and days off; as everybody where nobody said. */
  week: MemberWeek;
}

/** One call of the board. */
export interface BoardCall {
  day: string;
  basinId: string;
  memberId: string | null;
  /** At the water, and the way from the same person's stop before; null for their first. */
  minutes: number;
  way: number | null;
  /** Nobody of the firm ever drove it: it is told by where the sites lie, or as is usual. */
  isEstimated: boolean;
  /** How likely chlorine and pH are still right when it comes, 0…1; null where nothing is known. */
  lasts: number | null;
  /** What asks for it besides the basin's own days. */
  because: "event" | "job" | null;
  event: string | null;
  done: boolean;
  /** It moved here, and somebody who had not heard of it called on this day all the same. */
  calledOn: string | null;
}

export interface Board {
  from: string;
  days: string[];
  today: string;
  members: WeekMember[];
  closed: string[];
  /** What does not hold of what is written down: contracts, hours, days off. */
  broken: BrokenRule[];
  versions: Record<string, number>;
  calls: BoardCall[];
  basins: { id: string; name: string; site: string }[];
}

/** Versions are told for so many days ahead: a week that is drawn up reaches farther than the page. */
const VERSIONS_AHEAD = 35;

export interface Gathered {
  basins: Basin[];
  ahead: CallAhead[];
  members: WeekMember[];
  /** Whether anybody's hours are written down. */
  isSaid: boolean;
  closed: string[];
  wishes: Map<string, BasinWishes>;
  worths: Map<string, { worth: CallWorth; at: Date }>;
  last: Map<string, string>;
  loads: Map<string, number>;
  pace: Awaited<ReturnType<typeof paceOf>>;
  ways: { known: Record<string, number>; usual: number };
  versions: Map<string, number>;
  moved: Awaited<ReturnType<typeof movedTo>>;
}

export const gather = (
  scope: FirmScope,
  firm: Firm,
  from: string,
  to: string,
  now: Date,
): Promise<Gathered> =>
  reading(scope, async (reads) => {
    const [basins, ahead, people, week, wishes, worths, last, loads, pace, places, versions, moved] =
      await Promise.all([
        basinsInOrder(reads),
        callsAhead(reads, from, to),
        memberWeeks(reads),
        firmWeekOf(reads),
        wishesOf(reads),
        worthsOf(reads),
        lastCallDays(reads, firm.timeZone),
        loadsOf(reads, subDays(now, LOAD_DAYS)),
        paceOf(reads),
        placesOf(reads),
        roundVersions(reads, from, addDays(to, VERSIONS_AHEAD)),
        movedTo(reads, from, to),
      ]);
    // Where somebody's hours are written down, whoever has none makes no calls that are drawn up.
    const isSaid = people.some((one) => one.week);
    const usual = isSaid ? NO_HOURS : usualWeek(basins);
    const sites = [...new Set(basins.map(({ site }) => site.id))];
    return {
      basins,
      ahead,
      members: people.map((one) => ({ ...one, week: one.week ?? usual })),
      isSaid,
      closed: week.closed,
      wishes,
      worths,
      last,
      loads,
      pace,
      ways: waysOf(pace, places, sites),
      versions,
      moved,
    };
  });

/** Where nobody said when anybody works: the usual hours of each weekday that has calls. */
function usualWeek(basins: readonly Basin[]): MemberWeek {
  const called = new Set(basins.flatMap(({ calls }) => calls.callDays));
  if (called.size === 0) return USUAL_MEMBER_WEEK;
  return {
    ...USUAL_MEMBER_WEEK,
    hours: [1, 2, 3, 4, 5, 6, 7].map((day) => (called.has(day) ? FULL_DAY : 0)),
  };
}
const FULL_DAY = 480;

/** The week from a day on, as it stands. */
export async function boardOn(
  scope: FirmScope,
  firm: Firm,
  asked: { from: string; days: number },
  now: Date,
): Promise<Board> {
  const to = addDays(asked.from, asked.days - 1);
  const known = await gather(scope, firm, asked.from, to, now);
  const today = dayIn(now, firm.timeZone);
  const before = new Map<string, string>();
  const calls = inOrder(known).map(({ day, basin, memberId, before: event, byJob }): BoardCall => {
    const last = known.last.get(basin.id);
    const trip = `${day} ${memberId}`;
    const from = before.get(trip);
    before.set(trip, basin.site.id);
    return {
      day,
      basinId: basin.id,
      memberId,
      minutes: Math.round(callTakes(known.pace, basin.id).minutes),
      way:
        memberId && from !== undefined ? Math.round(minutesBetween(known.ways, from, basin.site.id)) : null,
      isEstimated:
        from !== undefined && from !== basin.site.id && wayTakes(known.pace, from, basin.site.id).times === 0,
      lasts: lastsUntil(known, basin.id, day, firm.timeZone),
      because: event ? "event" : byJob ? "job" : null,
      event: event?.name ?? null,
      done: day <= today && last === day,
      calledOn: known.moved.some(
        (one) => one.basinId === basin.id && one.to === day && last && last >= one.from && last < day,
      )
        ? (last ?? null)
        : null,
    };
  });
  return {
    from: asked.from,
    days: Array.from({ length: asked.days }, (_, ahead) => addDays(asked.from, ahead)),
    today,
    members: known.members,
    closed: known.closed,
    broken: brokenIn(known, { ...asked, today, timeZone: firm.timeZone }),
    versions: Object.fromEntries(known.versions),
    calls,
    basins: known.basins.map(({ id, name, site }) => ({ id, name, site: site.name })),
  };
}

/** What a week as it stands breaks of what is written down; what is only usual is nobody's rule. */
function brokenIn(
  known: Gathered,
  { from, days, today, timeZone }: { from: string; days: number; today: string; timeZone: string },
): BrokenRule[] {
  const stands = inOrder(known).map(
    ({ day, basin, memberId }): WeekCall => ({ day, person: memberId ?? "", basin: basin.id }),
  );
  const week: WeekProblem = {
    from,
    days,
    basins: known.basins.map((basin) => ({
      ...basinIn(known, basin, { first: from, days, today, timeZone }),
      most: known.wishes.get(basin.id)?.most ?? null,
      fewest: 0,
    })),
    people: known.members.map(({ id, week: own }): WeekPerson => ({ id, ...own, start: null })),
    ways: known.ways,
    closed: known.closed,
    stands,
    minuteWorth: 0,
    changeWorth: 0,
  };
  return brokenRules(week, stands).filter(
    ({ rule, ...of }) =>
      // A stop of whoever is free is somebody's in the morning.
      !("person" in of && of.person === "") && (known.isSaid || (rule !== "hours" && rule !== "off")),
  );
}

/** A day's calls as its order says; where it says nothing, as the basins stand. */
const inOrder = ({ ahead, basins }: Gathered): CallAhead[] => {
  const stands = new Map(basins.map(({ id }, index) => [id, index + 0.5]));
  const place = ({ position, basin }: CallAhead) => position ?? stands.get(basin.id) ?? 0;
  return [...ahead].sort((a, b) => a.day.localeCompare(b.day) || place(a) - place(b));
};

/** How likely a water is right on the day of a call, since the one before. */
function lastsUntil({ worths, last, ahead }: Gathered, basinId: string, day: string, timeZone: string) {
  const kept = worths.get(basinId);
  if (!kept) return null;
  const before = ahead.filter((one) => one.basin.id === basinId && one.day < day).at(-1)?.day ?? null;
  if (before) {
    const gap = daysBetween(before, day);
    return rightOn(kept.worth.after, gap - 1, gap);
  }
  const learned = dayIn(kept.at, timeZone);
  const seen = last.get(basinId);
  if (seen !== undefined && seen >= learned && seen < day) {
    const gap = daysBetween(seen, day);
    return rightOn(kept.worth.after, gap - 1, gap);
  }
  const { alone } = kept.worth;
  return alone[Math.min(alone.length - 1, Math.max(0, daysBetween(learned, day)))] ?? null;
}

export interface ProblemAsked {
  /** Today for the rest of it: what is done stands, and only the hours that are left are worked. */
  from: string;
  days: number;
  minuteWorth: number;
  changeWorth: number;
  /** Somebody who does not work today, or not any more. */
  without?: string | null;
}

/** Where nobody said when a day begins. Hours of the day */
const DAY_BEGINS = 8;

/** Minutes of a day's work that are left now. */
const leftToday = (minutes: number, now: Date, timeZone: string): number =>
  Math.max(0, Math.min(minutes, DAY_BEGINS * 60 + minutes - 60 * hourIn(now, timeZone)));

/** The next weeks as a problem to be solved: what stands in them, and what must hold. */
export async function weekProblemOn(
  scope: FirmScope,
  firm: Firm,
  { from, days: asked, minuteWorth, changeWorth, without = null }: ProblemAsked,
  now: Date,
): Promise<WeekProblem> {
  const today = dayIn(now, firm.timeZone);
  const first = from < today ? today : from;
  // Today's weekday comes once: what is left of its hours is no other day's.
  const days = first === today ? Math.min(7, asked) : asked;
  const known = await gather(scope, firm, today, addDays(first, days - 1), now);
  const stands = inOrder(known)
    .filter(({ day, basin }) => !(day === today && known.last.get(basin.id) === today))
    .map(({ day, basin, memberId }): WeekCall => ({ day, person: memberId ?? "", basin: basin.id }));
  const hoursOf = ({ id, week: { hours } }: WeekMember) =>
    hours.map((minutes, index) => {
      if (first !== today || index !== weekdayOf(today) - 1) return minutes;
      return id === without ? 0 : leftToday(minutes, now, firm.timeZone);
    });
  return {
    from: first,
    days,
    basins: known.basins.map((basin) =>
      basinIn(known, basin, { first, days, today, timeZone: firm.timeZone }),
    ),
    people: known.members.map(
      (member): WeekPerson => ({ id: member.id, ...member.week, hours: hoursOf(member), start: null }),
    ),
    ways: known.ways,
    closed: known.closed,
    stands: stands.filter(({ day }) => day >= first),
    minuteWorth,
    changeWorth,
  };
}

interface Span {
  first: string;
  days: number;
  today: string;
  timeZone: string;
}

function basinIn(known: Gathered, basin: Basin, { first, days, today, timeZone }: Span): WeekBasin {
  const wishes = known.wishes.get(basin.id) ?? NO_WISHES;
  const own = known.ahead.filter((one) => one.basin.id === basin.id);
  // A call that is still to come before the first day is taken as made: those days stand.
  const before = own.filter(({ day }) => day < first).at(-1)?.day;
  const seen = known.last.get(basin.id);
  const last = [before, seen]
    .filter((day): day is string => day !== undefined && day <= first)
    .sort()
    .at(-1);
  // Who was there today is not asked to come again.
  const isDone = seen === today && first === today;
  const comes = own.filter(({ day }) => day >= first && !(isDone && day === today));
  const kept = known.worths.get(basin.id);
  const learned = kept ? dayIn(kept.at, timeZone) : today;
  return {
    id: basin.id,
    site: basin.site.id,
    minutes: callTakes(known.pace, basin.id).minutes,
    worth: kept
      ? worthFrom(
          kept.worth,
          daysBetween(learned, first),
          last && last >= learned ? daysBetween(last, first) : null,
        )
      : UNKNOWN_WORTH,
    since: last ? daysBetween(last, first) : null,
    use: Array.from({ length: days }, () => wishes.use),
    // A basin of which nothing was learned yet stays on its days.
    must: comes.filter(({ before: event, byJob }) => event || byJob || !kept).map(({ day }) => day),
    allowed: wishes.allowed,
    fixed: wishes.fixed.filter((weekday) => !(isDone && weekday === weekdayOf(today))),
    daily: wishes.daily && !isDone,
    least: wishes.least ?? 1,
    most: wishes.most ?? mostBetween(basin, today),
    fewest: fewestWithout(wishes.most, comes.length),
    season: basin.calls.season,
    mayGo: wishes.mayGo,
    load: known.loads.get(basin.id) ?? 0,
  };
}

/** Right whatever anybody does: no call there is worth another day. */
const UNKNOWN_WORTH: CallWorth = {
  alone: [1],
  after: Array.from({ length: 21 }, (_, index) => Array.from({ length: index + 1 }, () => 1)),
};

/** The longest that a basin is left where its contract says nothing; null where it has no days of its own either. */
export function mostBetween(basin: Basin, today: string): number | null {
  const every = usualGap(basin, today);
  return every === null ? null : mostWithout(every);
}

/** Weeks over which a basin's own days are looked at. */
const GAP_WEEKS = 8;

/** Days between a basin's calls by its own days, at their longest; null where it has none. */
function usualGap({ calls }: Basin, today: string): number | null {
  const own = callsBetween(
    { ...calls, moved: undefined, season: null },
    today,
    addDays(today, 7 * GAP_WEEKS),
  );
  const gaps = own.slice(1).map((day, index) => daysBetween(own[index] as string, day));
  return gaps.length === 0 ? null : Math.max(...gaps);
}
