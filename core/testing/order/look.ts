/**
 * The look round before any test, by the senses: each word is a trouble that was found, and a sense
 * without one found none. Clear water is no proof, but cloud, smell and slime are findings.
 */
export const SENSES = {
  see: ["dull", "cloudy", "green", "brown", "stains", "cracks", "foam", "growth", "water-low", "water-high"],
  hear: ["pump-off", "air", "cavitation"],
  smell: ["chloramine", "other"],
  feel: ["slime", "grit"],
} as const;

export type Sense = keyof typeof SENSES;
export const SENSE_NAMES = Object.keys(SENSES) as Sense[];
export type Trouble = (typeof SENSES)[Sense][number];

export type Look = { [S in Sense]: (typeof SENSES)[S][number][] } & { note: string };

/** @example nothingFound().see // [] */
export const nothingFound = (): Look => ({ see: [], hear: [], smell: [], feel: [], note: "" });
