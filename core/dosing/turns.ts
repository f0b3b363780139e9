/** Water replaced in several turns: each leaves (1 − share) of what was there before it. */

/**
 * Turns of at most so much each, and the share of each, that together replace the whole.
 * @param fraction of the water, 0…1
 * @param most of it at a time, 0…1
 * @example turnsFor(0.75, 0.5) // { turns: 2, each: 0.5 }
 */
export function turnsFor(fraction: number, most: number): { turns: number; each: number } {
  const turns = Math.max(1, Math.ceil(Math.log(1 - fraction) / Math.log(1 - most) - 1e-9));
  return { turns, each: 1 - (1 - fraction) ** (1 / turns) };
}
