import { InputFault, numberWithin } from "../fault";
import { chargeAt, type Pools } from "./charge";
import { type Conditions, conditionsAt } from "./constants";
import { asRead, molar } from "./molar";

/** A water as a technician reads it. mg/L (CaCO3 for TA and CH, Cl2 for chlorine, B for borate), °C. */
export interface Sample {
  ph: number;
  totalAlkalinity: number;
  calciumHardness: number;
  cyanuricAcid: number;
  freeChlorine: number;
  borate: number;
  temperature: number;
  totalDissolvedSolids: number;
}

/** The same water by what is conserved in it, mol/L (eq/L for alkalinity); temperature and TDS ride along. */
export interface Totals extends Pools {
  alkalinity: number;
  calcium: number;
  temperature: number;
  totalDissolvedSolids: number;
}

/** What a sample may hold. pH where pool chemistry, and its tests, still mean something. */
export const SAMPLE_LIMITS = {
  ph: { low: 5, high: 10.5 },
  totalAlkalinity: { low: 0, high: 2000 },
  calciumHardness: { low: 0, high: 5000 },
  cyanuricAcid: { low: 0, high: 1000 },
  freeChlorine: { low: 0, high: 200 },
  borate: { low: 0, high: 500 },
  temperature: { low: 0, high: 45 },
  totalDissolvedSolids: { low: 0, high: 40_000 },
} as const satisfies Record<keyof Sample, { low: number; high: number }>;

/** Checks each reading of a sample against its limits; throws an `InputFault` for the first that breaks one. */
export function checkedSample(sample: Sample): Sample {
  for (const [field, { low, high }] of Object.entries(SAMPLE_LIMITS))
    numberWithin(field, sample[field as keyof Sample], low, high);
  return sample;
}

/** {H+} of a pH. */
export const activity = (ph: number): number => 10 ** -ph;

/** What of the titrated alkalinity is not carbonate: cyanurate, borate, hydroxide less acid. eq/L */
export function otherAlkalinity(
  conditions: Conditions,
  cyanurate: number,
  borate: number,
  ph: number,
): number {
  return chargeAt(conditions, { inorganicCarbon: 0, cyanurate, borate, chlorine: 0 }, activity(ph)).charge;
}

/** Mean charge of dissolved inorganic carbon at a pH, 0…2. */
export function carbonCharge(conditions: Conditions, ph: number): number {
  const h = activity(ph);
  const bicarbonate = conditions.k1 / h;
  const carbonate = (bicarbonate * conditions.k2) / h;
  return (bicarbonate + 2 * carbonate) / (1 + bicarbonate + carbonate);
}

/**
 * The conserved totals of a sample. Alkalinity is titrated with the chlorine destroyed, so inorganic
 * carbon follows from TA at the measured pH without chlorine; the chlorine's own charge comes on top.
 *
 * @throws InputFault when a reading is off its limits, or when the cyanurate and borate alone hold
 *   more alkalinity at this pH than was titrated (`limit` is that much, mg/L as CaCO3)
 */
export function totalsOf(sample: Sample): Totals {
  checkedSample(sample);
  const conditions = conditionsAt(sample.temperature, sample.totalDissolvedSolids);
  const cyanurate = molar.cyanurate(sample.cyanuricAcid);
  const borate = molar.borate(sample.borate);
  const chlorine = molar.chlorine(sample.freeChlorine);
  const titrated = molar.alkalinity(sample.totalAlkalinity);
  const other = otherAlkalinity(conditions, cyanurate, borate, sample.ph);
  if (titrated < other)
    throw new InputFault(
      "inconsistent",
      "totalAlkalinity",
      sample.totalAlkalinity,
      Number(asRead.alkalinity(other).toFixed(1)),
    );
  const inorganicCarbon = (titrated - other) / carbonCharge(conditions, sample.ph);
  const pools = { inorganicCarbon, cyanurate, borate, chlorine };
  return {
    ...pools,
    alkalinity: chargeAt(conditions, pools, activity(sample.ph)).charge,
    calcium: molar.calcium(sample.calciumHardness),
    temperature: sample.temperature,
    totalDissolvedSolids: sample.totalDissolvedSolids,
  };
}

/** What a technician would read in a water of these totals at this pH. */
export function readingsAt(totals: Totals, ph: number): Sample {
  const conditions = conditionsAt(totals.temperature, totals.totalDissolvedSolids);
  const titrated = chargeAt(conditions, { ...totals, chlorine: 0 }, activity(ph)).charge;
  return {
    ph,
    totalAlkalinity: asRead.alkalinity(titrated),
    calciumHardness: asRead.calcium(totals.calcium),
    cyanuricAcid: asRead.cyanurate(totals.cyanurate),
    freeChlorine: asRead.chlorine(totals.chlorine),
    borate: asRead.borate(totals.borate),
    temperature: totals.temperature,
    totalDissolvedSolids: totals.totalDissolvedSolids,
  };
}
