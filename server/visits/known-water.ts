import { type KnownWater, type Made, mixesLike, type Place, type Quantity, waterFromReadings } from "#core";
import type { Basin } from "../db/basins";
import type { StoredReading } from "../db/readings";

const DAY = 86_400_000;

export const placeOf = ({ kind, indoors }: Pick<Basin, "kind" | "indoors">): Place => ({
  kind: mixesLike(kind),
  outdoors: !indoors,
});

interface Known {
  basin: Pick<Basin, "kind" | "indoors">;
  /** Of this visit, and to be acted on. */
  today: readonly StoredReading[];
  /** The newest of each quantity from before it. */
  earlier: readonly StoredReading[];
  /** When the visit began. */
  at: Date;
  /** What kind of test made a reading; how sure it is hangs on it. */
  kindOf?: (reading: StoredReading) => Made["kind"];
  /** pH that demand drops are titrated to. */
  demandTarget?: number | null;
}

/** The water of a basin by a visit's readings, those of before carried into it with their age. */
export function knownWater({ basin, today, earlier, at, kindOf, demandTarget }: Known): KnownWater {
  const made = (reading: StoredReading, daysAgo: number): [Quantity, Made] => [
    reading.quantity,
    { ...reading, kind: kindOf?.(reading) ?? "meter", daysAgo },
  ];
  return waterFromReadings(
    Object.fromEntries([
      ...earlier.map((one) => made(one, Math.max(0, at.getTime() - one.takenAt.getTime()) / DAY)),
      ...today.map((one) => made(one, 0)),
    ]),
    placeOf(basin),
    demandTarget ?? null,
  );
}

/** Readings this much apart were made in one visit. */
const ONE_VISIT = DAY / 4;

/** The water as it was last read, by readings of which the newest say when that was. */
export function lastWater(
  basin: Known["basin"],
  readings: readonly StoredReading[],
  kindOf?: Known["kindOf"],
): KnownWater {
  const at = new Date(Math.max(0, ...readings.map((one) => one.takenAt.getTime())));
  const isLast = (one: StoredReading) => at.getTime() - one.takenAt.getTime() < ONE_VISIT;
  return knownWater({
    basin,
    today: readings.filter(isLast),
    earlier: readings.filter((one) => !isLast(one)),
    at,
    ...(kindOf ? { kindOf } : {}),
  });
}
