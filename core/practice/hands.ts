/** What hands do at a bench, and how large its effect is. */

export type Mixing = "swirl" | "invert" | "shake";

/** One thing that a hand did, and how many seconds after the one before. */
export type HandEvent = { after: number } & (
  | { kind: "fill"; millilitres: number }
  /** In the measure of the kit; a heaped scoop is more than one. */
  | { kind: "add"; reagent: string; amount: number }
  | { kind: "mix"; how: Mixing; seconds: number }
  /** Of titrant, from a bottle held so far off the vertical, degrees. */
  | { kind: "drop"; angle: number }
  | { kind: "light"; light: Light }
  /** One part sample with so many parts less one of plain water. */
  | { kind: "dilute"; times: number }
  /** Held in a hand or in warm water until it is as warm as a hand. */
  | { kind: "warm" }
  /** The viewing tube is filled so high, 0…1 of its height. */
  | { kind: "tube"; level: number }
);

/** What stands behind the vessel, and before the eyes. */
export const LIGHTS = ["white", "sun", "tinted"] as const;
export type Light = (typeof LIGHTS)[number];

/** A scoop that is heaped, and one that is scant; a level one is 1. Defaults. */
export const SCOOPS = { scant: 0.6, level: 1, heaped: 1.5 } as const;

/**
 * A scoop that nobody levels off: heaped as often as scant, and seldom level.
 * @param turn which one it is; the same is as full
 * @example scoopAsItComes(0) // 1.5
 */
export const scoopAsItComes = (turn: number): number =>
  turn % 3 === 2 ? SCOOPS.level : turn % 3 === 0 ? SCOOPS.heaped : SCOOPS.scant;

/** A bottle at 45° gives drops a fifth smaller; beyond 60° they get no smaller. Defaults of this bench. */
const SMALLER_AT_45 = 0.2;
const MOST_ANGLE = 60;

/**
 * How large a drop is, beside one from an upright bottle.
 * @param angle off the vertical, degrees
 * @example dropSize(45) // 0.8
 */
export const dropSize = (angle: number): number =>
  1 - SMALLER_AT_45 * (Math.min(MOST_ANGLE, Math.abs(angle)) / 45) ** 2;

/** Seconds in which a drop that nobody swirls spreads to a third of what it was; and one that is swirled. */
export const SPREADS = { still: 4.5, swirled: 0.45 } as const;

/** Share of the chlorine in an open sample that is gone in a minute, in the shade and in the sun. Defaults. */
export const FADES = { shade: 0.012, sun: 0.06 } as const;
/** A sample that stands this long has changed: a slip. s */
export const TOO_LONG = 300;
/** pH that a sample gains a minute by standing open, and at once by being shaken instead of inverted. Defaults. */
export const GAS_LOST = { standing: 0.01, shaken: 0.15 } as const;
/** Warmth that a hand gives a cold sample, °C. */
export const HAND_WARM = 25;
/** A tube test is made for this warmth; each degree under it reads so much high, share. Defaults. */
export const TUBE_WARMTH = { low: 21, perDegree: 0.015 } as const;
