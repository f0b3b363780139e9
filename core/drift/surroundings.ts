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

/** A day of which nobody told is like the mean of those that were told about that time of the year, or of all. */
const USUAL = { air: 18, sun: 0.75 };
/** About that time of the year: so many days before and after. */
const SEASON_DAYS = 21;
/** Fewer days than these are a front, not a season. */
const ENOUGH_DAYS = 7;
const YEAR_DAYS = 365;

type Mean = Pick<WeatherOfDay, "air" | "sun">;
/** Water follows the air of about so many days. */
const AIR_DAYS = 5;
/** Warmer than the air that it follows, °C: the sun is on it. */
const WARMER = 2.5;
/** Of a change of the air, so much reaches a water that somebody heats or shades. */
const FOLLOWS = 0.5;
const LIMITS = { low: 2, high: 42 };

const dayNumber = (at: number): number => Math.floor(at / millisecondsInDay);

/**
 * Sun and warmth at a basin, by the weather that was told and the temperatures that were read.
 * @param readings of the water's temperature, in the order of time
 * @example surroundingsOf({ kind: "spa", outdoors: false, feeder: "none" }, { latitude: 40, longitude: 0 }, [], []).temperature(0) // 38
 */
export function surroundingsOf(
  place: DriftPlace,
  location: Location,
  weather: readonly WeatherOfDay[],
  readings: readonly { at: number; value: number }[],
): Surroundings {
  const numbers = weather.map((one) => dayNumber(Date.parse(`${one.day}T12:00:00Z`)));
  const days = new Map(weather.map((one, index) => [numbers[index], one]));
  const usualOn = seasonOf(weather, numbers);
  const airs = new Map<number, number>();
  const airNear = (at: number): number => {
    const day = dayNumber(at);
    let near = airs.get(day);
    if (near === undefined) {
      let sum = 0;
      for (let back = 0; back < AIR_DAYS; back++) sum += days.get(day - back)?.air ?? usualOn(day - back).air;
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
    clearness: (at) => days.get(dayNumber(at))?.sun ?? usualOn(dayNumber(at)).sun,
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

/** The mean of the days that were told about a time of the year. */
function seasonOf(weather: readonly WeatherOfDay[], numbers: readonly number[]): (day: number) => Mean {
  const byDay = Array.from({ length: YEAR_DAYS }, (): Mean & { days: number } => ({
    air: 0,
    sun: 0,
    days: 0,
  }));
  const at = (day: number) => byDay[((day % YEAR_DAYS) + YEAR_DAYS) % YEAR_DAYS] as (typeof byDay)[number];
  weather.forEach(({ air, sun }, index) => {
    const one = at(numbers[index] as number);
    one.air += air;
    one.sun += sun;
    one.days++;
  });
  const over = (day: number, reach: number): Mean & { days: number } => {
    const sum = { air: 0, sun: 0, days: 0 };
    for (let near = day - reach; near <= day + reach; near++) {
      sum.air += at(near).air;
      sum.sun += at(near).sun;
      sum.days += at(near).days;
    }
    return { air: sum.air / sum.days, sun: sum.sun / sum.days, days: sum.days };
  };
  const whole = weather.length === 0 ? USUAL : over(0, (YEAR_DAYS - 1) / 2);
  const known = new Map<number, Mean>();
  return (day) => {
    let usual = known.get(day);
    if (!usual) {
      const near = over(day, SEASON_DAYS);
      usual = near.days < ENOUGH_DAYS ? whole : near;
      known.set(day, usual);
    }
    return usual;
  };
}
