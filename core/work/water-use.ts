/** What the fresh-water meter and a bucket say of where the water goes: into the air, over the edge, or into the ground. */

/** A reading of the meter, m³, and whether it is the first of another one. */
export interface MeterReading {
  at: number;
  value: number;
  changed: boolean;
}

/** Fresh water between two readings of one meter. */
export interface WaterUse {
  /** When it was read last, ms since 1970, and the days since the reading before. */
  at: number;
  days: number;
  /** m³ a day */
  perDay: number;
}

const DAY_MS = 86_400_000;

/**
 * Fresh water a day between each reading of a meter and the one before it, the earliest first.
 * @example waterUse([{ at: 0, value: 10, changed: false }, { at: 864e5, value: 12, changed: false }])[0].perDay // 2
 */
export const waterUse = (readings: readonly MeterReading[]): WaterUse[] =>
  readings.flatMap((last, index) => {
    const before = readings[index - 1];
    if (!before || last.changed || last.at <= before.at) return [];
    const days = (last.at - before.at) / DAY_MS;
    return [{ at: last.at, days, perDay: (last.value - before.value) / days }];
  });

/**
 * Share of its water that a basin needs anew a day at most where it does not leak. A pool: 8 mm of evaporation from
 * 1.4 m of depth and 1 % splashed or backwashed; a spa's jets and bathers throw out more, from less.
 */
export const MOST_USED = { pool: 0.016, spa: 0.04 } as const;

/**
 * Whether the meter shows more than evaporation and splashing take.
 * @param perDay m³ a day
 * @example usesMuch(1.2, 40_000, "pool") // true
 */
export const usesMuch = (perDay: number, litres: number, kind: keyof typeof MOST_USED): boolean =>
  (perDay * 1000) / litres > MOST_USED[kind];

/** Mean depth, m. */
const USUAL_DEPTH = { pool: 1.4, spa: 0.8 } as const;

/**
 * The water's surface, m², of a basin as deep as is usual.
 * @example surfaceOf(42_000, "pool") // 30
 */
export const surfaceOf = (litres: number, kind: keyof typeof USUAL_DEPTH): number =>
  litres / 1000 / USUAL_DEPTH[kind];

/** From this much more than the bucket, mm in a day, it is no error of reading: usual practice, an eighth of an inch. */
export const LEAK_FROM = 3;

export interface BucketVerdict {
  /** What the basin fell more than the bucket, mm a day; what both fell evaporated. */
  more: number;
  /** As water, litres a day. */
  litres: number;
  leaks: boolean;
}

/**
 * A bucket of the basin's water stands in it for a day: sun and wind take as much from both. What the basin falls
 * more went elsewhere.
 * @param basinFall mm in a day
 * @param surface m²
 * @example bucketTest({ basinFall: 11, bucketFall: 5, surface: 30 }).litres // 180
 */
export function bucketTest({
  basinFall,
  bucketFall,
  surface,
}: {
  basinFall: number;
  bucketFall: number;
  surface: number;
}): BucketVerdict {
  const more = basinFall - bucketFall;
  return { more, litres: Math.max(0, more) * surface, leaks: more >= LEAK_FROM - 1e-9 };
}
