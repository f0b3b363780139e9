import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import type { Location } from "./sun";

/** How far north nobody asks a firm. Degrees */
const LATITUDE = 40;

/**
 * Where a firm is, as its zone's clock says.
 * @example locationOf("America/Denver", new Date("2026-12-01T12:00:00Z")).longitude // -105
 */
export const locationOf = (timeZone: string, now: Date): Location => ({
  latitude: LATITUDE,
  longitude: longitudeOf(timeZone, now),
});

/** Degrees east. */
function longitudeOf(timeZone: string, now: Date): number {
  const clock = new Intl.DateTimeFormat("en-US", { timeZone, hour12: false, hour: "2-digit" });
  const hour = Number(clock.format(now)) % 24;
  const utc = (now.getTime() % millisecondsInDay) / millisecondsInHour;
  const east = ((hour - Math.floor(utc) + 36) % 24) - 12;
  return Math.max(-180, Math.min(180, east * 15));
}
