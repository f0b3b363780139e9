import { InputFault, numberWithin } from "../fault";
import { BASIN_LITRES } from "../measure/units";
import { chargeAt } from "../water/charge";
import { conditionsAt } from "../water/constants";
import { readingsOf, solvePh } from "../water/equilibrium";
import { MOLAR_MASS } from "../water/molar";
import { crossing } from "../water/root";
import { activity, type Sample, type Totals, totalsOf } from "../water/sample";
import { effectPerGram, type Product } from "./products";

/** An amount of product as sold, put into the water. */
export interface Addition extends Product {
  /** Product as sold, g. */
  grams: number;
}

/** Totals that a product changes. Chloride and spent reducer ride beside them. */
const CONSERVED = ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine", "borate"] as const;

/** Down to a bucket: a trial on the bench follows the same chemistry. */
export const LEAST_LITRES = 0.1;

/** Nobody tips in more than a tonne at once. g */
const MOST_GRAMS = 1e6;

export interface Treated {
  totals: Totals;
  /** Chloride gained, mol/L. */
  chloride: number;
}

/**
 * The totals after a list of additions, mixed in, chlorine not yet spent. The order of the list does
 * not matter. A reducer takes chlorine to none and no further: what is left of it finds nothing.
 *
 * @throws InputFault naming `additions.N.field` for an unknown product, a strength or an amount off its limits
 */
export function addTo(totals: Totals, additions: readonly Addition[], litres: number): Treated {
  const volume = numberWithin("litres", litres, LEAST_LITRES, BASIN_LITRES.high);
  const after = { ...totals };
  let chloride = 0;
  let taken = 0;
  let acidOfTaking = 0;
  additions.forEach((addition, index) => {
    const grams = numberWithin(`additions.${index}.grams`, addition.grams, 0, MOST_GRAMS);
    const perGram = perGramOf(addition, index);
    const share = grams / volume;
    if (perGram.chlorine < 0) {
      taken -= perGram.chlorine * share;
      acidOfTaking -= perGram.alkalinity * share;
    } else {
      for (const key of CONSERVED) after[key] += perGram[key] * share;
    }
    chloride += perGram.chloride * share;
    after.totalDissolvedSolids += perGram.dissolved * share * 1000;
  });
  if (taken > 0) {
    // Chlorine reduced to chloride takes its equivalent of alkalinity along, and the reducer its own acid.
    const found = Math.min(taken, after.chlorine);
    after.chlorine -= found;
    after.alkalinity -= found + acidOfTaking * (found / taken);
    chloride += found;
  }
  return { totals: after, chloride };
}

function perGramOf(addition: Addition, index: number) {
  try {
    return effectPerGram(addition);
  } catch (fault) {
    if (fault instanceof InputFault)
      throw new InputFault(fault.code, `additions.${index}.${fault.field}`, fault.value, fault.limit);
    throw fault;
  }
}

/** Chlorine used up by sun and bathers: each mole becomes chloride and takes an equivalent of alkalinity. */
export function spendChlorine(totals: Totals, share = 1): Totals {
  const spent = totals.chlorine * numberWithin("share", share, 0, 1);
  return { ...totals, chlorine: totals.chlorine - spent, alkalinity: totals.alkalinity - spent };
}

/** A share of the water replaced by other water: C' = (1 − f)·C + f·C_fill for every total. */
export function replaceWater(totals: Totals, fill: Totals, fraction: number): Totals {
  const f = numberWithin("fraction", fraction, 0, 1);
  const mixed = { ...totals };
  for (const key of Object.keys(totals) as (keyof Totals)[])
    mixed[key] = (1 - f) * totals[key] + f * fill[key];
  return mixed;
}

/** Dissolved CO2 of water at rest under open air, mol/L: Henry's constant 0.039 mol/(L·atm) at 20 °C, 420 ppm. */
export const CARBON_DIOXIDE_AT_REST = 0.039 * 420e-6;

/** CO2 dissolved in a water, mol/L. */
export function carbonDioxide(totals: Totals): number {
  const conditions = conditionsAt(totals.temperature, totals.totalDissolvedSolids);
  const h = activity(solvePh(conditions, totals, totals.alkalinity).ph);
  return totals.inorganicCarbon / (1 + conditions.k1 / h + (conditions.k1 * conditions.k2) / (h * h));
}

/**
 * Aerated until its dissolved CO2 has come to `target` (mol/L): carbon leaves or enters, alkalinity
 * stays, so the pH climbs or falls.
 */
export function aerate(totals: Totals, target: number): Totals {
  numberWithin("carbonDioxide", target, 1e-9, 0.1);
  const conditions = conditionsAt(totals.temperature, totals.totalDissolvedSolids);
  const carbonAt = (ph: number) => {
    const h = activity(ph);
    return target * (1 + conditions.k1 / h + (conditions.k1 * conditions.k2) / (h * h));
  };
  const ph = crossing(
    (guess) =>
      chargeAt(conditions, { ...totals, inorganicCarbon: carbonAt(guess) }, activity(guess)).charge -
      totals.alkalinity,
    2,
    12.5,
    1e-13,
  );
  if (ph === null) throw new InputFault("inconsistent", "carbonDioxide", target, "alkalinity");
  return { ...totals, inorganicCarbon: carbonAt(ph) };
}

/**
 * Days of evaporation made up with fill water: what evaporates leaves all salts behind, what tops up
 * brings its own. The volume stays.
 *
 * @param perDay share of the volume that evaporates in a day, 0…0.2
 */
export function evaporate(totals: Totals, fill: Totals, perDay: number, days: number): Totals {
  const share = numberWithin("perDay", perDay, 0, 0.2) * numberWithin("days", days, 0, 3650);
  const after = { ...totals };
  for (const key of [...CONSERVED, "totalDissolvedSolids"] as const) after[key] += share * fill[key];
  return after;
}

export interface EffectInput {
  water: Sample;
  litres: number;
  additions: readonly Addition[];
  /** Whether the chlorine in the water, and what was added of it, has been used up. */
  chlorineSpent?: boolean;
  /** Replaced first, before anything is added. */
  replaced?: { fraction: number; fill: Sample };
  /** Aerated at the end to this much dissolved CO2, mol/L. */
  aeratedTo?: number;
}

export interface EffectAnswer extends Sample {
  /** Chloride gained, mg/L as Cl−. */
  chlorideAdded: number;
}

const CHLORIDE = MOLAR_MASS.chlorineGas / 2;

/**
 * The readings after everything: water replaced, products mixed in, chlorine spent or not, aerated;
 * pH solved by the full equilibrium.
 *
 * @example effectOf({ water, litres: 38_000, additions: [{ product: "hydrochloric-acid", strength: 0.3145, grams: 592 }] }).ph
 */
export function effectOf(input: EffectInput): EffectAnswer {
  let totals = totalsOf(input.water);
  if (input.replaced) totals = replaceWater(totals, totalsOf(input.replaced.fill), input.replaced.fraction);
  const treated = addTo(totals, input.additions, input.litres);
  totals = treated.totals;
  let chloride = treated.chloride;
  if (input.chlorineSpent) {
    chloride += totals.chlorine;
    totals = spendChlorine(totals);
  }
  if (input.aeratedTo !== undefined) totals = aerate(totals, input.aeratedTo);
  return { ...readingsOf(totals), chlorideAdded: chloride * CHLORIDE * 1000 };
}
