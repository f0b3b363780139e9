import type { Quantity } from "../measure/quantity";

/** The traps that a method may name as its own; the others hold for every test. */
export const TRAP_CODES = [
  "bleaching",
  "persulfate",
  "purple",
  "bleached-indicator",
  "cyanurate-share",
  "metals",
  "tube",
  "technique",
  "held-metal",
  "phosphonate",
] as const;
export type TrapCode = (typeof TRAP_CODES)[number];

/**
 * What speaks against taking a test at its word: a code with its numbers. "before" is said while the
 * test is prepared, "result" once there is something to save. One to be asked must be answered first.
 */
export interface Doubt {
  code: DoubtCode;
  moment: "before" | "result";
  weight: "tell" | "ask";
  /** Which evidence speaks, where there are several kinds. */
  because?: string;
  numbers?: Record<string, number>;
}

export const DOUBT_CODES = [
  // 1: very high chlorine bleaches the indicator, and reads as none
  "chlorine-bleached",
  // 2: a persulfate oxidiser reads as combined chlorine for a day or so
  "persulfate-in-combined",
  // 3: high chlorine turns phenol red purple
  "chlorine-purples-ph",
  // 4: the end of a scale is a bound
  "off-scale",
  // 5: chlorine bleaches the alkalinity indicator
  "thiosulfate-first",
  "indicator-bleached",
  // 6: alkalinity holds cyanurate and borate
  "cyanurate-in-alkalinity",
  // 7: metals spoil the hardness endpoint
  "metals-expected",
  // 7a: what holds metals hides them, and turns into phosphate
  "metal-held",
  "phosphonate-in-phosphate",
  // 8: the turbidity tube
  "tube-temperature",
  "tube-over",
  "tube-under",
  "tube-once",
  // 9: bottle and powder
  "technique",
  // 10: reagents
  "reagent-expired",
  "reagent-last-season",
  "reagent-empty",
  "shift-across-basins",
  // 11: what cannot be, or never was
  "combined-over-total",
  "free-over-total",
  "other-sample-size",
  "far-from-expected",
  "unlikely-change",
] as const;
export type DoubtCode = (typeof DOUBT_CODES)[number];

/** A reading under one of these is kept in the book, but nothing is dosed by it. */
const NOT_TO_ACT_ON: readonly DoubtCode[] = ["chlorine-purples-ph", "persulfate-in-combined"];

/** @example mayActOn([{ code: "persulfate-in-combined" }]) // false */
export const mayActOn = (doubts: readonly Pick<Doubt, "code">[]): boolean =>
  !doubts.some((doubt) => NOT_TO_ACT_ON.includes(doubt.code));

/** The doubts that must be answered before this reading is saved. @example toAnswer([]) // [] */
export const toAnswer = (doubts: readonly Doubt[], answered: readonly DoubtCode[] = []): Doubt[] =>
  doubts.filter((doubt) => doubt.weight === "ask" && !answered.includes(doubt.code));

export const tell = (
  moment: Doubt["moment"],
  code: DoubtCode,
  numbers?: Record<string, number>,
  because?: string,
): Doubt => ({
  code,
  moment,
  weight: "tell",
  ...(because ? { because } : {}),
  ...(numbers ? { numbers } : {}),
});

export const ask = (code: DoubtCode, numbers?: Record<string, number>, because?: string): Doubt => ({
  ...tell("result", code, numbers, because),
  weight: "ask",
});

export type Dated<T> = T & { daysAgo: number };
export type ByQuantity<T> = Partial<Record<Quantity, T>>;
