import { InputFault, numberWithin } from "../fault";
import { chlorineHeld } from "./charge";
import { type Conditions, conditionsAt } from "./constants";
import { ionicStrength } from "./ionic-strength";
import { asRead, MOLAR_MASS, molar } from "./molar";
import { activity, checkedSample, conditionsOf, type Sample, totalsOf } from "./sample";
import { speciate } from "./speciation";

/** Where the free chlorine of a water is, mg/L as Cl2. They add up to the reading. */
export interface ChlorineShares {
  /** The acid that kills. */
  hypochlorousAcid: number;
  hypochlorite: number;
  /** Held by cyanurate: reservoir. */
  bound: number;
}

/**
 * Shares the free chlorine of a sample out at its measured pH.
 * @example chlorineShares(water).hypochlorousAcid // 1.4603
 */
export function chlorineShares(sample: Sample): ChlorineShares {
  const totals = totalsOf(sample);
  const conditions = conditionsOf(totals);
  const species = speciate(conditions, totals, sample.ph);
  const hypochlorousAcid = asRead.chlorine(species.hypochlorousAcid);
  const hypochlorite = asRead.chlorine(species.hypochlorite);
  const bound = Math.max(0, sample.freeChlorine - hypochlorousAcid - hypochlorite);
  return { hypochlorousAcid, hypochlorite, bound };
}

/** What free chlorine is held in; the salts that are not known are taken for those of a usual water. */
type ChlorineWater = Pick<Sample, "ph" | "cyanuricAcid" | "temperature" | "totalDissolvedSolids"> &
  Partial<Sample>;

const USUAL_SALTS = { totalAlkalinity: 100, calciumHardness: 250, freeChlorine: 0, borate: 0 } as const;

/**
 * The free chlorine that holds this much HOCl in a water. No search: given HOCl, what is bound follows.
 *
 * @param hypochlorousAcid mg/L as Cl2
 * @returns mg/L as Cl2
 * @example freeChlorineFor(0.05, { ph: 7.5, cyanuricAcid: 30, temperature: 27, totalDissolvedSolids: 1000 }) // 3.5
 */
export function freeChlorineFor(hypochlorousAcid: number, water: ChlorineWater): number {
  numberWithin("hypochlorousAcid", hypochlorousAcid, 0, 100);
  const conditions = conditionsOfSome({ ...USUAL_SALTS, ...water });
  const held = chlorineHeld(
    conditions,
    molar.cyanurate(water.cyanuricAcid),
    activity(water.ph),
    molar.chlorine(hypochlorousAcid),
  );
  return asRead.chlorine(held);
}

/** Readings that cannot belong to one water still have salts: their alkalinity is taken as it was titrated. */
function conditionsOfSome(sample: Sample): Conditions {
  checkedSample(sample);
  try {
    return conditionsOf(totalsOf(sample));
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    const { calciumHardness, totalAlkalinity, totalDissolvedSolids, temperature } = sample;
    return conditionsAt(
      temperature,
      ionicStrength({
        calcium: molar.calcium(calciumHardness),
        alkalinity: molar.alkalinity(totalAlkalinity),
        sulfate: molar.sulfate(sample.sulfate ?? 0),
        salt: molar.salt(sample.salt ?? 0),
        totalDissolvedSolids,
      }),
    );
  }
}

/** Free chlorine that would hold the same HOCl without any stabiliser, mg/L as Cl2. */
export const unstabilisedEquivalent = (sample: Sample): number => {
  const { hypochlorousAcid, hypochlorite } = chlorineShares(sample);
  return hypochlorousAcid + hypochlorite;
};

/** HOCl that the school "held by HOCl" asks for, mg/L as Cl2. */
export const HELD_BY_HOCL = { floor: 0.03, aim: 0.05, shock: 0.3, saltCellFloor: 0.02 } as const;

/** The fixed-band school: one band whatever the stabiliser, which it calls wasteful above a limit. mg/L */
export const FIXED_BAND = { low: 1, high: 4, wastefulAbove: 50 } as const;

/** mg/L of bromine (Br2, 159.81 g/mol) that read as one mg/L of chlorine (Cl2, 70.91 g/mol). */
export const BROMINE_FACTOR = 2.25;
export const bromineFromChlorine = (chlorineReading: number): number =>
  numberWithin("freeChlorine", chlorineReading, 0, 200) * BROMINE_FACTOR;

/** Free chlorine at which combined chlorine breaks down is this many times as much. */
const BREAKPOINT = 10;

/** g/mol of KHSO5. Two moles of monochloramine take one: 2 NH2Cl + HSO5− → N2 + SO4−− + 2 Cl− + 3 H+ + H2O. */
const MONOPERSULFATE = 152.17;

export interface CombinedRemedies {
  /** Free chlorine to raise to, and by how much, mg/L as Cl2. */
  breakpoint: { freeChlorine: number; raise: number };
  /** Least monopersulfate by stoichiometry, mg/L of KHSO5; the label's dose is higher and goes before it. */
  monopersulfate: number;
}

/** What clears combined chlorine, either way. */
export function clearCombined(combinedChlorine: number, freeChlorine: number): CombinedRemedies {
  numberWithin("combinedChlorine", combinedChlorine, 0, 100);
  numberWithin("freeChlorine", freeChlorine, 0, 200);
  const goal = BREAKPOINT * combinedChlorine;
  return {
    breakpoint: { freeChlorine: goal, raise: Math.max(0, goal - freeChlorine) },
    monopersulfate: (combinedChlorine / MOLAR_MASS.chlorineGas / 2) * MONOPERSULFATE,
  };
}
