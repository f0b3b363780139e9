import { type RangeSet, rangeFor, type Surface } from "../../judging/range-set";
import { HELD_BY_HOCL_SET } from "../../judging/sets";
import type { Sample } from "../../water/sample";

/** Where one reading is to end. Limits are bounds; the aim is where inside them it is best. */
export interface Goal {
  low: number | null;
  high: number | null;
  aim: number;
}

/** Readings that a plan steers. */
export const STEERED = ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const;
export type Steered = (typeof STEERED)[number];

export interface Goals extends Record<Steered, Goal> {
  /** Free chlorine is held by this much hypochlorous acid, mg/L, instead of a band of its own. */
  hypochlorousAcid: Goal | null;
  saturation: { low: number; high: number };
}

const NO_GOAL = (aim: number): Goal => ({ low: null, high: null, aim });

/**
 * The goals of a range set for a surface. A reading that the set has no range for may end anywhere,
 * best where it is now.
 */
export function goalsOf(set: RangeSet, surface: Surface, now: Sample): Goals {
  const goal = (quantity: Steered): Goal => {
    const range = rangeFor(set, quantity, surface, now);
    if (!range) return NO_GOAL(now[quantity]);
    const { low = null, high = null } = range;
    const middle = low !== null && high !== null ? (low + high) / 2 : now[quantity];
    const kept = Math.min(high ?? Infinity, Math.max(low ?? -Infinity, middle));
    return { low, high, aim: range.aim ?? kept };
  };
  const held = set.ranges.freeChlorine;
  return {
    ph: goal("ph"),
    totalAlkalinity: goal("totalAlkalinity"),
    calciumHardness: goal("calciumHardness"),
    cyanuricAcid: goal("cyanuricAcid"),
    freeChlorine: goal("freeChlorine"),
    hypochlorousAcid:
      held?.heldBy === "hypochlorous-acid"
        ? { low: held.low ?? null, high: held.high ?? null, aim: held.aim ?? held.low ?? 0 }
        : null,
    saturation: set.saturation ?? HELD_BY_HOCL_SET.saturation ?? { low: -0.3, high: 0.3 },
  };
}
