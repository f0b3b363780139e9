import { InputFault } from "../fault";
import { type Measurement, QUANTITIES, tidy } from "../measure/quantity";
import type { Method, ScaleMethod } from "./kit";
import { plausible, readMeter } from "./meter";
import { readScale, type ScalePlace } from "./scale";
import { dropFactor, titrate } from "./titration";

/** What the technician saw, by the kind of method: drops, a place on a scale, or a number. */
export type Observation =
  | {
      kind: "drops";
      count: number;
      sample: number;
      dilution?: number;
      /** pH of the standard that demand drops were matched to; the kit's own where it is left out. */
      target?: number;
      /** Of the count, titrant that went in ahead of the indicator. */
      ahead?: number;
      /** Drops that changed nothing; not in the count. */
      idle?: number;
    }
  /** A tube may be poured back and read again; the mean counts. */
  | { kind: "place"; place: ScalePlace; again?: ScalePlace[]; dilution?: number }
  /** As the display shows it; what was diluted is multiplied. */
  | { kind: "number"; value: number; dilution?: number };

/**
 * Turns an observation into a measurement by the kit's method; the one way in for screens and server.
 * @example measure(alkalinity, { kind: "drops", count: 10, sample: 25 }).value // 100
 */
export function measure(method: Method, seen: Observation): Measurement {
  const { unit } = QUANTITIES[method.quantity];
  if (method.kind === "titration" && seen.kind === "drops")
    return plausible(
      method.quantity,
      titrate(seen.count, dropFactor(method, seen.sample), unit, seen.dilution),
    );
  if (isScale(method) && seen.kind === "place")
    return plausible(
      method.quantity,
      meanOf(
        [seen.place, ...(seen.again ?? [])].map((place) => readScale(method, place, unit, seen.dilution)),
      ),
    );
  if (method.kind === "meter" && seen.kind === "number")
    return plausible(method.quantity, readMeter(method, seen.value, seen.dilution));
  throw new InputFault("inconsistent", "observation", seen.kind, method.kind);
}

/** @example isScale(phenolRed) // true */
export const isScale = (method: Method): method is ScaleMethod =>
  method.kind === "comparator" || method.kind === "turbidity" || method.kind === "strip";

/** The mean of several readings of one sample. One that ran off the scale makes the whole a bound. */
function meanOf(readings: Measurement[]): Measurement {
  const [first, ...rest] = readings;
  if (!first) throw new InputFault("missing", "place", undefined);
  if (rest.length === 0) return first;
  const off = readings.find((reading) => reading.bound !== "within");
  if (off) return off;
  const mean = (pick: (reading: Measurement) => number): number =>
    tidy(readings.reduce((sum, reading) => sum + pick(reading), 0) / readings.length);
  return {
    ...first,
    value: mean((reading) => reading.value),
    low: mean((reading) => reading.low ?? reading.value),
    high: mean((reading) => reading.high ?? reading.value),
  };
}
