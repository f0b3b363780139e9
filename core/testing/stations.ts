import type { Quantity } from "../measure/quantity";
import type { Kit, Method } from "./kit";

/** The tests of a visit in the order they are made: chlorine first, because it fades while you wait. */
export const STATION_ORDER = [
  "freeChlorine",
  "combinedChlorine",
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
  "temperature",
] as const satisfies readonly Quantity[];

export type Station = (typeof STATION_ORDER)[number];

export const isStation = (name: string): name is Station => STATION_ORDER.some((station) => station === name);

/**
 * The methods of a kit that can answer a station, best first. Combined chlorine is titrated, or
 * worked out from a total reading.
 */
export const methodsAt = (kit: Kit, station: Station): Method[] =>
  kit.methods.filter(
    (method) =>
      method.quantity === station || (station === "combinedChlorine" && method.quantity === "totalChlorine"),
  );

/** The next station without a reading, from the top; null when every one has its own. */
export const nextStation = (done: ReadonlySet<Quantity>): Station | null =>
  STATION_ORDER.find((station) => !done.has(station)) ?? null;
