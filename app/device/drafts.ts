import type { CountState } from "#core";

/** What pages keep of work under way in the browser's own storage, under which keys, and how it goes with its owner. */

/** A closing note until it is in the book. */
export const noteKey = (visitId: string): string => `pelagon.note.${visitId}`;

/** A count under way, so that a reload takes no drop; of a visit, or of the quick bench. */
export const countKey = (of: string, countId: string): string => `pelagon.count.${of}.${countId}`;

/** A count as a page has kept it; null where it has not. */
export function draftCount(key: string): CountState | null {
  try {
    const parsed = JSON.parse(localStorage.getItem(key) ?? "null");
    const whole = ["drops", "sample", "sequence"].every((field) => Number.isFinite(parsed?.[field]));
    return whole ? { ahead: 0, idle: 0, holder: "", term: 0, ...parsed } : null;
  } catch {
    return null;
  }
}

/** The counts of a visit as pages have kept them: one may have gone before it was handed on. */
export function draftCounts(visitId: string): { countId: string; state: CountState }[] {
  const begins = countKey(visitId, "");
  try {
    return Object.keys(localStorage).flatMap((key) => {
      const state = key.startsWith(begins) ? draftCount(key) : null;
      return state ? [{ countId: key.slice(begins.length), state }] : [];
    });
  } catch {
    return [];
  }
}

/** A count of the practice bench, which stays on the device like all of practice. */
export const practiceCountKey = (id: string): string => `pelagon.practice-count.${id}`;

/** Results of the quick bench that were put to no basin. */
export const LOOSE_KEY = "pelagon.loose";

const isDraft = (key: string): boolean =>
  key.startsWith("pelagon.note.") || key.startsWith("pelagon.count.") || key === LOOSE_KEY;

/** Results of the quick bench that lie here. */
export function looseHere(): number {
  try {
    const { results } = JSON.parse(localStorage.getItem(LOOSE_KEY) ?? "{}");
    return Array.isArray(results) ? results.length : 0;
  } catch {
    return 0;
  }
}

/** Forgets them all: for whoever signs out. */
export function forgetDrafts(): void {
  try {
    for (const key of Object.keys(localStorage)) if (isDraft(key)) localStorage.removeItem(key);
  } catch {
    // Where nothing can be kept there is none.
  }
}
