import { millisecondsInDay } from "date-fns/constants";
import type { Basin } from "../basin/basin";
import type { Quantity } from "../measure/quantity";
import { mixesLike } from "../ranges/bathing-limits";
import { type DatedReading, type WaterEstimate, waterFromReadings } from "../reading/from-readings";
import { mayActOn } from "../testing/doubt";
import { type Method, methodById } from "../testing/kit";
import type { Place } from "../water/stand-ins";
import type { KitVersion } from "./brought";
import type { VisitReading } from "./written";

/** The one assembly of a visit's readings to a water: for the judge, the plan, the sheets and the basin's page. */

/** @example placeOf({ kind: "spa", indoors: true }) // { kind: "spa", outdoors: false } */
export const placeOf = ({ kind, indoors }: Pick<Basin, "kind" | "indoors">): Place => ({
  kind: mixesLike(kind),
  outdoors: !indoors,
});

/** The method that made a reading, of the version of the kit that it names; undefined where that is not known. */
export type MethodOf = (reading: Pick<VisitReading, "kitId" | "methodId">) => Method | undefined;

/**
 * Finds methods in these versions of kits.
 * @example methodFrom(brought.kits)({ kitId: brought.visit.kitId, methodId: "salt" }).quantity // "salt"
 */
export const methodFrom =
  (kits: readonly KitVersion[]): MethodOf =>
  ({ kitId, methodId }) => {
    const kit = kits.find(({ id }) => id === kitId)?.kit;
    return kit && methodById(kit, methodId);
  };

/**
 * pH to which the demand drops among these readings were titrated: as it was noted, or by the kit of each.
 * @example demandTarget([], methodFrom(brought.kits)) // null
 */
export function demandTarget(readings: readonly VisitReading[], methodOf: MethodOf): number | null {
  for (const reading of readings) {
    if (reading.quantity !== "acidDemand" && reading.quantity !== "baseDemand") continue;
    const { observation } = reading;
    if (observation.kind === "drops" && observation.target !== undefined) return observation.target;
    const method = methodOf(reading);
    if (method?.kind === "titration" && method.target !== undefined) return method.target;
  }
  return null;
}

interface OfVisit {
  basin: Pick<Basin, "kind" | "indoors">;
  /** Of this visit; what may not be acted on makes no water. */
  today: readonly VisitReading[];
  /** The newest of each quantity from before it. */
  earlier: readonly VisitReading[];
  /** When the visit began. */
  at: Date;
  /** How sure a reading is hangs on what made it. */
  methodOf: MethodOf;
}

/**
 * The water of a basin by a visit's readings, those of before carried into it with their age.
 * @example knownWater({ basin: brought.basin, today: opened.readings, earlier: [], at, methodOf: methodFrom(brought.kits) }).water.totalAlkalinity // 140
 */
export function knownWater({ basin, today, earlier, at, methodOf }: OfVisit): WaterEstimate {
  const made = (reading: VisitReading, daysAgo: number): [Quantity, DatedReading] => [
    reading.quantity,
    { ...reading, kind: methodOf(reading)?.kind ?? "meter", daysAgo },
  ];
  const acted = today.filter((reading) => mayActOn(reading.doubts));
  return waterFromReadings(
    Object.fromEntries([
      ...earlier.map((one) =>
        made(one, Math.max(0, at.getTime() - one.takenAt.getTime()) / millisecondsInDay),
      ),
      ...acted.map((one) => made(one, 0)),
    ]),
    placeOf(basin),
    demandTarget([...acted, ...earlier], methodOf),
  );
}

/** Readings this much apart were made in one visit. */
const ONE_VISIT = millisecondsInDay / 4;

/**
 * The water as it was last read, by readings of which the newest say when that was.
 * @example lastWater(brought.basin, opened.readings, methodFrom(brought.kits)).water.totalAlkalinity // 140
 */
export function lastWater(
  basin: OfVisit["basin"],
  readings: readonly VisitReading[],
  methodOf: MethodOf,
): WaterEstimate {
  const at = new Date(Math.max(0, ...readings.map((one) => one.takenAt.getTime())));
  const isLast = (one: VisitReading) => at.getTime() - one.takenAt.getTime() < ONE_VISIT;
  return knownWater({
    basin,
    today: readings.filter(isLast),
    earlier: readings.filter((one) => !isLast(one)),
    at,
    methodOf,
  });
}
