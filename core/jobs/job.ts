import type { RecipeId } from "../recipes/recipe";
import { addDays, daysBetween } from "../schedule/days";
import type { GreenOutlook } from "./green-outlook";

/** Work at a basin that takes more than one call: begun by its recipe, ended by what the water shows. */

export const JOB_KINDS = ["green", "opening", "closing"] as const;
export type JobKind = (typeof JOB_KINDS)[number];

export interface Job {
  id: string;
  kind: JobKind;
  begunAt: Date;
  by: string;
  /** What was told before the first dose; null where nothing was. */
  told: GreenOutlook | null;
  over: JobOver | null;
}

export interface JobOver {
  at: Date;
  by: string;
  /** Done, or given up for a reason. */
  won: boolean;
  why: string;
}

const BEGUN_BY: Partial<Record<RecipeId, JobKind>> = {
  "green-pool": "green",
  opening: "opening",
  closing: "closing",
};

/** The job that a recipe begins; null where it is done at one call. @example jobOf("opening") // "opening" */
export const jobOf = (recipe: string): JobKind | null =>
  Object.hasOwn(BEGUN_BY, recipe) ? (BEGUN_BY[recipe as RecipeId] ?? null) : null;

/**
 * Days after its first call on which a job is looked at again; a green pool is called at every day. Usual practice:
 * the filter of a pool that was opened ran for a day before it is judged, and a week later it shows what is missing;
 * a pool that was closed is looked at once more before it is left alone.
 */
const LOOKED_AT: Record<Exclude<JobKind, "green">, readonly number[]> = { opening: [1, 7], closing: [7] };

/**
 * The day of a job's next call.
 * @param begun the day of its first call
 * @param last the day of the last call there
 * @param lastWasMorning whether that was before the afternoon: a green pool is called at twice a day
 * @returns null where only the basin's own calls are left
 * @example nextDayOf("opening", { begun: "2026-05-04", last: "2026-05-05", lastWasMorning: true }) // "2026-05-11"
 */
export function nextDayOf(
  kind: JobKind,
  { begun, last, lastWasMorning }: { begun: string; last: string; lastWasMorning: boolean },
): string | null {
  if (kind === "green") return lastWasMorning ? last : addDays(last, 1);
  const gone = daysBetween(begun, last);
  const ahead = LOOKED_AT[kind].find((days) => days > gone);
  return ahead === undefined ? null : addDays(begun, ahead);
}
