/** What is written down for drawing up a week: of a basin, of a member, of the firm. Weekdays are ISO ones. */

export interface BasinWishes {
  /** Days between two calls by the contract; null where it says nothing. */
  least: number | null;
  most: number | null;
  /** Weekdays that the customer allows; null for any. And those on which they want a call each week. */
  allowed: number[] | null;
  fixed: number[];
  /** The law asks for a test on each day of its season. */
  daily: boolean;
  /** How much a day counts over another basin's: 1 for most of them. */
  use: number;
  /** Who has the keys and the license; null for everybody. */
  mayGo: string[] | null;
}

export const NO_WISHES: BasinWishes = {
  least: null,
  most: null,
  allowed: null,
  fixed: [],
  daily: false,
  use: 1,
  mayGo: null,
};

export interface MemberWeek {
  /** Minutes of each weekday from Monday on. */
  hours: number[];
  /** Days off besides. */
  off: string[];
  /** kg that their truck carries; null for whatever there is. */
  carries: number | null;
}

/** Five days of eight hours. */
export const USUAL_MEMBER_WEEK: MemberWeek = {
  hours: [480, 480, 480, 480, 480, 0, 0],
  off: [],
  carries: null,
};
/** Somebody of whom nobody said when they work makes no calls that are drawn up, if others were given hours. */
export const NO_HOURS: MemberWeek = { hours: [0, 0, 0, 0, 0, 0, 0], off: [], carries: null };

export interface FirmWeek {
  /** Days on which nobody works. */
  closed: string[];
}

export const USUAL_FIRM_WEEK: FirmWeek = { closed: [] };

/** What these may be: days between calls, minutes of a day, kg, weights, days in a list. */
export const WISH_LIMITS = {
  gap: { low: 1, high: 60 },
  hours: { low: 0, high: 960 },
  carries: { low: 1, high: 5000 },
  use: { low: 0.1, high: 10 },
  days: 200,
} as const;

/**
 * The longest a basin is left where its contract says nothing: a day more than its own calls are apart at their longest, so
 * that a call may move; and it has as many calls as stand, see `fewestWithout`.
 * @param every days between its calls as they stand
 * @example mostWithout(7) // 8
 */
export const mostWithout = (every: number): number => every + 1;

/**
 * Calls that a basin has at least where its contract says nothing: as many as stand, since those are what its customer
 * pays for. A contract's most days between calls says how many there must be instead.
 * @example fewestWithout(null, 4) // 4
 */
export const fewestWithout = (contractMost: number | null, standing: number): number =>
  contractMost === null ? standing : 0;
