import { InputFault, numberWithin } from "../fault";
import {
  chargeAt,
  cyanurateMoments,
  type Moments,
  type Plain,
  type Pools,
  plainCharge,
  TRACE,
} from "./charge";
import type { Conditions } from "./constants";
import { conditionsOf, readingsAt, type Sample, type Totals } from "./sample";

/** pH is sought between these; a water outside is not one that anybody bathes in. */
const PH_SEARCH = { low: 1, high: 13 } as const;

export interface Equilibrium {
  ph: number;
  /** mol/L */
  hypochlorous: number;
}

/**
 * The pH at which the charges balance the alkalinity, and the HOCl that goes with it.
 *
 * First a Newton search in both unknowns at once, u = −ln{H+} and v = ln[HOCl]: from any usual guess
 * it ends in four or five steps. Where it does not (waters far from any pool), a Newton search on the
 * charge curve alone, which rises with pH everywhere, held in a bracket that shrinks at every step.
 *
 * @param alkalinity eq/L
 * @param start first guess of the pH; only saves steps
 * @throws InputFault when no pH from 1 to 13 holds that alkalinity
 * @example solvePh(conditions, totals, totals.alkalinity).ph // 7.5
 */
export function solvePh(conditions: Conditions, pools: Pools, alkalinity: number, start = 7.5): Equilibrium {
  return (
    solveBoth(conditions, pools, alkalinity, start) ?? solveBracketed(conditions, pools, alkalinity, start)
  );
}

/** Steps are quadratic: one under this leaves an error near the square of it. */
const SMALL_STEP = 1e-8;
const MOST_STEPS = 14;
const moments: Moments = { z: 0, c: 0, zz: 0, zc: 0, cc: 0 };
const plain: Plain = { charge: 0, slope: 0 };

function solveBoth(
  conditions: Conditions,
  pools: Pools,
  alkalinity: number,
  start: number,
): Equilibrium | null {
  const { cyanurate: cy, chlorine } = pools;
  let h = Math.exp(-Math.LN10 * start);
  let x = 0;
  if (chlorine >= TRACE) {
    // With little chlorine on it, cyanurate binds in proportion: a first guess that is near.
    cyanurateMoments(conditions.cyanurate, h, 1e-12, moments);
    x = chlorine / (1 + conditions.hypochlorous / h + (cy * moments.c) / 1e-12);
  }
  for (let step = 0; step < MOST_STEPS; step++) {
    plainCharge(conditions, pools, h, plain);
    let du: number;
    let dv = 0;
    if (x === 0) {
      cyanurateMoments(conditions.cyanurate, h, 0, moments);
      du = (alkalinity - plain.charge - cy * moments.z) / (plain.slope + cy * moments.zz);
    } else {
      cyanurateMoments(conditions.cyanurate, h, x, moments);
      const hypochlorite = (x * conditions.hypochlorous) / h;
      const held = x + hypochlorite + cy * moments.c;
      const crossed = hypochlorite + cy * moments.zc;
      const along = plain.slope + hypochlorite + cy * moments.zz;
      const across = x + hypochlorite + cy * moments.cc;
      const missed = alkalinity - plain.charge - hypochlorite - cy * moments.z;
      // On a log scale, the chlorine held is nearly straight in ln[HOCl].
      const short = held * Math.log(chlorine / held);
      const determinant = along * across - crossed * crossed;
      du = (missed * across - short * crossed) / determinant;
      dv = (short * along - missed * crossed) / determinant;
    }
    if (!(Math.abs(du) < 6 && Math.abs(dv) < 12)) return null;
    h *= Math.exp(-du);
    x *= Math.exp(dv);
    if (Math.abs(du) < SMALL_STEP && Math.abs(dv) < SMALL_STEP) {
      const ph = -Math.log10(h);
      return ph > PH_SEARCH.low && ph < PH_SEARCH.high ? { ph, hypochlorous: x } : null;
    }
  }
  return null;
}

/** The slow and certain way; see `solvePh`. */
export function solveBracketed(
  conditions: Conditions,
  pools: Pools,
  alkalinity: number,
  start: number,
): Equilibrium {
  let low: number = PH_SEARCH.low;
  let high: number = PH_SEARCH.high;
  const least = chargeAt(conditions, pools, 10 ** -low).charge;
  const most = chargeAt(conditions, pools, 10 ** -high).charge;
  if (alkalinity < least) throw new InputFault("too-low", "alkalinity", alkalinity, least);
  if (alkalinity > most) throw new InputFault("too-high", "alkalinity", alkalinity, most);
  let ph = start;
  let at = chargeAt(conditions, pools, 10 ** -ph);
  for (let step = 0; step < 200; step++) {
    const miss = at.charge - alkalinity;
    if (miss > 0) high = ph;
    else low = ph;
    const newton = ph - miss / (at.slope * Math.LN10);
    const next = newton > low && newton < high ? newton : (low + high) / 2;
    if (Math.abs(next - ph) < 1e-13 * ph || high - low < 1e-13) break;
    ph = next;
    at = chargeAt(conditions, pools, 10 ** -ph);
  }
  return { ph, hypochlorous: at.hypochlorous };
}

/**
 * The readings of a water known by its totals: pH solved, the rest counted.
 * @example readingsOf(totalsOf(water)).ph // 7.5
 */
export function readingsOf(totals: Totals): Sample {
  const conditions = conditionsOf(totals);
  for (const field of ["inorganicCarbon", "calcium", "cyanurate", "borate", "chlorine"] as const)
    numberWithin(field, totals[field], 0, 10);
  numberWithin("alkalinity", totals.alkalinity, -1, 10);
  return readingsAt(totals, solvePh(conditions, totals, totals.alkalinity).ph);
}
