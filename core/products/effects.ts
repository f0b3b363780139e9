import { InputFault, numberWithin } from "../fault";
import { BASIN_LITRES } from "../measure/units";
import { chargeAt } from "../water/charge";
import type { Conditions } from "../water/constants";
import { readingsOf, solvePh } from "../water/equilibrium";
import { MOLAR_MASS } from "../water/molar";
import { crossing } from "../water/root";
import { activity, conditionsOf, type Sample, type Totals, totalsOf } from "../water/sample";
import { effectPerGram, type MolarEffect, type Product } from "./products";

/** An amount of product as sold, put into the water. */
export interface Addition extends Product {
  /** Product as sold, g. */
  grams: number;
}

/** Totals that a product changes. Chloride and spent reducer ride beside them. */
export const CONSERVED = [
  "alkalinity",
  "inorganicCarbon",
  "calcium",
  "cyanurate",
  "chlorine",
  "borate",
] as const;

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
 * Adds so many grams of each effect to a litre, in place: the one place where a product meets a water,
 * for a plan, a promise, a slider and a verb alike. The order does not matter. A reducer takes chlorine
 * to none and no further: what is left of it finds nothing, and leaves no acid either.
 *
 * @param effects what a gram of each does, see `effectPerGram`
 * @param gramsPerLitre as sold, of each
 * @returns chloride gained, mol/L
 * @example addShares(totalsOf(water), [effectPerGram({ product: "sodium-bicarbonate", strength: 1 })], [0.1]) // 0
 */
export function addShares(
  totals: Totals,
  effects: readonly MolarEffect[],
  gramsPerLitre: ArrayLike<number>,
): number {
  let chloride = 0;
  let taken = 0;
  let acidOfTaking = 0;
  for (let index = 0; index < effects.length; index++) {
    const effect = effects[index] as MolarEffect;
    const share = gramsPerLitre[index] as number;
    if (effect.chlorine < 0) {
      taken -= effect.chlorine * share;
      acidOfTaking -= effect.alkalinity * share;
    } else {
      totals.alkalinity += effect.alkalinity * share;
      totals.inorganicCarbon += effect.inorganicCarbon * share;
      totals.calcium += effect.calcium * share;
      totals.cyanurate += effect.cyanurate * share;
      totals.chlorine += effect.chlorine * share;
      totals.borate += effect.borate * share;
    }
    chloride += effect.chloride * share;
    totals.totalDissolvedSolids += effect.dissolved * share * 1000;
  }
  if (taken > 0) {
    const found = Math.min(taken, totals.chlorine);
    totals.chlorine -= found;
    totals.alkalinity -= acidOfTaking * (found / taken);
    chloride += found;
  }
  return chloride;
}

/**
 * The totals after a list of additions, mixed in, chlorine not yet spent.
 *
 * @throws InputFault naming `additions.N.field` for an unknown product, a strength or an amount off its limits
 */
export function addTo(totals: Totals, additions: readonly Addition[], litres: number): Treated {
  const volume = numberWithin("litres", litres, LEAST_LITRES, BASIN_LITRES.high);
  const after = { ...totals };
  const shares = additions.map(
    ({ grams }, index) => numberWithin(`additions.${index}.grams`, grams, 0, MOST_GRAMS) / volume,
  );
  const chloride = addShares(after, additions.map(perGramOf), shares);
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

/** Carbon dioxide in open air, atm. */
const IN_AIR = 420e-6;

/** Henry's constant of carbon dioxide, mol/(L·atm), log10; T in K (Plummer and Busenberg 1982). */
const logHenry = (T: number) =>
  108.3865 + 0.01985076 * T - 6919.53 / T - 40.45154 * Math.log10(T) + 669365 / (T * T);

/**
 * Dissolved CO2 of water at rest under open air, mol/L: what air takes it down to, and no further.
 * @param temperature °C
 * @example carbonDioxideAtRest(20) // 0.000016458
 */
export const carbonDioxideAtRest = (temperature: number): number =>
  10 ** logHenry(temperature + 273.15) * IN_AIR;

/** Share of inorganic carbon that is dissolved CO2 at {H+} = h. */
export const carbonDioxideShare = ({ k1, k2 }: Pick<Conditions, "k1" | "k2">, h: number): number =>
  1 / (1 + k1 / h + (k1 * k2) / (h * h));

/** CO2 dissolved in a water, mol/L. @example carbonDioxide(totals) // 0.00012328 */
export function carbonDioxide(totals: Totals): number {
  const conditions = conditionsOf(totals);
  const h = activity(solvePh(conditions, totals, totals.alkalinity).ph);
  return totals.inorganicCarbon * carbonDioxideShare(conditions, h);
}

/**
 * So much CO2 driven out by air, mol/L; where that is more than air would take, as much as it takes.
 * A water that holds less than air already stays as it is.
 */
export function driveOut(totals: Totals, amount: number): Totals {
  if (amount <= 0) return totals;
  const rest = carbonDioxideAtRest(totals.temperature);
  const after = { ...totals, inorganicCarbon: totals.inorganicCarbon - amount };
  if (after.inorganicCarbon > 0 && carbonDioxide(after) >= rest) return after;
  return carbonDioxide(totals) <= rest ? totals : aerate(totals, rest);
}

/**
 * Aerated until its dissolved CO2 has come to `target` (mol/L): carbon leaves or enters, alkalinity
 * stays, so the pH climbs or falls.
 */
export function aerate(totals: Totals, target: number): Totals {
  numberWithin("carbonDioxide", target, 1e-9, 0.1);
  const conditions = conditionsOf(totals);
  const carbonAt = (ph: number) => {
    const h = activity(ph);
    return target / carbonDioxideShare(conditions, h);
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

/** What is done to a water, in this order: some of it replaced, products mixed in, air. */
export interface Treatment {
  replaced?: { fraction: number; fill: Totals } | undefined;
  additions: readonly Addition[];
  /** Carbon dioxide driven out by air, mol/L. */
  drivenOut?: number;
}

/**
 * The totals after a treatment, mixed, chlorine not yet spent.
 * @throws InputFault as `addTo` and `replaceWater`
 */
export function treat(
  totals: Totals,
  { replaced, additions, drivenOut }: Treatment,
  litres: number,
): Treated {
  const mixed = replaced ? replaceWater(totals, replaced.fill, replaced.fraction) : totals;
  const treated = addTo(mixed, additions, litres);
  return drivenOut ? { ...treated, totals: driveOut(treated.totals, drivenOut) } : treated;
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
  const { replaced, additions } = input;
  const treated = treat(
    totalsOf(input.water),
    {
      additions,
      replaced: replaced && { fraction: replaced.fraction, fill: totalsOf(replaced.fill) },
    },
    input.litres,
  );
  let totals = treated.totals;
  let chloride = treated.chloride;
  if (input.chlorineSpent) {
    chloride += totals.chlorine;
    totals = spendChlorine(totals);
  }
  if (input.aeratedTo !== undefined) totals = aerate(totals, input.aeratedTo);
  return { ...readingsOf(totals), chlorideAdded: chloride * CHLORIDE * 1000 };
}
