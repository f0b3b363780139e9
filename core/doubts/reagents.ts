import { type Doubt, tell } from "../testing/doubt";
import type { Shift, TestContext } from "./context";

/** Trap 10: reagents past their date, of last season, used up, or reading off at every basin. */
export function reagents({ method, result, bottles, shifts }: TestContext): Doubt[] {
  if (result) return [];
  const names = new Set(method.steps.map((step) => step.reagent));
  if (method.kind === "titration") names.add(method.titrant);
  const found = bottles
    .filter((bottle) => names.has(bottle.reagent))
    .flatMap((bottle): Doubt[] => {
      if (bottle.daysExpired !== null && bottle.daysExpired > 0)
        return [tell("before", "reagent-expired", { days: bottle.daysExpired }, bottle.reagent)];
      if (bottle.lastSeason) return [tell("before", "reagent-last-season", undefined, bottle.reagent)];
      return bottle.left <= 0 ? [tell("before", "reagent-empty", undefined, bottle.reagent)] : [];
    });
  const shift = shifts[method.quantity];
  if (shift) found.push(tell("before", "shift-across-basins", { share: shift.share, basins: shift.basins }));
  return found;
}

/** At least this many basins must have been tested before and after. */
const SHIFT_BASINS = 5;
/** At least this share of them must have moved the same way, and the middle one by this much. */
const SHIFT_AGREE = 0.8;
const SHIFT_SHARE = 0.1;

/**
 * Whether one quantity moved the same way at most basins at once: no water does that, a bottle does.
 *
 * @param pairs one for each basin: its usual reading before, and its newest
 * @returns the middle change as a share of what was, or null
 * @example shiftAcross(Array.from({ length: 8 }, (_, index) => ({ before: 80 + index, now: 1.3 * (80 + index) }))).share // 0.3
 */
export function shiftAcross(pairs: readonly { before: number; now: number }[]): Shift | null {
  const changes = pairs
    .filter(({ before }) => before > 0)
    .map(({ before, now }) => now / before - 1)
    .sort((a, b) => a - b);
  if (changes.length < SHIFT_BASINS) return null;
  const middle = changes[Math.floor(changes.length / 2)] ?? 0;
  const same = changes.filter((change) => Math.sign(change) === Math.sign(middle)).length;
  return Math.abs(middle) >= SHIFT_SHARE && same / changes.length >= SHIFT_AGREE
    ? { share: middle, basins: changes.length }
    : null;
}
