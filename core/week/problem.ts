import type { Season } from "../schedule/calls";
import type { CallWorth } from "./worth";

/**
 * A firm's next weeks: which basin is called at on which day, by whom, in which order. Days are calendar days as
 * 2026-05-01, weekdays ISO ones (1 Monday … 7 Sunday), all times minutes.
 */
export interface WeekProblem {
  /** The first day that may be arranged, and how many there are. */
  from: string;
  days: number;
  basins: readonly WeekBasin[];
  people: readonly WeekPerson[];
  ways: Ways;
  /** The firm's holidays. */
  closed: readonly string[];
  /** What stands: the calls of these days as they were, each day's in their order. */
  stands: readonly WeekCall[];
  /** Days that one basin must be right longer for a minute of work, at the water or on the way. */
  minuteWorth: number;
  /** Days that the basins together must be right longer for a call that moves. */
  changeWorth: number;
}

export interface WeekBasin {
  id: string;
  site: string;
  /** What a call there takes at the water. */
  minutes: number;
  worth: CallWorth;
  /** Days from the last call to the first day here; null where there was none: it waits from the first day on. */
  since: number | null;
  /** How much each day counts, from the first on: a school's pool more than a plunge. 1 beyond its end. */
  use: readonly number[];
  /** Days with a call whatever else: an event on the day after, a job of several calls. */
  must: readonly string[];
  /** Weekdays that the customer allows; null for any. And those on which they want a call each week. */
  allowed: readonly number[] | null;
  fixed: readonly number[];
  /** The law asks for tests on every day of its season. */
  daily: boolean;
  /** Days between two calls by the contract. */
  least: number;
  most: number | null;
  /** Calls in these days at least, where no contract says how many; 0 where it does. */
  fewest: number;
  season: Season | null;
  /** Who has the keys and the licence; null for everybody. */
  mayGo: readonly string[] | null;
  /** kg that a call there takes from the truck. */
  load: number;
}

export interface WeekPerson {
  id: string;
  /** Of each weekday from Monday on; 0 for a day off. */
  hours: readonly number[];
  /** Days off besides. */
  off: readonly string[];
  /** The place where the day begins and ends, see `Ways`; null where only the ways between calls count. */
  start: string | null;
  /** kg that the truck carries; null for whatever there is. */
  carries: number | null;
}

/** Minutes between places, by `pairOf`; the usual way where a pair is not known. */
export interface Ways {
  known: Readonly<Record<string, number>>;
  usual: number;
}

export interface WeekCall {
  day: string;
  person: string;
  basin: string;
}

/** Longest that is arranged at once. */
export const MOST_DAYS = 28;
