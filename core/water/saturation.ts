import { InputFault } from "../fault";
import { solvePh } from "./equilibrium";
import { asRead, MOLAR_MASS, molar } from "./molar";
import { calciteIndex, pairedConditions } from "./pairs";
import { crossing } from "./root";
import {
  activity,
  carbonCharge,
  checkedSample,
  conditionsOf,
  otherAlkalinity,
  SAMPLE_LIMITS,
  type Sample,
  type Totals,
  totalsOf,
} from "./sample";

/**
 * Whether the water wants to drop calcite (above zero) or take it up (below).
 * "Corrected" counts only the carbonate part of the titrated alkalinity; "titrated" takes all of it
 * for carbonate, as many still do. −Infinity where there is no calcium or no carbonate at all.
 */
export interface SaturationIndex {
  full: { corrected: number; titrated: number };
  factorSum: { corrected: number; titrated: number };
}

/** Above this much stabiliser the corrected and the titrated index part ways enough to change the verdict. */
export const CORRECTION_MATTERS = 60; // mg/L cyanuric acid

/** Carbonate alkalinity: what of the titrated alkalinity is not cyanurate, borate or hydroxide, mg/L as CaCO3. */
export function carbonateAlkalinity(sample: Sample): number {
  const totals = totalsOf(sample);
  return asRead.alkalinity(totals.inorganicCarbon * carbonCharge(conditionsOf(totals), sample.ph));
}

/** The index of totals at a pH, with the free calcium and carbonate: see pairs.ts. */
function index(totals: Totals, ph: number, inorganicCarbon = totals.inorganicCarbon): number {
  const conditions = conditionsOf(totals);
  const carbonate = inorganicCarbon * carbonCharge(conditions, ph);
  const of = [totals.calcium, carbonate, totals.sulfate, activity(ph)] as const;
  return calciteIndex(pairedConditions(conditions, ...of), ...of);
}

/** Temperature term of the factor sum, °C → TF, interpolated (Wojtowicz's form of Langelier's index). */
const TEMPERATURE_FACTORS = [
  [0, 0],
  [3, 0.1],
  [8, 0.2],
  [12, 0.3],
  [16, 0.4],
  [19, 0.5],
  [24, 0.6],
  [29, 0.7],
  [34, 0.8],
  [41, 0.9],
] as const;

/** Constant of the factor sum by dissolved solids, mg/L, interpolated between. */
const SOLIDS_CONSTANTS = [
  [1000, 12.1],
  [2000, 12.2],
  [3000, 12.3],
  [4000, 12.35],
  [5000, 12.4],
] as const;

/** Straight lines between the rows of a table; its end values beyond its ends. */
function interpolated(table: readonly (readonly [number, number])[], at: number): number {
  const above = table.findIndex(([x]) => x >= at);
  const upper = table[above];
  const lower = table[above - 1];
  if (!upper) return table[table.length - 1]?.[1] ?? Number.NaN;
  if (!lower) return upper[1];
  return lower[1] + ((upper[1] - lower[1]) * (at - lower[0])) / (upper[0] - lower[0]);
}

/** The index by factors: pH + TF + log10(CH) − 0.4 + log10(alkalinity) − constant. */
export function factorSum(
  sample: Pick<Sample, "ph" | "calciumHardness" | "temperature" | "totalDissolvedSolids">,
  alkalinity: number,
): number {
  return (
    sample.ph +
    interpolated(TEMPERATURE_FACTORS, sample.temperature) +
    Math.log10(sample.calciumHardness) -
    0.4 +
    Math.log10(alkalinity) -
    interpolated(SOLIDS_CONSTANTS, sample.totalDissolvedSolids)
  );
}

/**
 * The saturation index four ways: from the full equilibrium and by factors, each with the alkalinity
 * corrected and as titrated.
 *
 * @throws InputFault when a reading is off its limits or TA is less than the cyanurate explains
 * @example saturation(water).full.corrected // 0.10931
 */
