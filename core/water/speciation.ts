import { hypochlorousAt, type Pools } from "./charge";
import type { Conditions } from "./constants";
import { activity } from "./sample";

/** Concentration of every dissolved species, mol/L. Cyanurates are named by their chlorines and protons. */
export interface Species {
  carbonicAcid: number;
  bicarbonate: number;
  carbonate: number;
  proton: number;
  hydroxide: number;
  boricAcid: number;
  borate: number;
  hypochlorousAcid: number;
  hypochlorite: number;
  h3cy: number;
  h2cy: number;
  hcy: number;
  cy: number;
  h2clcy: number;
  hclcy: number;
  clcy: number;
  hcl2cy: number;
  cl2cy: number;
  cl3cy: number;
}

/**
 * What the totals are made of at a pH.
 *
 * @example speciate(conditions, totals, 7.5).hypochlorousAcid // mol/L
 */
export function speciate(conditions: Conditions, pools: Pools, ph: number): Species {
  const h = activity(ph);
  const k = conditions.cyanurate;

  const bicarbonate = conditions.k1 / h;
  const carbonate = (bicarbonate * conditions.k2) / h;
  const carbonicAcid = pools.inorganicCarbon / (1 + bicarbonate + carbonate);

  const boricAcid = (pools.borate * h) / (h + conditions.boric);

  const x = hypochlorousAt(conditions, pools, h);
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
  const h3cy = pools.cyanurate / sum;

  return {
    carbonicAcid,
    bicarbonate: carbonicAcid * bicarbonate,
    carbonate: carbonicAcid * carbonate,
    proton: h / conditions.gamma1,
    hydroxide: conditions.kw / h,
    boricAcid,
    borate: pools.borate - boricAcid,
    hypochlorousAcid: x,
    hypochlorite: (x * conditions.hypochlorous) / h,
    h3cy,
    h2cy: h3cy * h2cy,
    hcy: h3cy * hcy,
    cy: h3cy * cy,
    h2clcy: h3cy * h2clcy,
    hclcy: h3cy * hclcy,
    clcy: h3cy * clcy,
    hcl2cy: h3cy * hcl2cy,
    cl2cy: h3cy * cl2cy,
    cl3cy: h3cy * cl3cy,
  };
}
