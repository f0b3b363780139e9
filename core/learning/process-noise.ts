import { molar } from "../water/molar";
import type { Learned } from "./log";
import { MILLI } from "./unknowns";

/** What a drift leaves out, as noise: the learner's between two visits and the planner's of the days to come. */

/** Day-to-day scatter of the demand and of a feeder, relative: bathers are lognormal. */
export const BATHERS = 0.4;
export const FEEDER_SCATTER = 0.25;

/** What the processes leave out of each total: the standard deviation of a day, mmol/L. */
export const LEFT_OUT = {
  alkalinity: molar.alkalinity(0.25) * MILLI,
  inorganicCarbon: molar.alkalinity(0.15) * MILLI,
  calcium: molar.calcium(0.5) * MILLI,
  cyanurate: molar.cyanurate(0.2) * MILLI,
} as const;

/** The reading that tells of each. */
export const TOLD_BY = {
  alkalinity: "totalAlkalinity",
  inorganicCarbon: "ph",
  calcium: "calciumHardness",
  cyanurate: "cyanuricAcid",
} as const;

/** And of the chlorine, relative, a day; over five days, what is left out goes both ways. */
export const CHLORINE_LEFT_OUT = 0.04;
export const CHLORINE_DAYS = 5;

/** Variances of what is left out and of the tests' scatter, over the usual, as a log was found to scatter. */
export type Scales = Record<Learned, number>;
export const UNSCALED: Scales = {
  freeChlorine: 1,
  ph: 1,
  totalAlkalinity: 1,
  calciumHardness: 1,
  cyanuricAcid: 1,
};
