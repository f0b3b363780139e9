import type { Goals } from "../dosing/plan/goals";
import type { PlanProduct } from "../dosing/plan/input";
import { effectPerGram, type MolarEffect, PRODUCTS } from "../products/products";
import { TRAITS, type Use } from "../products/traits";
import { normal, type Random } from "../random";
import { STRENGTH_DEVIATION } from "../uncertainty/spread";
import { chargeAt } from "../water/charge";
import type { Conditions } from "../water/constants";
import { asRead, molar } from "../water/molar";
import { activity, type Totals } from "../water/sample";

/**
 * Whoever calls, as a rule that is quick to follow: chlorine to what lasts, alkalinity and stabiliser when they
 * are low, pH to where it stays right. A plan does better than this; it cannot be solved ten thousand times.
 */

/** What a call brings a water to. */
export interface Targets {
  /** mg/L */
  chlorine: number;
  ph: number;
}

/** What each purpose is served with: the cheapest there is. */
export type Kit = Record<Exclude<Use, "calcium">, PlanProduct & { perGram: MolarEffect }>;

const PURPOSES = ["acid", "base", "alkalinity", "stabiliser", "chlorine"] as const;
const MOVES = {
  acid: "alkalinity",
  base: "alkalinity",
  alkalinity: "alkalinity",
  stabiliser: "cyanurate",
  chlorine: "chlorine",
} as const;

/**
 * The cheapest product for each purpose, of a full shelf.
 * @param stabilised whether chlorine may bring stabiliser
 * @example kitOf(fullShelf(input)).acid.product // "hydrochloric-acid"
 */
export function kitOf(products: readonly PlanProduct[], stabilised = false): Kit {
  const kit: Partial<Kit> = {};
  for (const purpose of PURPOSES) {
    const price = (one: PlanProduct) => one.pricePerKg / Math.abs(effectPerGram(one)[MOVES[purpose]]);
    const [best] = products
      .filter(({ product }) => TRAITS[product].use === purpose && (stabilised || !TRAITS[product].stabilised))
      .sort((a, b) => price(a) - price(b));
    if (best) kit[purpose] = { ...best, perGram: effectPerGram(best) };
  }
  return kit as Kit;
}

/** How far a colour lets a pH be told, and a scoop or a jug be poured. */
const PH_READ = 0.05;
const POURED = 0.04;
/** Nobody gives acid or base for less than this. */
const PH_WORTH = 0.08;
/** Nor chlorine, mg/L. */
const CHLORINE_WORTH = 0.2;

export interface Tended {
  goals: Goals;
  kit: Kit;
  litres: number;
  /** Stabiliser that is kept, mg/L; null for none. */
  stabiliser: number | null;
}

/**
 * One call, in place.
 * @param volume what the basin holds over the book's
 * @param ph of the water as it stands
 * @returns money for what was poured
 */
export function tend(
  water: Totals,
  ph: number,
  conditions: Conditions,
  { goals, kit, litres, stabiliser }: Tended,
  targets: Targets,
  volume: number,
  random: Random,
): number {
  let money = 0;
  const give = (one: Kit[keyof Kit], moles: number) => {
    const { perGram, product, pricePerKg } = one;
    const purpose = TRAITS[product].use as keyof typeof MOVES;
    const grams = (moles / Math.abs(perGram[MOVES[purpose]])) * litres;
    money += (grams / 1000) * pricePerKg;
    const strength = 1 + STRENGTH_DEVIATION[PRODUCTS[product].form] * normal(random);
    const share = (grams * Math.max(0, strength) * (1 + POURED * normal(random))) / (litres * volume);
    for (const name of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const)
      water[name] += perGram[name] * share;
  };
  const missing = molar.chlorine(targets.chlorine) - water.chlorine;
  if (asRead.chlorine(missing) > CHLORINE_WORTH) give(kit.chlorine, missing);
  if (stabiliser !== null && asRead.cyanurate(water.cyanurate) < stabiliser - STABILISER_WORTH)
    give(kit.stabiliser, molar.cyanurate(stabiliser) - water.cyanurate);
  const { low } = goals.totalAlkalinity;
  if (low !== null) {
    const now = asRead.alkalinity(chargeAt(conditions, { ...water, chlorine: 0 }, activity(ph)).charge);
    if (now < low) give(kit.alkalinity, molar.alkalinity(low + ALKALINITY_OVER - now));
  }
  const off = ph - targets.ph;
  const wanted = targets.ph + PH_READ * normal(random);
  if (off > PH_WORTH || (goals.ph.low !== null && ph < goals.ph.low)) {
    const equivalents = chargeAt(conditions, water, activity(wanted)).charge - water.alkalinity;
    if (equivalents < 0) give(kit.acid, -equivalents);
    else if (off < 0) {
      // Its own carbonate takes some of what a base brings: the charge is straight in the carbon.
      const { alkalinity, inorganicCarbon } = kit.base.perGram;
      const more = chargeAt(
        conditions,
        { ...water, inorganicCarbon: water.inorganicCarbon + MILLIMOLE },
        activity(wanted),
      );
      const each = (more.charge - water.alkalinity - equivalents) / MILLIMOLE;
      give(kit.base, equivalents / Math.max(0.1, 1 - (each * inorganicCarbon) / alkalinity));
    }
  }
  return money;
}

const MILLIMOLE = 1e-3;
/** Alkalinity is raised to so much over its limit, mg/L: more of it drives the pH up. */
const ALKALINITY_OVER = 10;
/** Stabiliser is raised from here under what is kept, mg/L. */
const STABILISER_WORTH = 5;
