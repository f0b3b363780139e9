import { chargeAt, chlorineHeld, type Pools } from "../../water/charge";
import type { Conditions } from "../../water/constants";
import { activity, conditionsOf, type Totals } from "../../water/sample";
import { type Linear, linear, plus } from "./programme";

/**
 * The water after a plan, as linear expressions in its variables, mmol/L. At a fixed pH the charge is
 * linear in every total but for the chlorine that is bound to cyanurate; there it is the tangent at
 * the last pass's chlorine and cyanurate.
 */
export interface LinearTotals {
  alkalinity: Linear;
  inorganicCarbon: Linear;
  calcium: Linear;
  cyanurate: Linear;
  chlorine: Linear;
  borate: Linear;
}

/** Where the expressions are tangent. Totals in mol/L. */
export interface Reference {
  ph: number;
  cyanurate: number;
  chlorine: number;
  conditions: Conditions;
  totals: Totals;
}

export const referenceOf = (totals: Totals, ph: number): Reference => ({
  ph,
  cyanurate: totals.cyanurate,
  chlorine: totals.chlorine,
  conditions: conditionsOf(totals),
  totals,
});

/**
 * Charge (meq/L) to a unit of pH between the reference and another pH: the slope of the chord, so
 * that a distance in charge is told in pH where the reference is where the plan ends.
 */
export function chargePerPh({ conditions, totals, ph }: Reference, other: number): number {
  const apart = Math.abs(ph - other) < 1e-3 ? 1e-3 : 0;
  const at = (value: number) => chargeAt(conditions, totals, activity(value)).charge;
  return (MILLI * (at(ph + apart) - at(other))) / (ph + apart - other);
}

const MILLI = 1000;

/** Charge of cyanurate and chlorine together at one pH, tangent at the reference, meq/L. */
function boundCharge(
  { conditions, cyanurate, chlorine }: Reference,
  totals: LinearTotals,
  ph: number,
  withChlorine: boolean,
): Linear {
  const h = activity(ph);
  const at = (cy: number, cl: number): number => {
    const pools: Pools = { inorganicCarbon: 0, borate: 0, cyanurate: cy, chlorine: withChlorine ? cl : 0 };
    const water = chargeAt(conditions, { ...pools, cyanurate: 0, chlorine: 0 }, h).charge;
    return chargeAt(conditions, pools, h).charge - water;
  };
  const step = 1e-7;
  const here = at(cyanurate, chlorine);
  const alongCyanurate = (at(cyanurate + step, chlorine) - here) / step;
  const alongChlorine = withChlorine ? (at(cyanurate, chlorine + step) - here) / step : 0;
  let sum = linear(MILLI * (here - alongCyanurate * cyanurate - alongChlorine * chlorine));
  sum = plus(sum, totals.cyanurate, alongCyanurate);
  return plus(sum, totals.chlorine, alongChlorine);
}

/** The charge that alkalinity has to balance at one pH, meq/L; without its chlorine when asked. */
export function chargeExpression(
  reference: Reference,
  totals: LinearTotals,
  ph: number,
  withChlorine = true,
): Linear {
  const h = activity(ph);
  const { k1, k2, kw, gamma1, boric } = reference.conditions;
  const bicarbonate = k1 / h;
  const carbonate = (bicarbonate * k2) / h;
  const z = (bicarbonate + 2 * carbonate) / (1 + bicarbonate + carbonate);
  let sum = linear(MILLI * (kw / h - h / gamma1));
  sum = plus(sum, totals.inorganicCarbon, z);
  sum = plus(sum, totals.borate, boric / (boric + h));
  return plus(sum, boundCharge(reference, totals, ph, withChlorine));
}

/**
 * Titrated alkalinity, meq/L: all charge at the pH that results, less what the chlorine brought. Only
 * that difference is taken at the reference; the rest is the alkalinity itself.
 */
export function titratedExpression(reference: Reference, totals: LinearTotals): Linear {
  const withIt = boundCharge(reference, totals, reference.ph, true);
  const without = boundCharge(reference, totals, reference.ph, false);
  return plus(plus(totals.alkalinity, withIt, -1), without);
}

/** Free chlorine (mmol/L) that holds this much HOCl (mol/L) at the reference's pH: linear in the cyanurate. */
export function heldExpression(reference: Reference, totals: LinearTotals, hypochlorous: number): Linear {
  const h = activity(reference.ph);
  const at = (cyanurate: number) => chlorineHeld(reference.conditions, cyanurate, h, hypochlorous);
  const free = at(0);
  const one = at(1e-3) - free;
  return plus(linear(MILLI * free), totals.cyanurate, one / 1e-3);
}
