/** Density of the standard normal. */
const density = (z: number): number => Math.exp(-0.5 * z * z) / Math.sqrt(2 * Math.PI);

/**
 * Chance that a standard normal lies under z (Abramowitz and Stegun 1964, 26.2.17; within 7.5e-8).
 * @example normalUnder(1.96) // 0.975
 */
export function normalUnder(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const tail =
    density(z) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return z > 0 ? 1 - tail : tail;
}

/** Density over the chance beyond: how far beyond z a normal lies that lies beyond it, about. */
export function normalTail(z: number): number {
  const beyond = 1 - normalUnder(z);
  // Far out the ratio is z + 1/z, and the chance is no number any more.
  return z > 6 || beyond < 1e-12 ? z + 1 / Math.max(z, 1) : density(z) / beyond;
}

/** Half of the central 90 % of a normal, in standard deviations. */
export const NINETY = 1.6449;
/** Of a one-sided 90 %, in standard deviations. */
export const NINE_IN_TEN = 1.2816;
