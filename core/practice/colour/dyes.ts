import { peaks } from "./spectrum";

/**
 * The dyes of the tests: where each absorbs, and how much. Peaks of published spectra where there are such;
 * widths, and what is said to be so, matched by eye to what the test looks like.
 */

/**
 * DPD's pink: the radical that chlorine makes, with its twin peak at 512 and 551 nm. At 515 nm 0.21 for each
 * mg/L of chlorine and centimetre (some 15,000 L/mol/cm): the slope of the usual photometric calibration. The
 * weak tail into the blue is matched by eye.
 */
export const DPD_PINK = peaks([
  { at: 551, width: 24, height: 0.2 },
  { at: 512, width: 26, height: 0.15 },
  { at: 440, width: 50, height: 0.08 },
]);

/** Phenol red's acid form, yellow, at 433 nm; its width and height matched by eye. For each µmol/L. */
export const PHENOL_YELLOW = peaks([{ at: 433, width: 50, height: 0.03 }]);
/** Its base form, red: 558 nm, 63,000 L/mol/cm; for each µmol/L. The weak blue end is matched by eye. */
export const PHENOL_RED = peaks([
  { at: 558, width: 28, height: 0.063 },
  { at: 440, width: 44, height: 0.006 },
]);
/** What much chlorine makes of it, a chlorophenol red: 575 nm; for each µmol/L. */
export const CHLORINATED_PURPLE = peaks([
  { at: 575, width: 24, height: 0.06 },
  { at: 535, width: 30, height: 0.02 },
]);

/** Bromocresol green: base blue at 617 nm (42,000), acid yellow at 444 nm (17,000); for each µmol/L. */
export const GREEN_BLUE = peaks([
  { at: 617, width: 33, height: 0.042 },
  { at: 400, width: 24, height: 0.012 },
]);
export const GREEN_YELLOW = peaks([{ at: 444, width: 38, height: 0.017 }]);
/** Methyl red beside it: base yellow at 434 nm (20,000), acid red at 523 nm (41,000); its blue end matched by eye. For each µmol/L. */
export const METHYL_YELLOW = peaks([{ at: 434, width: 38, height: 0.02 }]);
export const METHYL_RED = peaks([
  { at: 523, width: 32, height: 0.041 },
  { at: 440, width: 46, height: 0.016 },
]);

/** A hardness indicator at pH 12, on calcium: red-violet. Matched by eye. For each unit of it. */
export const HARDNESS_RED = peaks([
  { at: 540, width: 34, height: 0.42 },
  { at: 420, width: 40, height: 0.1 },
]);
/** And free: blue, at 640 nm with a shoulder at 590. Matched by eye. */
export const HARDNESS_BLUE = peaks([
  { at: 640, width: 38, height: 0.4 },
  { at: 585, width: 30, height: 0.3 },
  { at: 530, width: 28, height: 0.1 },
]);
/** Held by copper, it stays purple whatever is added. Matched by eye. */
export const HARDNESS_COPPER = peaks([
  { at: 552, width: 38, height: 0.36 },
  { at: 440, width: 40, height: 0.1 },
]);

/** The yellow of drops for total chlorine, at 437 nm; its tail makes it orange where there is much. Matched by eye. */
export const TOTAL_YELLOW = peaks([
  { at: 437, width: 28, height: 0.16 },
  { at: 500, width: 34, height: 0.034 },
]);

/** Chromate, yellow at 372 nm with a tail into the blue; and silver chromate's brick red. Matched by eye. */
export const CHROMATE_YELLOW = peaks([{ at: 400, width: 36, height: 0.5 }]);
export const CHROMATE_BRICK = peaks([
  { at: 470, width: 60, height: 0.55 },
  { at: 540, width: 34, height: 0.3 },
]);
