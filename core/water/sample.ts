import { InputFault, numberWithin } from "../fault";
import { chargeAt, type Pools } from "./charge";
import { type Conditions, conditionsAt } from "./constants";
import { ionicStrength } from "./ionic-strength";
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
  /** mg/L as NaCl by the salt test; what is not known is part of the dissolved solids. */
  salt?: number;
  /** mg/L as SO4; none where it is not known. */
  sulfate?: number;
}

/** The same water by what is conserved in it, mol/L (eq/L for alkalinity); temperature and TDS ride along. */
export interface Totals extends Pools {
  alkalinity: number;
  calcium: number;
  temperature: number;
  totalDissolvedSolids: number;
  /** Sodium chloride by the salt test, mol/L; zero where none was made. */
  salt: number;
  sulfate: number;
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
} as const satisfies Record<Exclude<keyof Sample, "salt" | "sulfate">, { low: number; high: number }>;

/** What may be known besides. */
export const BESIDES_LIMITS = {
  salt: { low: 0, high: 40_000 },
  sulfate: { low: 0, high: 10_000 },
} as const satisfies Partial<Record<keyof Sample, { low: number; high: number }>>;

/** Checks each reading of a sample against its limits; throws an `InputFault` for the first that breaks one. */
export function checkedSample(sample: Sample): Sample {
  for (const [field, { low, high }] of Object.entries(SAMPLE_LIMITS))
    numberWithin(field, sample[field as keyof Sample], low, high);
  for (const [field, { low, high }] of Object.entries(BESIDES_LIMITS)) {
    const given = sample[field as keyof Sample];
    if (given !== undefined) numberWithin(field, given, low, high);
  }
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
 * @example totalsOf(water).calcium // 0.0029973
 */
export function totalsOf(sample: Sample): Totals {
  checkedSample(sample);
  const cyanurate = molar.cyanurate(sample.cyanuricAcid);
  const borate = molar.borate(sample.borate);
  const chlorine = molar.chlorine(sample.freeChlorine);
  const titrated = molar.alkalinity(sample.totalAlkalinity);
  const totals: Totals = {
    inorganicCarbon: 0,
    cyanurate,
    borate,
    chlorine,
    alkalinity: titrated,
    calcium: molar.calcium(sample.calciumHardness),
    temperature: sample.temperature,
    totalDissolvedSolids: sample.totalDissolvedSolids,
    salt: molar.salt(sample.salt ?? 0),
    sulfate: molar.sulfate(sample.sulfate ?? 0),
  };
  // The alkalinity is part of the ionic strength that it is worked out at; the two settle at once.
  for (let pass = 0; pass < MOST_SETTLING; pass++) {
    const conditions = conditionsOf(totals);
    const other = otherAlkalinity(conditions, cyanurate, borate, sample.ph);
    if (titrated < other)
      throw new InputFault(
        "inconsistent",
        "totalAlkalinity",
        sample.totalAlkalinity,
        Number(asRead.alkalinity(other).toFixed(1)),
      );
    totals.inorganicCarbon = (titrated - other) / carbonCharge(conditions, sample.ph);
    const { charge } = chargeAt(conditions, totals, activity(sample.ph));
    const apart = Math.abs(charge - totals.alkalinity);
    totals.alkalinity = charge;
    if (apart <= 1e-15) break;
  }
  return totals;
}

const MOST_SETTLING = 12;

/** The constants that hold in a water of these totals. @example conditionsOf(totals).temperature // 25 */
export const conditionsOf = (totals: Totals): Conditions =>
  conditionsAt(totals.temperature, ionicStrength(totals));

/** What a technician would read in a water of these totals at this pH. */
export function readingsAt(totals: Totals, ph: number): Sample {
  const conditions = conditionsOf(totals);
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
    ...(totals.salt > 0 ? { salt: asRead.salt(totals.salt) } : {}),
    ...(totals.sulfate > 0 ? { sulfate: asRead.sulfate(totals.sulfate) } : {}),
  };
}
