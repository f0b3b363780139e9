/** Seconds between beats that can be chosen. */
export const PACE_SECONDS = { fastest: 0.5, usual: 1, slowest: 3 } as const;

/** Near the end each drop is swirled and looked at: the beat takes twice as long, two seconds at least. */
const SLOW_BY = 2;
const SLOW_AT_LEAST = 2;

/**
 * The drop from which to slow down: a sixth before the expected end, three drops at least.
 * @param expected drops that it took last time; null when unknown
 */
export const slowFrom = (expected: number | null): number | null =>
  expected === null ? null : Math.max(1, expected - Math.max(3, Math.ceil(expected / 6)));

/**
 * How long to wait before the next drop.
 * @example beatAfter(4, 20, 1) // { seconds: 1, slow: false }
 */
export function beatAfter(
  drops: number,
  expected: number | null,
  seconds: number,
): { seconds: number; slow: boolean } {
  const from = slowFrom(expected);
  if (from === null || drops < from) return { seconds, slow: false };
  return { seconds: Math.max(SLOW_AT_LEAST, seconds * SLOW_BY), slow: true };
}

/**
 * A number as a pattern of tones, for a device without a voice: a long low tone for each ten, a high
 * one for five, a short one for each that is left. Seventeen is long, high, short, short.
 * @example tonesFor(15) // ["ten", "five"]
 */
export function tonesFor(drops: number): ("ten" | "five" | "one")[] {
  const rest = drops % 10;
  return [
    ...Array<"ten">(Math.floor(drops / 10)).fill("ten"),
    ...(rest >= 5 ? (["five"] as const) : []),
    ...Array<"one">(rest % 5).fill("one"),
  ];
}
