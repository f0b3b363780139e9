/** Why a sample may not be the pool. */
export const SAMPLING_PROBLEMS = ["pump-off", "recent-dose"] as const;
export type SamplingProblem = (typeof SAMPLING_PROBLEMS)[number];

/** How the sample was taken; what was known to be wrong with it and ignored stands in the book. */
export interface Sampling {
  circulation: "running" | "off";
  ignored: SamplingProblem[];
}

/** Hours that a dose needs to be everywhere: jets mix a spa in 20 minutes, a pool takes a turnover. */
export const MIXING_HOURS = { spa: 20 / 60, pool: 4 } as const;

/**
 * What speaks against a sample taken now.
 * @param hoursSinceDose null when nothing was added that the log knows of
 * @example samplingProblems("off", 1, "pool") // ["pump-off", "recent-dose"]
 */
export function samplingProblems(
  circulation: Sampling["circulation"] | null,
  hoursSinceDose: number | null,
  kind: keyof typeof MIXING_HOURS,
): SamplingProblem[] {
  const problems: SamplingProblem[] = [];
  if (circulation === "off") problems.push("pump-off");
  if (hoursSinceDose !== null && hoursSinceDose < MIXING_HOURS[kind]) problems.push("recent-dose");
  return problems;
}
