import { placeInRange } from "../../judging/findings";
import { type BathingPlace, mayHoldStabiliser, USUAL_PLACE } from "../../ranges/bathing-limits";
import { type Range, type RangeSet, rangeFor, type Surface } from "../../ranges/range-set";
import { HELD_BY_HOCL_SET } from "../../ranges/sets";
import { isKnown, type WaterEstimate } from "../../reading/from-readings";
import type { Sample } from "../../water/sample";
import type { Place } from "../../water/stand-ins";

/** Where one reading is to end. Limits are bounds; the aim is where inside them it is best. */
export interface Goal {
  low: number | null;
  high: number | null;
  aim: number;
  /** It was read, lies outside its limits, and is brought to its aim. What is inside is left alone. */
  steer: boolean;
  /** It was read: what was not is neither steered nor held. */
  known: boolean;
}

/** Readings that a plan steers. */
export const STEERED = ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const;
export type Steered = (typeof STEERED)[number];

export interface Goals extends Record<Steered, Goal> {
  /** Free chlorine is held by this much hypochlorous acid, mg/L, instead of a band of its own. */
  hypochlorousAcid: Pick<Goal, "low" | "high" | "aim"> | null;
  /** pH, and free chlorine in mg/L, at which the basin closes, and the basin; what holds the acid stays between. */
  phCloses: Pick<Range, "closeBelow" | "closeAbove">;
  chlorineCloses: Pick<Range, "closeBelow" | "closeAbove"> & { place: BathingPlace };
  /** Free chlorine that no dose may pass: more than bathing can wait for, mg/L. */
  mostChlorine: number;
  saturation: { low: number; high: number };
}

/** Over this much free chlorine nobody bathes, in every school. mg/L */
export const BATHING_CHLORINE = 10;

/**
 * The goals of a range set for a surface and a water.
 * @param known how each number came to stand there; a water whose numbers were all read without it
 * @example goalsOf(set, "plaster", water).ph.aim // 7.5
 */
export function goalsOf(
  set: RangeSet,
  surface: Surface,
  now: Sample,
  known: Pick<WaterEstimate, "standing"> | null = null,
  place: Place = { kind: "pool", outdoors: true },
): Goals {
  const at: BathingPlace = set.place ?? { ...USUAL_PLACE, ...place };
  const placed = { ...set, place: at };
  const goal = (quantity: Steered): Goal => {
    const value = now[quantity];
    const range = rangeFor(placed, quantity, surface, now);
    if (known && !isKnown(known, quantity))
      return { low: null, high: null, aim: value, steer: false, known: false };
    if (!range) return { low: null, high: null, aim: value, steer: false, known: true };
    const high = range.high ?? range.closeAbove ?? null;
    // Stabiliser shields chlorine from the sun: without sun, or where water is warm and often renewed, it has no use.
    const useless = quantity === "cyanuricAcid" && !mayHoldStabiliser(at);
    const low = useless ? null : (range.low ?? range.closeBelow ?? null);
    const middle = low !== null && high !== null ? (low + high) / 2 : value;
    const kept = Math.min(high ?? Infinity, Math.max(low ?? -Infinity, middle));
    const outside =
      placeInRange(
        { value, bound: "within" },
        { ...(low === null ? {} : { low }), ...(high === null ? {} : { high }) },
      ) !== "within";
    return {
      low,
      high,
      aim: useless ? kept : (range.aim ?? kept),
      // Chlorine that is over falls by itself: it is kept from rising.
      steer: outside && !(quantity === "freeChlorine" && high !== null && value > high),
      known: true,
    };
  };
  const held = set.bySurface?.[surface]?.freeChlorine ?? set.ranges.freeChlorine;
  const freeChlorine = goal("freeChlorine");
  const closes = (quantity: Steered): Pick<Range, "closeBelow" | "closeAbove"> => {
    const { closeBelow, closeAbove } = rangeFor(placed, quantity, surface, now) ?? {};
    return {
      ...(closeBelow === undefined ? {} : { closeBelow }),
      ...(closeAbove === undefined ? {} : { closeAbove }),
    };
  };
  return {
    ph: goal("ph"),
    totalAlkalinity: goal("totalAlkalinity"),
    calciumHardness: goal("calciumHardness"),
    cyanuricAcid: goal("cyanuricAcid"),
    freeChlorine,
    hypochlorousAcid:
      held?.heldBy === "hypochlorous-acid" && freeChlorine.known
        ? { low: held.low ?? null, high: held.high ?? null, aim: held.aim ?? held.low ?? 0 }
        : null,
    phCloses: closes("ph"),
    chlorineCloses: { ...closes("freeChlorine"), place: at },
    mostChlorine: Math.min(
      BATHING_CHLORINE,
      held?.heldBy ? BATHING_CHLORINE : (held?.closeAbove ?? Infinity),
    ),
    saturation: set.saturation ?? HELD_BY_HOCL_SET.saturation ?? { low: -0.3, high: 0.3 },
  };
}
