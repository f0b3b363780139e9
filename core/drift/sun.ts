import { millisecondsInHour } from "date-fns/constants";
import { getPosition, getTimes } from "suncalc";

/** Where a basin is, for the height of the sun. Degrees. */
export interface Location {
  latitude: number;
  longitude: number;
}

/** Hours are asked for again and again: each is worked out once for a place. */
const known = new Map<string, Map<number, number>>();

/** Sine of the sun's height in the middle of an hour; 0 while it is down. */
function heightIn(hour: number, { latitude, longitude }: Location): number {
  const key = `${latitude} ${longitude}`;
  let hours = known.get(key);
  if (!hours) {
    if (known.size > 64) known.clear();
    hours = new Map();
    known.set(key, hours);
  }
  let height = hours.get(hour);
  if (height === undefined) {
    const { altitude } = getPosition(new Date((hour + 0.5) * millisecondsInHour), latitude, longitude);
    height = Math.max(0, Math.sin((altitude * Math.PI) / 180));
    hours.set(hour, height);
  }
  return height;
}

/**
 * The mean height of the sun between two moments, as a sine: 1 is straight overhead all the while.
 * @param from ms since 1970
 * @example sunBetween(Date.UTC(2026, 5, 21, 0), Date.UTC(2026, 5, 22, 0), { latitude: 40, longitude: 0 }) // 0.38
 */
export function sunBetween(from: number, to: number, at: Location): number {
  let sum = 0;
  for (let hour = Math.floor(from / millisecondsInHour); hour * millisecondsInHour < to; hour++) {
    const begin = Math.max(from, hour * millisecondsInHour);
    const end = Math.min(to, (hour + 1) * millisecondsInHour);
    sum += heightIn(hour, at) * (end - begin);
  }
  return to > from ? sum / (to - from) : 0;
}

/**
 * Hours of daylight of a day; where the sun does not set, or does not rise, half a day.
 * @param noon ms since 1970
 * @example daylightHours(Date.UTC(2026, 5, 21, 12), { latitude: 40, longitude: 0 }) // 15.017
 */
export function daylightHours(noon: number, { latitude, longitude }: Location): number {
  const { sunrise, sunset } = getTimes(new Date(noon), latitude, longitude);
  const hours = sunrise && sunset ? (sunset.getTime() - sunrise.getTime()) / millisecondsInHour : Number.NaN;
  return hours > 0 ? hours : 12;
}
