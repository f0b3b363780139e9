import { type HabitName, type HabitPrior, usualHabits } from "../drift/habits";
import { InputFault } from "../fault";
import { type Sample, type Totals, totalsOf } from "../water/sample";
import { standIns } from "../water/stand-ins";
import type { BasinLog, Learned } from "./log";

/** The water that a basin starts with before anything was read, and what fills it. */

export const USUAL_FILL: Sample = {
  ph: 7.6,
  totalAlkalinity: 80,
  calciumHardness: 120,
  cyanuricAcid: 0,
  freeChlorine: 0,
  borate: 0,
  temperature: 15,
  totalDissolvedSolids: 300,
};

/** Readings that a first visit did not make. */
export const usualWater = (basin: BasinLog): Sample => ({
  ...standIns(basin),
  // Nothing is dosed by it: the middle of where a kept basin's chlorine is.
  freeChlorine: 2.5,
  borate: 0,
});

/** How unsure a reading is before it was made, in its unit. */
export const UNREAD: Record<Learned, number> = {
  freeChlorine: 4,
  ph: 0.5,
  totalAlkalinity: 60,
  calciumHardness: 150,
  cyanuricAcid: 40,
};

/** What was given, and for the rest what is usual. */
export const sampleOr = (given: Partial<Sample>, usual: Sample): Sample => {
  const known = Object.entries(given).filter(([, value]) => typeof value === "number");
  return { ...usual, ...Object.fromEntries(known) };
};

/** The totals of readings, bent where they cannot belong to one water. */
export function totalsNear(sample: Sample): Totals {
  try {
    return totalsOf(sample);
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    // Readings that cannot belong to one water: carbonate takes what the alkalinity lacks.
    return totalsOf({ ...sample, totalAlkalinity: sample.totalAlkalinity + sample.cyanuricAcid / 2 + 20 });
  }
}

/** What a feeder gives over what its setting is meant to give, where that is written down. */
const BY_SETTING: HabitPrior = { median: 1, deviation: 0.35 };

/** What is believed of a basin's rates before its log says anything. */
export const priorsOf = (log: BasinLog): Record<HabitName, HabitPrior> => ({
  ...usualHabits(log),
  ...(log.feeder !== "none" && log.settings?.length ? { feeder: BY_SETTING } : {}),
});
