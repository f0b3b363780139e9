import { InputFault } from "../../fault";
import type { Made } from "../../judging/balance";
import type { Finding } from "../../judging/findings";
import type { RangeSet, Surface } from "../../judging/range-set";
import type { Quantity } from "../../measure/quantity";
import type { SampleSpread } from "../../uncertainty/models";
import { exactly, type Spread, spreadOf } from "../../uncertainty/spread";
import { type Sample, totalsOf } from "../../water/sample";
import { demandByDrops, phByDemand } from "../demand-model";
import { goalsOf } from "./goals";
import { type PlanProduct, WEIGHTS } from "./input";
import { USUAL_SPREADS } from "./predict";
import type { PlanProblem } from "./shown";
import type { StepSetting } from "./steps";

/** What stands in for a reading that nobody has made, and how far off it may be. */
export const USUAL_READINGS = {
  calciumHardness: 250,
  cyanuricAcid: 0,
  freeChlorine: 0,
  temperature: 25,
  totalDissolvedSolids: 1000,
} as const;

/** Why no plan can be made of what was read. */
export type NoPlan =
  | { reason: "needs-reading"; quantity: Quantity }
  | { reason: "off-scale"; quantity: Quantity }
  | { reason: "inconsistent" };

export interface PlanWater {
  water: Sample;
  spreads: SampleSpread;
  /** Readings that were not there, with what stands in. */
  assumed: Quantity[];
  /** The pH ran off its scale and was worked out from the demand drops. */
  phByDemand: boolean;
}

/**
 * The water that is planned for, from the newest readings of each kind. A pH off its scale is worked
 * out from the demand drops when they were counted: they tell how far off it is.
 *
 * @param demandTarget pH that the demand test is titrated to; null when the kit has none
 */
export function planWater(
  readings: Partial<Record<Quantity, Made>>,
  demandTarget: number | null,
): PlanWater | NoPlan {
  const { ph, totalAlkalinity, calciumHardness, freeChlorine, cyanuricAcid } = readings;
  if (!ph) return { reason: "needs-reading", quantity: "ph" };
  if (!totalAlkalinity) return { reason: "needs-reading", quantity: "totalAlkalinity" };
  for (const [quantity, read] of Object.entries({ totalAlkalinity, calciumHardness, freeChlorine }))
    if (read && read.bound !== "within") return { reason: "off-scale", quantity: quantity as Quantity };
  if (cyanuricAcid?.bound === "at-least") return { reason: "off-scale", quantity: "cyanuricAcid" };

  const value = (name: keyof typeof USUAL_READINGS) => readings[name]?.value ?? USUAL_READINGS[name];
  const rest: Omit<Sample, "ph"> = {
    totalAlkalinity: totalAlkalinity.value,
    calciumHardness: value("calciumHardness"),
    // Under the first line of the tube lies somewhere below: half of it is the best single number.
    cyanuricAcid: cyanuricAcid?.bound === "at-most" ? cyanuricAcid.value / 2 : value("cyanuricAcid"),
    freeChlorine: value("freeChlorine"),
    borate: 0,
    temperature: value("temperature"),
    totalDissolvedSolids: value("totalDissolvedSolids"),
  };
  const known =
    ph.bound === "within"
      ? { value: ph.value, spread: spreadOf(ph, ph.kind) }
      : offScale(readings, rest, demandTarget);
  if (!known) return { reason: "off-scale", quantity: "ph" };
  const water: Sample = { ...rest, ph: known.value };
  try {
    totalsOf(water);
  } catch (fault) {
    if (fault instanceof InputFault) return { reason: "inconsistent" };
    throw fault;
  }
  const usual = USUAL_SPREADS(water);
  const spread = (name: Exclude<keyof SampleSpread, "ph">): Spread => {
    const made = readings[name];
    if (!made) return name in USUAL_READINGS && water[name] === 0 ? exactly(0) : usual[name];
    return made.bound === "at-most" ? { low: 0, high: made.value, deviation: 0 } : spreadOf(made, made.kind);
  };
  return {
    water,
    spreads: {
      ph: known.spread,
      totalAlkalinity: spread("totalAlkalinity"),
      calciumHardness: spread("calciumHardness"),
      cyanuricAcid: spread("cyanuricAcid"),
      freeChlorine: spread("freeChlorine"),
    },
    assumed: (Object.keys(USUAL_READINGS) as (keyof typeof USUAL_READINGS)[]).filter(
      (name) => !readings[name],
    ),
    phByDemand: ph.bound !== "within",
  };
}

/** The pH beyond the end of its scale by the demand drops, with the interval that their bracket gives. */
function offScale(
  readings: Partial<Record<Quantity, Made>>,
  rest: Omit<Sample, "ph">,
  target: number | null,
): { value: number; spread: Spread } | null {
  const [counted, sign] = readings.acidDemand ? [readings.acidDemand, 1] : [readings.baseDemand, -1];
  if (!counted || target === null) return null;
  const { value, low, high } = demandByDrops(counted);
  const at = (demand: number) => phByDemand(rest, sign * demand, target);
  const middle = at(value);
  const ends = [at(Math.max(0, low)), at(high)];
  if (middle === null) return null;
  const [from, to] = ends.map((end) => end ?? middle).sort((a, b) => a - b);
  return { value: middle, spread: { low: from ?? middle, high: to ?? middle, deviation: 0 } };
}

export const isNoPlan = (water: PlanWater | NoPlan): water is NoPlan => "reason" in water;

export interface ProblemInput {
  set: RangeSet;
  surface: Surface;
  litres: number;
  kind: StepSetting["kind"];
  findings: readonly Finding[];
  products: readonly PlanProduct[];
  /** What is known of the fill water, mg/L; null when nothing is. */
  fill: { totalAlkalinity: number; calciumHardness: number } | null;
  /** The largest share of the water that may be replaced at a time. */
  mostReplaced: number;
  freshFill?: boolean;
}

/** The problem that a planner is given for this water. */
export function problemFor({ water, spreads }: PlanWater, given: ProblemInput): PlanProblem {
  const { set, surface, findings } = given;
  const fill = given.fill ? fillWater(given.fill, water.temperature) : null;
  return {
    input: {
      water,
      litres: given.litres,
      goals: goalsOf(set, surface, water),
      // Tablets feed for days; they mend nothing today.
      products: given.products.filter(({ product }) => product !== "trichlor"),
      fill,
      mostReplaced: fill ? given.mostReplaced : 0,
      aeration: true,
      weights: WEIGHTS,
    },
    setting: {
      kind: given.kind,
      freshFill: given.freshFill ?? false,
      surface: surface === "vinyl" ? "vinyl" : "other",
      sanitiserFirst: findings.some((finding) => finding.code === "freeChlorine.low" && finding.closes),
    },
    set,
    surface,
    spreads,
  };
}

/** Fill water as it comes from the main: its pH and solids are rarely known and matter little. */
export const fillWater = (
  known: { totalAlkalinity: number; calciumHardness: number },
  temperature: number,
): Sample => ({
  ...known,
  ph: 7.6,
  cyanuricAcid: 0,
  freeChlorine: 0,
  borate: 0,
  temperature,
  totalDissolvedSolids: 300,
});