export function saturation(sample: Sample): SaturationIndex {
  const totals = totalsOf(sample);
  const conditions = conditionsOf(totals);
  const { ph } = sample;
  const carbonate = asRead.alkalinity(totals.inorganicCarbon * carbonCharge(conditions, ph));
  const water = otherAlkalinity(conditions, 0, 0, ph);
  const asTitrated = (molar.alkalinity(sample.totalAlkalinity) - water) / carbonCharge(conditions, ph);
  return {
    full: {
      corrected: index(totals, ph),
      titrated: index(totals, ph, Math.max(0, asTitrated)),
    },
    factorSum: {
      corrected: factorSum(sample, carbonate),
      titrated: factorSum(sample, sample.totalAlkalinity),
    },
  };
}

/** The full, corrected index of a water known by its totals, pH solved. */
export const saturationOf = (totals: Totals): number =>
  index(totals, solvePh(conditionsOf(totals), totals, totals.alkalinity).ph);

/**
 * Calcite that the water would drop (above zero) or take up (below) until its index is zero, mg/L.
 * Each mole of it takes a mole of calcium, a mole of inorganic carbon and two of alkalinity along.
 */
export function calcitePotential(sample: Sample): number {
  const totals = totalsOf(sample);
  let start = sample.ph;
  /** Ion product over solubility product, less one, after `dropped` mol/L; finite where the index is not. */
  const excess = (dropped: number) => {
    const left: Totals = {
      ...totals,
      inorganicCarbon: totals.inorganicCarbon - dropped,
      calcium: totals.calcium - dropped,
      alkalinity: totals.alkalinity - 2 * dropped,
    };
    const { ph } = solvePh(conditionsOf(left), left, left.alkalinity, start);
    start = ph;
    return 10 ** index(left, ph) - 1;
  };
  if (excess(0) > 0) {
    // The bracket stops short of the last of the carbon, where nothing is left to drop.
    const most = 0.999999 * Math.min(totals.calcium, totals.inorganicCarbon);
    return (crossing(excess, 0, most, 1e-15) ?? most) * MOLAR_MASS.calciumCarbonate * 1000;
  }
  let least = -1e-5;
  while (excess(least) < 0 && least > -0.05) least *= 2;
  return (crossing(excess, least, 0, 1e-15) ?? least) * MOLAR_MASS.calciumCarbonate * 1000;
}

/**
 * The same for a basin, kg of calcite.
 * @example calciteKilograms({ ...water, ph: 8.4 }, 40_000) // 0.58941
 */
export const calciteKilograms = (sample: Sample, litres: number): number =>
  (calcitePotential(sample) * litres) / 1e6;

/**
 * The pH at which this alkalinity, hardness and temperature would be just saturated, the carbon
 * following as it does when air takes CO2 away; null when there is none from 5 to 10.5.
 */
export function phAtSaturation(sample: Sample): number | null {
  checkedSample(sample);
  return crossing((ph) => indexOr({ ...sample, ph }, FAR_BELOW), 5, 10.5, 1e-9);
}

/** The calcium hardness at which this water would be just saturated, mg/L; infinite where there is none. */
export function hardnessAtSaturation(sample: Sample): number {
  const at = crossing(
    (power) => saturation({ ...sample, calciumHardness: 10 ** power }).full.corrected,
    -3,
    Math.log10(SAMPLE_LIMITS.calciumHardness.high),
    1e-12,
  );
  return at === null ? Number.POSITIVE_INFINITY : 10 ** at;
}

const FAR_BELOW = -20;

/** The index, or what stands in where the cyanurate and the hydroxide leave no carbonate at all. */
function indexOr(sample: Sample, otherwise: number): number {
  try {
    const { corrected } = saturation(sample).full;
    return Number.isFinite(corrected) ? corrected : otherwise;
  } catch (fault) {
    if (fault instanceof InputFault) return otherwise;
    throw fault;
  }
}
