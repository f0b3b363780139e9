import { millisecondsInDay } from "date-fns/constants";
import type { Basin } from "../basin/basin";
import type { Quantity } from "../measure/quantity";
import { mixesLike } from "../ranges/bathing-limits";
import {
  type DatedReading,
  type Place,
  type WaterEstimate,
  waterFromReadings,
} from "../reading/from-readings";
import type { VisitReading } from "./written";

/** @example placeOf({ kind: "spa", indoors: true }) // { kind: "spa", outdoors: false } */
export const placeOf = ({ kind, indoors }: Pick<Basin, "kind" | "indoors">): Place => ({
  kind: mixesLike(kind),
  outdoors: !indoors,
});

interface OfVisit {
  basin: Pick<Basin, "kind" | "indoors">;
  /** Of this visit, and to be acted on. */
  today: readonly VisitReading[];
  /** The newest of each quantity from before it. */
  earlier: readonly VisitReading[];
  /** When the visit began. */
  at: Date;
  /** What kind of test made a reading; how sure it is hangs on it. */
  kindOf?: (reading: VisitReading) => DatedReading["kind"];
  /** pH that demand drops are titrated to. */
  demandTarget?: number | null;
}

/**
 * The water of a basin by a visit's readings, those of before carried into it with their age.
 * @example knownWater({ basin: brought.basin, today: opened.readings, earlier: [], at, kindOf: () => "titration", demandTarget: null }).water.totalAlkalinity // 140
 */
export function knownWater({ basin, today, earlier, at, kindOf, demandTarget }: OfVisit): WaterEstimate {
  const made = (reading: VisitReading, daysAgo: number): [Quantity, DatedReading] => [
    reading.quantity,
    { ...reading, kind: kindOf?.(reading) ?? "meter", daysAgo },
  ];
  return waterFromReadings(
    Object.fromEntries([
      ...earlier.map((one) =>
        made(one, Math.max(0, at.getTime() - one.takenAt.getTime()) / millisecondsInDay),
      ),
      ...today.map((one) => made(one, 0)),
    ]),
    placeOf(basin),
    demandTarget ?? null,
  );
}

/** Readings this much apart were made in one visit. */
const ONE_VISIT = millisecondsInDay / 4;

/**
 * The water as it was last read, by readings of which the newest say when that was.
 * @example lastWater(brought.basin, opened.readings).water.totalAlkalinity // 140
 */
export function lastWater(
  basin: OfVisit["basin"],
  readings: readonly VisitReading[],
  kindOf?: OfVisit["kindOf"],
): WaterEstimate {
  const at = new Date(Math.max(0, ...readings.map((one) => one.takenAt.getTime())));
  const isLast = (one: VisitReading) => at.getTime() - one.takenAt.getTime() < ONE_VISIT;
  return knownWater({
    basin,
    today: readings.filter(isLast),
    earlier: readings.filter((one) => !isLast(one)),
    at,
    ...(kindOf ? { kindOf } : {}),
  });
}
