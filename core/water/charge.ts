import type { Conditions, CyanurateConstants } from "./constants";

/**
 * The charge that alkalinity balances, as a function of pH, and its slope.
 *
 * Each acid system is a sum over its species of weight × concentration (a binding polynomial). With
 * u = −ln{H+} and v = ln[HOCl], the mean charge and the mean number of bound chlorines are the
 * averages ⟨z⟩ and ⟨c⟩ over the species, and every derivative is a covariance:
 * ∂⟨z⟩/∂u = var(z), ∂⟨z⟩/∂v = ∂⟨c⟩/∂u = cov(z, c), ∂⟨c⟩/∂v = var(c).
 * Variances are positive, so charge rises with pH at fixed totals and bound chlorine with HOCl: both
 * roots are single.
 */
export interface Pools {
  /** Totals, mol/L. */
  inorganicCarbon: number;
  cyanurate: number;
  borate: number;
  chlorine: number;
}

/** Charge (eq/L) at one pH, its slope per unit of u, and the HOCl (mol/L) that goes with it. */
export interface Charge {
  charge: number;
  slope: number;
  hypochlorous: number;
}

/** Moments of the cyanurate system at {H+} = h and [HOCl] = x. */
export interface Moments {
  z: number;
  c: number;
  zz: number;
  zc: number;
  cc: number;
}

/** Fills `out` with the moments; the one place where the ten cyanurate species are weighed. */
export function cyanurateMoments(k: CyanurateConstants, h: number, x: number, out: Moments): void {
  const h2cy = k.h3cy / h;
  const hcy = (h2cy * k.h2cy) / h;
  const cy = (hcy * k.hcy) / h;
  const h2clcy = x / k.loseFirst;
  const hclcy = (h2clcy * k.h2clcy) / h;
  const clcy = (hclcy * k.hclcy) / h;
  const hcl2cy = (h2clcy * x) / k.loseSecond;
  const cl2cy = (hcl2cy * k.hcl2cy) / h;
  const cl3cy = (hcl2cy * x) / k.loseThird;
  const share = 1 / (1 + h2cy + hcy + cy + h2clcy + hclcy + clcy + hcl2cy + cl2cy + cl3cy);
  const one = h2clcy + hclcy + clcy;
  const two = hcl2cy + cl2cy;
  const z = (h2cy + 2 * hcy + 3 * cy + hclcy + 2 * clcy + cl2cy) * share;
  const c = (one + 2 * two + 3 * cl3cy) * share;
  out.z = z;
  out.c = c;
  out.zz = (h2cy + 4 * hcy + 9 * cy + hclcy + 4 * clcy + cl2cy) * share - z * z;
  out.zc = (hclcy + 2 * clcy + 2 * cl2cy) * share - z * c;
  out.cc = (one + 4 * two + 9 * cl3cy) * share - c * c;
}

const moments: Moments = { z: 0, c: 0, zz: 0, zc: 0, cc: 0 };

/** Less chlorine than this, mol/L, is none: a single molecule in a thousand litres. */
export const TRACE = 1e-27;

/** Free chlorine (mol/L) that goes with [HOCl] = x at {H+} = h: unbound, and bound to cyanurate. */
export function chlorineHeld(conditions: Conditions, cyanurate: number, h: number, x: number): number {
  if (cyanurate === 0) return x * (1 + conditions.hypochlorous / h);
  cyanurateMoments(conditions.cyanurate, h, x, moments);
  return x * (1 + conditions.hypochlorous / h) + cyanurate * moments.c;
}

/**
 * [HOCl] that accounts for all the chlorine at {H+} = h: a Newton search on log against log, held in
 * a bracket, so it always ends. Leaves the moments at the answer.
 */
export function hypochlorousAt(conditions: Conditions, pools: Pools, h: number): number {
  const unbound = 1 + conditions.hypochlorous / h;
  let high = pools.chlorine / unbound;
  if (pools.chlorine < TRACE) return 0;
  if (pools.cyanurate === 0) return high;
  let low = 0;
  let x = high / (1 + pools.cyanurate / conditions.cyanurate.loseFirst);
  for (let step = 0; step < 200; step++) {
    cyanurateMoments(conditions.cyanurate, h, x, moments);
    const held = x * unbound + pools.cyanurate * moments.c;
    const miss = held - pools.chlorine;
    if (Math.abs(miss) <= 4e-16 * pools.chlorine) return x;
    if (miss > 0) high = x;
    else low = x;
    const slope = x * unbound + pools.cyanurate * moments.cc;
    const next = x * Math.exp((-Math.log(held / pools.chlorine) * held) / slope);
    const better = next > low && next < high ? next : (low + high) / 2;
    if (better === x || high - low <= 4e-16 * high) return x;
    x = better;
  }
  return x;
}

/** Charge of carbonate, borate and water, which know nothing of chlorine, and its slope per unit of u. */
export interface Plain {
  charge: number;
  slope: number;
}

/** [HCO3−] + 2[CO3−−] + [OH−] − [H+] + [B(OH)4−] at {H+} = h, eq/L. Fills `out`. */
export function plainCharge(conditions: Conditions, pools: Pools, h: number, out: Plain): void {
  const bicarbonate = conditions.k1 / h;
  const carbonate = (bicarbonate * conditions.k2) / h;
  const share = 1 / (1 + bicarbonate + carbonate);
  const z = (bicarbonate + 2 * carbonate) * share;
  const hydroxide = conditions.kw / h;
  const proton = h / conditions.gamma1;
  const borate = conditions.boric / (conditions.boric + h);
  out.charge = pools.inorganicCarbon * z + hydroxide - proton + pools.borate * borate;
  out.slope =
    pools.inorganicCarbon * ((bicarbonate + 4 * carbonate) * share - z * z) +
    hydroxide +
    proton +
    pools.borate * borate * (1 - borate);
}

/**
 * Charge of the whole water at {H+} = h with its chlorine shared out, eq/L; its slope along u, with
 * [HOCl] following; and that [HOCl].
 */
export function chargeAt(conditions: Conditions, pools: Pools, h: number): Charge {
  const out: Charge = { charge: 0, slope: 0, hypochlorous: 0 };
  plainCharge(conditions, pools, h, out);
  const x = hypochlorousAt(conditions, pools, h);
  const hypochlorite = (x * conditions.hypochlorous) / h;
  cyanurateMoments(conditions.cyanurate, h, x, moments);
  const { z, zz, zc, cc } = moments;
  const cy = pools.cyanurate;
  out.charge += hypochlorite + cy * z;
  out.slope += hypochlorite + cy * zz;
  if (x > 0) {
    const crossed = hypochlorite + cy * zc;
    out.slope -= (crossed * crossed) / (x + hypochlorite + cy * cc);
  }
  out.hypochlorous = x;
  return out;
}
