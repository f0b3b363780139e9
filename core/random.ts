/** A stream of numbers in [0, 1) that depends on its seed alone (Mulberry32, 32-bit state). */
export type Random = () => number;

/** @example seeded(7)() === seeded(7)() // true */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/**
 * A draw from the standard normal distribution (Box and Muller 1958).
 * @example normal(seeded(1)) // 1.4043
 */
export const normal = (random: Random): number =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
