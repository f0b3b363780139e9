import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import type { Location } from "../drift/sun";
import type { WeatherOfDay } from "../drift/surroundings";
import { InputFault, numberWithin } from "../fault";
import { isDay } from "../schedule/days";
import { fieldsOf } from "./fields";

/** Times, places and weather out of a line. */

/** ms since 1970. */
export function timeOf(field: string, value: unknown): number {
  if (value === undefined || value === null) throw new InputFault("missing", field, value);
  const at = typeof value === "string" ? Date.parse(value) : typeof value === "number" ? value : Number.NaN;
  if (!Number.isFinite(at) || Math.abs(at) > 8.64e15)
    throw new InputFault("malformed", field, value, "a time as 2026-05-01T09:30:00Z");
  return at;
}

export function weatherOf(at: string, value: unknown): WeatherOfDay {
  const fields = fieldsOf(at, value);
  const { day } = fields;
  if (typeof day !== "string" || !isDay(day.slice(0, 10)))
    throw new InputFault(day === undefined ? "missing" : "malformed", `${at}.day`, day, "2026-05-01");
  return {
    day: day.slice(0, 10),
    air: numberWithin(`${at}.air`, fields.air, -60, 60),
    sun: numberWithin(`${at}.sun`, fields.sun, 0, 1),
  };
}

/** A line that says nothing of where it is, is taken for one at this latitude. Degrees */
const LATITUDE = 40;
/** Hours of the day at which a technician calls: a clock that says others is another zone's. */
const WORKING = { from: 7, to: 18, middle: 12 } as const;

/**
 * Where calls are made by their clock: by day, and half of them before the middle of it.
 * @param times of the calls, ms since 1970
 * @example locationByClock([Date.UTC(2026, 5, 1, 12)]).longitude // 0
 */
export function locationByClock(times: readonly number[]): Location {
  const hours = times.map((at) => (at % millisecondsInDay) / millisecondsInHour).sort((a, b) => a - b);
  const middle = hours[hours.length >> 1] ?? WORKING.middle;
  if (middle >= WORKING.from && middle <= WORKING.to) return { latitude: LATITUDE, longitude: 0 };
  const longitude = (WORKING.middle - middle) * 15;
  return { latitude: LATITUDE, longitude: ((longitude + 540) % 360) - 180 };
}

export function locationOf(value: unknown): Location {
  const fields = fieldsOf("location", value);
  return {
    latitude: numberWithin("location.latitude", fields.latitude, -90, 90),
    longitude: numberWithin("location.longitude", fields.longitude, -180, 180),
  };
}
