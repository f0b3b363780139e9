import type { Conditions } from "./constants";

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
interface Moments {
  z: number;
  c: number;
  zz: number;
  zc: number;
  cc: number;
}

function cyanurateMoments(k: Conditions["cyanurate"], h: number, x: number, out: Moments): void {
  const h2cy = k.h3cy / h;
  const hcy = (h2cy * k.h2cy) / h;
  const cy = (hcy * k.hcy) / h;
  const h2clcy = x / k.loseFirst;
  const hclcy = (h2clcy * k.h2clcy) / h;
  const clcy = (hclcy * k.hclcy) / h;
  const hcl2cy = (h2clcy * x) / k.loseSecond;
  const cl2cy = (hcl2cy * k.hcl2cy) / h;
  const cl3cy = (hcl2cy * x) / k.loseThird;
  const sum = 1 + h2cy + hcy + cy + h2clcy + hclcy + clcy + hcl2cy + cl2cy + cl3cy;
  const one = h2clcy + hclcy + clcy;
  const two = hcl2cy + cl2cy;
  const z = (h2cy + 2 * hcy + 3 * cy + hclcy + 2 * clcy + cl2cy) / sum;
  const c = (one + 2 * two + 3 * cl3cy) / sum;
  out.z = z;
  out.c = c;
  out.zz = (h2cy + 4 * hcy + 9 * cy + hclcy + 4 * clcy + cl2cy) / sum - z * z;
  out.zc = (hclcy + 2 * clcy + 2 * cl2cy) / sum - z * c;
  out.cc = (one + 4 * two + 9 * cl3cy) / sum - c * c;
}

const moments: Moments = { z: 0, c: 0, zz: 0, zc: 0, cc: 0 };

/**
 * [HOCl] that accounts for all the chlorine at {H+} = h: a Newton search on log against log, held in
 * a bracket. Leaves the moments at the answer. `guess` (mol/L) only saves steps.
 */
function hypochlorousAt(conditions: Conditions, pools: Pools, h: number, guess: number): number {
  const unbound = 1 + conditions.hypochlorous / h;
  let high = pools.chlorine / unbound;
  let low = 0;
  let x = guess > 0 && guess < high ? guess : high / (1 + pools.cyanurate / conditions.cyanurate.loseFirst);
  for (let step = 0; step < 200; step++) {
    cyanurateMoments(conditions.cyanurate, h, x, moments);
    const held = x * unbound + pools.cyanurate * moments.c;
    const miss = held - pools.chlorine;
    if (Math.abs(miss) <= 4e-16 * pools.chlorine) return x;
    if (miss > 0) high = x;
    else low = x;
    const slope = x * unbound + pools.cyanurate * moments.cc;
    const next = x * Math.exp((-Math.log1p(miss / pools.chlorine) * held) / slope);
    const better = next > low && next < high ? next : (low + high) / 2;
    if (better === x || high - low <= 4e-16 * high) return x;
    x = better;
  }
  return x;
}

/**
 * Charge of the whole water at {H+} = h, eq/L:
 * [HCO3−] + 2[CO3−−] + [OH−] − [H+] + [B(OH)4−] + [OCl−] + cyanurates.
 *
 * @param out filled in place (this runs inside every solve); `out.hypochlorous` is also the first guess
 */
export function chargeAt(conditions: Conditions, pools: Pools, h: number, out: Charge): void {
  const bicarbonate = conditions.k1 / h;
  const carbonate = (bicarbonate * conditions.k2) / h;
  const carbonSum = 1 + bicarbonate + carbonate;
  const carbonCharge = (bicarbonate + 2 * carbonate) / carbonSum;
  const carbonVariance = (bicarbonate + 4 * carbonate) / carbonSum - carbonCharge * carbonCharge;

  const hydroxide = conditions.kw / h;
  const proton = h / conditions.gamma1;
  const borateShare = conditions.boric / (conditions.boric + h);

  let charge = pools.inorganicCarbon * carbonCharge + hydroxide - proton + pools.borate * borateShare;
  let slope =
    pools.inorganicCarbon * carbonVariance +
    hydroxide +
    proton +
    pools.borate * borateShare * (1 - borateShare);

  if (pools.chlorine > 0) {
    const x = hypochlorousAt(conditions, pools, h, out.hypochlorous);
    const hypochlorite = (x * conditions.hypochlorous) / h;
    const { z, zz, zc, cc } = moments;
    const cy = pools.cyanurate;
    if (cy === 0) {
      charge += hypochlorite;
      slope += (hypochlorite * x) / (x + hypochlorite);
    } else {
      charge += hypochlorite + cy * z;
      const crossed = hypochlorite + cy * zc;
      slope += hypochlorite + cy * zz - (crossed * crossed) / (x + hypochlorite + cy * cc);
    }
    out.hypochlorous = x;
  } else {
    if (pools.cyanurate > 0) {
      cyanurateMoments(conditions.cyanurate, h, 0, moments);
      charge += pools.cyanurate * moments.z;
      slope += pools.cyanurate * moments.zz;
    }
    out.hypochlorous = 0;
  }
  out.charge = charge;
  out.slope = slope;
}
