import { InputFault } from "../fault";
import { type Measurement, QUANTITIES } from "../measure/quantity";
import type { Method } from "./kit";
import { plausible, readMeter } from "./meter";
import { readScale, type ScalePlace } from "./scale";
import { dropFactor, titrate } from "./titration";

/** What the technician saw, by the kind of method: drops, a place on a scale, or a number. */
export type Observation =
  | { kind: "drops"; count: number; sample: number; dilution?: number }
  | { kind: "place"; place: ScalePlace; dilution?: number }
  | { kind: "number"; value: number };

/** Turns an observation into a measurement by the kit's method; the one way in for screens and server. */
export function measure(method: Method, seen: Observation): Measurement {
  const { unit } = QUANTITIES[method.quantity];
  if (method.kind === "titration" && seen.kind === "drops")
    return plausible(
      method.quantity,
      titrate(seen.count, dropFactor(method, seen.sample), unit, seen.dilution),
    );
  if ((method.kind === "comparator" || method.kind === "turbidity") && seen.kind === "place")
    return plausible(method.quantity, readScale(method, seen.place, unit, seen.dilution));
  if (method.kind === "meter" && seen.kind === "number") return readMeter(method, seen.value);
  throw new InputFault("inconsistent", "observation", seen.kind, method.kind);
}
