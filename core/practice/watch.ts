import { type ColourName, colourName, differenceOf } from "./colour/names";
import { endOf, lookOf, type Vessel } from "./vessel";

/** What an eye says of a vessel, for whoever cannot see its colour or wants it named. */
export interface Watched {
  name: ColourName;
  /** How far it is from the first colour to the last, 0…1; null where nothing is titrated. */
  share: number | null;
}

/**
 * The colour's name, and how far along it is to an eye.
 * @example watched(vessel).share // null
 */
export function watched(vessel: Vessel): Watched {
  const { colour } = lookOf(vessel);
  const name = colourName(colour);
  const end = endOf(vessel);
  if (vessel.method.kind !== "titration" || end <= 0) return { name, share: null };
  const first = lookOf({ ...vessel, titrant: 0, plume: 0 }).colour;
  const last = lookOf({ ...vessel, titrant: end + 0.4, plume: 0 }).colour;
  const whole = differenceOf(first, last);
  if (whole < 1) return { name, share: null };
  return { name, share: Math.min(1, Math.max(0, 1 - differenceOf(colour, last) / whole)) };
}
