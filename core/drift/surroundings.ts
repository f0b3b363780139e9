import { millisecondsInDay } from "date-fns/constants";
import type { DriftPlace } from "./habits";
import type { Location } from "./sun";

/** Sun and air over a basin, and its water's temperature, at any time. */

export interface WeatherOfDay {
  /** As 2026-05-01. */
  day: string;
  /** Mean of the air, °C. */
  air: number;
  /** Share of a clear day's sun, 0…1. */
  sun: number;
}

export interface Surroundings {
  location: Location;
  /** Share of a clear day's sun. */
  clearness(at: number): number;
  /** Of the water, °C. */
  temperature(at: number): number;
}

/** A day of which nobody told is like the mean of those that were told. */
const USUAL = { air: 18, sun: 0.75 };
/** Water follows the air of about so many days. */
const AIR_DAYS = 5;
/** Warmer than the air that it follows, °C: the sun is on it. */
const WARMER = 2.5;
/** Of a change of the air, so much reaches a water that somebody heats or shades. */
const FOLLOWS = 0.5;
const LIMITS = { low: 2, high: 42 };

const dayNumber = (at: number): number => Math.floor(at / millisecondsInDay);

/** @param readings of the water's temperature, in the order of time */
export function surroundingsOf(
  place: DriftPlace,
  location: Location,
  weather: readonly WeatherOfDay[],
  readings: readonly { at: number; value: number }[],
): Surroundings {
  const days = new Map(weather.map((one) => [dayNumber(Date.parse(`${one.day}T12:00:00Z`)), one]));
  const mean = (of: "air" | "sun") =>
    weather.length === 0 ? USUAL[of] : weather.reduce((sum, one) => sum + one[of], 0) / weather.length;
  const usual = { air: mean("air"), sun: mean("sun") };
  const airs = new Map<number, number>();
  const airNear = (at: number): number => {
    const day = dayNumber(at);
    let near = airs.get(day);
    if (near === undefined) {
      let sum = 0;
      for (let back = 0; back < AIR_DAYS; back++) sum += days.get(day - back)?.air ?? usual.air;
      near = sum / AIR_DAYS;
      airs.set(day, near);
    }
    return near;
  };
  const unread = (at: number): number =>
    place.kind === "spa" ? 38 : place.outdoors ? airNear(at) + WARMER : 28;
  const follows = place.kind === "spa" || !place.outdoors ? 0 : FOLLOWS;
  const from = (one: { at: number; value: number }, at: number): number =>
    one.value + follows * (airNear(at) - airNear(one.at));
  return {
    location,
    clearness: (at) => days.get(dayNumber(at))?.sun ?? usual.sun,
    temperature(at) {
      let after = 0;
      let high = readings.length;
      while (after < high) {
        const middle = (after + high) >> 1;
        if ((readings[middle]?.at ?? 0) <= at) after = middle + 1;
        else high = middle;
      }
      const before = readings[after - 1];
      const next = readings[after];
      let value: number;
      if (before && next) {
        const share = (at - before.at) / Math.max(1, next.at - before.at);
        value = (1 - share) * from(before, at) + share * from(next, at);
      } else if (before) value = from(before, at);
      else if (next) value = from(next, at);
      else value = unread(at);
      return Math.min(LIMITS.high, Math.max(LIMITS.low, value));
    },
  };
}
