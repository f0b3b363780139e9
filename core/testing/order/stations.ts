import type { Quantity } from "../../measure/quantity";
import type { Sanitiser } from "../../measure/sanitiser";
import type { Kit, Method } from "../kit";

/**
 * The tests of a visit in the order they are made. Temperature is read in the basin before the sample
 * is taken; then chlorine first, because it fades while you wait.
 */
export const STATION_ORDER = [
  "temperature",
  "freeChlorine",
  "combinedChlorine",
  "bromine",
  "ph",
  "acidDemand",
  "baseDemand",
  "totalAlkalinity",
  "calciumHardness",
  "totalHardness",
  "cyanuricAcid",
  "salt",
  "totalDissolvedSolids",
  "borate",
  "phosphate",
  "iron",
  "copper",
] as const satisfies readonly Quantity[];

export type Station = (typeof STATION_ORDER)[number];

/** @example isStation("judge") // false */
export const isStation = (name: string): name is Station => STATION_ORDER.some((station) => station === name);

/**
 * The methods of a kit that can answer a station, best first. Combined chlorine is titrated, or worked out from a
 * total reading; bromine is read as chlorine by a kit that has no test of its own for it, see `bromineFromChlorine`.
 * @example methodsAt(kit, "salt")[0].id // "salt"
 */
export function methodsAt(kit: Kit, station: Station): Method[] {
  const of = (...quantities: Quantity[]) =>
    kit.methods.filter(({ quantity }) => quantities.includes(quantity));
  if (station === "combinedChlorine") return of("combinedChlorine", "totalChlorine");
  const own = of(station);
  return own.length === 0 && station === "bromine" ? of("freeChlorine") : own;
}

/** Stations that make no sense with this sanitiser. */
const NOT_WITH: Record<Sanitiser, readonly Station[]> = {
  chlorine: ["bromine", "salt"],
  "salt-cell": ["bromine"],
  bromine: ["freeChlorine", "combinedChlorine", "salt"],
};

/**
 * The tests that a visit with this kit can hold, in their order.
 * @example stationsWith(kit, "bromine").includes("bromine") // true
 */
export const stationsWith = (kit: Kit, sanitiser: Sanitiser): Station[] =>
  STATION_ORDER.filter(
    (station) => !NOT_WITH[sanitiser].includes(station) && methodsAt(kit, station).length > 0,
  );

/** What no usual cadence names: made when somebody wants to know, or as often as a firm says. */
const NO_ROUTINE: readonly Station[] = ["totalDissolvedSolids", "borate", "phosphate", "iron", "copper"];

/**
 * The tests of a visit with this kit, and those that are no routine where another case on the truck has them:
 * a metal, a phosphate, the lab's solids.
 * @example stationsOn(kit, [], "chlorine").includes("copper") // false
 */
export function stationsOn(kit: Kit, others: readonly Kit[], sanitiser: Sanitiser): Station[] {
  const own = stationsWith(kit, sanitiser);
  const isElsewhere = (station: Station) =>
    NO_ROUTINE.includes(station) && others.some((other) => methodsAt(other, station).length > 0);
  return STATION_ORDER.filter((station) => own.includes(station) || isElsewhere(station));
}
