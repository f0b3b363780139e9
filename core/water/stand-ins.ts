import type { Sample } from "./sample";

/** What stands in for what was not read: one table for the judge, the plan, the ranges and the learner. */

/** Where a basin is and what it is: what stands in for a reading depends on it. */
export interface Place {
  kind: "spa" | "pool";
  outdoors: boolean;
}

/**
 * The middle of what is common, by the kind of basin: stabiliser where the sun shines, warm water in a spa.
 * @example standIns({ kind: "pool", outdoors: true }).cyanuricAcid // 30
 */
export const standIns = ({ kind, outdoors }: Place): Omit<Sample, "borate"> => ({
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 250,
  cyanuricAcid: kind === "pool" && outdoors ? 30 : 0,
  freeChlorine: 0,
  temperature: kind === "spa" ? 37 : 25,
  totalDissolvedSolids: 1000,
});
