import { type Sampling, type SamplingProblem, samplingProblems } from "../../testing/order/sampling";
import type { SheetBasin } from "./basin";

/** How the sample of a sheet was taken. */

/** What is found at the basin before the sample is taken. */
export interface Found {
  circulation: Sampling["circulation"];
  /** null when nothing went in that anybody knows of. */
  hoursSinceDose: number | null;
}

/** How the sample was taken. */
export interface SampleTaken {
  place: SamplePlace;
  /** The pump was started, and a turnover waited for, before it. */
  waited: boolean;
}

export const SAMPLE_PLACES = ["elbow-deep", "surface", "at-return"] as const;
export type SamplePlace = (typeof SAMPLE_PLACES)[number];

/** @example foundAt(0).circulation // "running" */
export function foundAt(seed: number): Found {
  switch (seed % 4) {
    case 1:
      return { circulation: "off", hoursSinceDose: null };
    case 2:
      return { circulation: "running", hoursSinceDose: 1 + (seed % 3) / 2 };
    default:
      return { circulation: "running", hoursSinceDose: null };
  }
}

export type SampleSlip = SamplingProblem | Exclude<SamplePlace, "elbow-deep"> | "waited-for-nothing";

/**
 * What speaks against a sample as it was taken.
 * @example sampleSlips(foundAt(1), { place: "surface", waited: false }, "pool") // ["pump-off", "surface"]
 */
export function sampleSlips(
  { circulation, hoursSinceDose }: Found,
  { place, waited }: SampleTaken,
  kind: SheetBasin["kind"],
): SampleSlip[] {
  const problems = samplingProblems(circulation, hoursSinceDose, kind);
  return [
    ...(waited ? (problems.length === 0 ? (["waited-for-nothing"] as const) : []) : problems),
    ...(place === "elbow-deep" ? [] : [place]),
  ];
}
