import { TZDate } from "@date-fns/tz";
import { millisecondsInDay } from "date-fns/constants";

/** Calendar days as 2026-05-01, in no time zone: what a round and a season are told by. */

const noon = (day: string): number => Date.parse(`${day}T12:00:00Z`);

/** The day so many days on. @example addDays("2026-02-28", 1) // "2026-03-01" */
export const addDays = (day: string, days: number): string =>
  new Date(noon(day) + days * millisecondsInDay).toISOString().slice(0, 10);

/** Days from one to another. @example daysBetween("2026-02-28", "2026-03-01") // 1 */
export const daysBetween = (from: string, to: string): number =>
  Math.round((noon(to) - noon(from)) / millisecondsInDay);

/** ISO day of the week, 1 Monday … 7 Sunday. @example weekdayOf("2026-05-05") // 2 */
export const weekdayOf = (day: string): number => new Date(noon(day)).getUTCDay() || 7;

/** The Monday of a day's week. */
export const mondayOf = (day: string): string => addDays(day, 1 - weekdayOf(day));

/** Whether a calendar has this day: not the 31st of June. @example isDay("2026-06-31") // false */
export function isDay(text: string): boolean {
  if (!/^(19|20)\d\d-\d\d-\d\d$/.test(text)) return false;
  const at = Date.parse(`${text}T12:00:00Z`);
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(text);
}

/** Formatters are dear to make; there is one for each time zone that is asked for. */
const formatters = new Map<string, Intl.DateTimeFormat>();

/**
 * The calendar day of an instant in a time zone, as 2026-11-24.
 * @example dayIn(new Date("2026-11-24T03:00:00Z"), "America/Denver") // "2026-11-23"
 */
export function dayIn(at: Date, timeZone: string): string {
  let formatter = formatters.get(timeZone);
  if (!formatter) {
    formatter = new Intl.DateTimeFormat("en-CA", { dateStyle: "short", timeZone });
    formatters.set(timeZone, formatter);
  }
  return formatter.format(at);
}

/**
 * The noon of a day in a time zone, ms since 1970: about when a call of that day is made.
 * @example noonIn("2026-07-01", "America/Denver") // Date.parse("2026-07-01T18:00:00Z")
 */
export function noonIn(day: string, timeZone: string): number {
  const [year, month, date] = day.split("-").map(Number) as [number, number, number];
  return new TZDate(year, month - 1, date, 12, timeZone).getTime();
}

/**
 * Hour of the day of an instant in a time zone, 0 to 24.
 * @example hourIn(new Date("2026-11-24T03:30:00Z"), "America/Denver") // 20.5
 */
export function hourIn(at: Date, timeZone: string): number {
  const there = new TZDate(at.getTime(), timeZone);
  return there.getHours() + there.getMinutes() / 60;
}
