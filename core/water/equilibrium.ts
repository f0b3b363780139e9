import { InputFault, numberWithin } from "../fault";
import { type Charge, chargeAt, type Pools } from "./charge";
import { type Conditions, conditionsAt } from "./constants";
import { readingsAt, type Sample, type Totals } from "./sample";

/** pH is sought between these; a water outside is not one that anybody bathes in. */
export const PH_SEARCH = { low: 1, high: 13 } as const;

export interface Equilibrium {
  ph: number;
  /** mol/L */
  hypochlorous: number;
}

/**
 * The pH at which the charges balance the alkalinity: Newton on the charge curve, which rises with pH
 * everywhere, held in a bracket that shrinks at every step. A step that would leave the bracket is
 * replaced by halving, so it always ends.
 *
 * @param alkalinity eq/L
 * @param start first guess of the pH; only saves steps
 * @throws InputFault when no pH from 1 to 13 holds that alkalinity
 * @example solvePh(conditions, totals, totals.alkalinity).ph // 7.5
 */
export function solvePh(conditions: Conditions, pools: Pools, alkalinity: number, start = 7.5): Equilibrium {
  const at: Charge = { charge: 0, slope: 0, hypochlorous: 0 };
  let low: number = PH_SEARCH.low;
  let high: number = PH_SEARCH.high;
  let ph = start;
  for (let step = 0; step < 100; step++) {
    const h = Math.exp(-Math.LN10 * ph);
    chargeAt(conditions, pools, h, at);
    const miss = at.charge - alkalinity;
    if (miss > 0) high = ph;
    else low = ph;
    const newton = ph - miss / (at.slope * Math.LN10);
    const next = newton > low && newton < high ? newton : (low + high) / 2;
    if (Math.abs(next - ph) < 1e-13 * ph || high - low < 1e-13) {
      if (next - PH_SEARCH.low < 1e-9) throw new InputFault("too-low", "alkalinity", alkalinity, at.charge);
      if (PH_SEARCH.high - next < 1e-9) throw new InputFault("too-high", "alkalinity", alkalinity, at.charge);
      return { ph: next, hypochlorous: at.hypochlorous };
    }
    ph = next;
  }
  return { ph, hypochlorous: at.hypochlorous };
}

/** The readings of a water known by its totals: pH solved, the rest counted. */
export function readingsOf(totals: Totals): Sample {
  const conditions = conditionsAt(totals.temperature, totals.totalDissolvedSolids);
  for (const field of ["inorganicCarbon", "calcium", "cyanurate", "borate", "chlorine"] as const)
    numberWithin(field, totals[field], 0, 10);
  numberWithin("alkalinity", totals.alkalinity, -1, 10);
  return readingsAt(totals, solvePh(conditions, totals, totals.alkalinity).ph);
}
