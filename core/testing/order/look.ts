/**
 * The look round before any test, by the senses: each word is a trouble that was found, and a sense
 * without one found none. Clear water is no proof, but cloud, smell and slime are findings.
 */
export const SENSES = {
  see: [
    "floor-hidden",
    "dull",
    "cloudy",
    "green",
    "brown",
    "stains",
    "cracks",
    "foam",
    "growth",
    "water-low",
    "water-high",
  ],
  safe: ["drain-cover", "gate", "rescue-gear", "glass", "wiring"],
  hear: ["pump-off", "air", "cavitation"],
  smell: ["chloramine", "chlorine-gas", "other"],
  feel: ["slime", "grit"],
} as const;

export type Sense = keyof typeof SENSES;
export const SENSE_NAMES = Object.keys(SENSES) as Sense[];
export type Trouble = (typeof SENSES)[Sense][number];

export type Look = { [S in Sense]: (typeof SENSES)[S][number][] } & { note: string };

/** A look as it stands in the book. */
export type LookKept = Look & {
  /** When it was made, and when one last found what closes; looks of before do not say. ISO 8601 */
  at?: string | undefined;
  closedAt?: string | undefined;
};

/** @example nothingFound().see // [] */
export const nothingFound = (): Look => ({ see: [], safe: [], hear: [], smell: [], feel: [], note: "" });

/**
 * A look out of the book: one that was made when less was asked found nothing of the rest.
 * @example lookKept({ ...stored, safe: undefined })?.safe // []
 */
export const lookKept = (stored: Partial<LookKept> | null): LookKept | null =>
  stored && {
    ...nothingFound(),
    ...Object.fromEntries(Object.entries(stored).filter(([, value]) => value !== undefined)),
  };

/** Everything that a look found. @example troublesOf(nothingFound()) // [] */
export const troublesOf = (look: Look | null): Trouble[] =>
  look ? SENSE_NAMES.flatMap((sense): readonly Trouble[] => look[sense]) : [];

/**
 * What closes a basin by itself, and the danger that it is closed for. A floor or a main drain that cannot be
 * seen hides whoever lies there; every public pool code closes for it, and for a drain without a sound cover.
 */
export const CLOSED_FOR = {
  "floor-hidden": "drowning-unseen",
  cloudy: "drowning-unseen",
  green: "drowning-unseen",
  brown: "drowning-unseen",
  "drain-cover": "entrapment",
  glass: "cuts",
  wiring: "electrocution",
  "chlorine-gas": "gas",
} as const satisfies Partial<Record<Trouble, string>>;

export type ClosingTrouble = keyof typeof CLOSED_FOR;
export type SeenDanger = (typeof CLOSED_FOR)[ClosingTrouble];

const isClosing = (trouble: Trouble): trouble is ClosingTrouble => trouble in CLOSED_FOR;

/** What of a look closes. @example closingTroubles({ ...nothingFound(), see: ["green", "stains"] }) // ["green"] */
export const closingTroubles = (look: Look | null): ClosingTrouble[] => troublesOf(look).filter(isClosing);

/** What does not close the water and may not be left as it is either. */
export const URGENT_TROUBLES = ["gate", "rescue-gear", "pump-off"] as const satisfies readonly Trouble[];
export type UrgentTrouble = (typeof URGENT_TROUBLES)[number];

/** @example urgentTroubles({ ...nothingFound(), safe: ["gate"] }) // ["gate"] */
export const urgentTroubles = (look: Look | null): UrgentTrouble[] =>
  URGENT_TROUBLES.filter((trouble) => troublesOf(look).includes(trouble));
