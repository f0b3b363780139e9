import {
  addShares,
  CONSERVED,
  carbonDioxideAtRest,
  carbonDioxideShare,
  driveOut,
  type Treatment,
  treat,
} from "../products/effects";
import { effectPerGram, type MolarEffect, PRODUCTS, type Product } from "../products/products";
import { chargeAt, cyanurateMoments, type Moments, type Plain, plainCharge } from "../water/charge";
import type { Conditions } from "../water/constants";
import { solvePh } from "../water/equilibrium";
import { asRead, molar } from "../water/molar";
import { calciteIndex, pairedConditions } from "../water/pairs";
import { activity, carbonCharge, conditionsOf, type Sample, type Totals, totalsOf } from "../water/sample";
import type { Model } from "./propagate";
import { about, exactly, type Spread, STRENGTH_DEVIATION } from "./spread";

/**
 * Models for `propagate`: water/ and dosing/ on plain numbers, without an object a draw; a test holds
 * them to the same answers.
 */

/** Readings of which each is drawn; temperature, TDS and borate hardly scatter and stay. */
export const DRAWN_READINGS = [
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
  "freeChlorine",
] as const;
export type SampleSpread = Record<(typeof DRAWN_READINGS)[number], Spread>;

/** What is drawn around: the constants are those of this water, which a draw hardly shifts. */
type Still = Sample;

const moments: Moments = { z: 0, c: 0, zz: 0, zc: 0, cc: 0 };
const plain: Plain = { charge: 0, slope: 0 };

/** Fills `totals` from drawn readings; false when the alkalinity is less than the cyanurate explains. */
function drawTotals(conditions: Conditions, drawn: Float64Array, totals: Totals): boolean {
  const [ph = 7, alkalinity = 0, hardness = 0, cyanuric = 0, free = 0] = drawn;
  const h = activity(ph);
  totals.inorganicCarbon = 0;
  totals.cyanurate = molar.cyanurate(cyanuric);
  totals.chlorine = molar.chlorine(free);
  totals.calcium = molar.calcium(hardness);
  plainCharge(conditions, totals, h, plain);
  cyanurateMoments(conditions.cyanurate, h, 0, moments);
  const carbonate = molar.alkalinity(alkalinity) - plain.charge - totals.cyanurate * moments.z;
  if (!(carbonate > 0)) return false;
  const bicarbonate = conditions.k1 / h;
  const second = (bicarbonate * conditions.k2) / h;
  totals.inorganicCarbon = (carbonate * (1 + bicarbonate + second)) / (bicarbonate + 2 * second);
  totals.alkalinity = chargeAt(conditions, totals, h).charge;
  return true;
}

/** Titrated alkalinity at {H+} = h: all charge with the chlorine destroyed, eq/L. */
function titrated(conditions: Conditions, totals: Totals, h: number): number {
  plainCharge(conditions, totals, h, plain);
  cyanurateMoments(conditions.cyanurate, h, 0, moments);
  return plain.charge + totals.cyanurate * moments.z;
}

/** The index of drawn totals; `paired` are the constants with the pairs of the water that is drawn around. */
function indexOf(conditions: Conditions, paired: Conditions, totals: Totals, h: number): number {
  const bicarbonate = conditions.k1 / h;
  const second = (bicarbonate * conditions.k2) / h;
  const carbonate = (totals.inorganicCarbon * (bicarbonate + 2 * second)) / (1 + bicarbonate + second);
  return calciteIndex(paired, totals.calcium, carbonate, totals.sulfate, h);
}

/** The constants for the index of a water. */
function pairedIn(conditions: Conditions, totals: Totals): Conditions {
  const { ph } = solvePh(conditions, totals, totals.alkalinity);
  const carbonate = totals.inorganicCarbon * carbonCharge(conditions, ph);
  return pairedConditions(conditions, totals.calcium, carbonate, totals.sulfate, activity(ph));
}

const stillTotals = (still: Still): Totals => ({
  inorganicCarbon: 0,
  cyanurate: 0,
  borate: molar.borate(still.borate),
  chlorine: 0,
  alkalinity: 0,
  calcium: 0,
  temperature: still.temperature,
  totalDissolvedSolids: still.totalDissolvedSolids,
  salt: molar.salt(still.salt ?? 0),
  sulfate: molar.sulfate(still.sulfate ?? 0),
});

/** What the water is: saturation, killing chlorine, carbonate alkalinity. Inputs: DRAWN_READINGS. */
export function balanceModel(still: Still): Model<"saturation" | "hypochlorousAcid" | "carbonateAlkalinity"> {
  const nominal = totalsOf(still);
  const conditions = conditionsOf(nominal);
  const paired = pairedIn(conditions, nominal);
  const totals = stillTotals(still);
  return {
    outputs: ["saturation", "hypochlorousAcid", "carbonateAlkalinity"],
    run(drawn, out) {
      if (!drawTotals(conditions, drawn, totals)) return false;
      const h = activity(drawn[0] ?? 7);
      const bicarbonate = conditions.k1 / h;
      const second = (bicarbonate * conditions.k2) / h;
      out[0] = indexOf(conditions, paired, totals, h);
      out[1] = asRead.chlorine(chargeAt(conditions, totals, h).hypochlorous);
      out[2] = asRead.alkalinity(
        (totals.inorganicCarbon * (bicarbonate + 2 * second)) / (1 + bicarbonate + second),
      );
      return true;
    },
  };
}

export interface PlannedAddition extends Product {
  grams: number;
}

const EFFECT_OUTPUTS = [
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
  "freeChlorine",
  "saturation",
  "hypochlorousAcid",
] as const;
export type EffectOutput = (typeof EFFECT_OUTPUTS)[number];

const NOTHING_BESIDES: Omit<Treatment, "additions"> = {};

/**
 * What the water will be after a treatment. Inputs: DRAWN_READINGS, then litres, then one factor around 1
 * for the strength of each product. `nominal` sets the dissolved solids and the temperature that it ends with.
 */
export function effectModel(
  still: Still,
  additions: readonly PlannedAddition[],
  nominal: { water: Sample; litres: number },
  { replaced, drivenOut = 0 }: Omit<Treatment, "additions"> = NOTHING_BESIDES,
): Model<EffectOutput> {
  const before = conditionsOf(totalsOf(still));
  const planned = treat(totalsOf(nominal.water), { replaced, additions }, nominal.litres).totals;
  const after = conditionsOf(planned);
  const paired = pairedIn(after, driveOut(planned, drivenOut));
  const rest = carbonDioxideAtRest(planned.temperature);
  const effects: readonly MolarEffect[] = additions.map((addition) => effectPerGram(addition));
  const shares = new Float64Array(additions.length);
  const totals = stillTotals(still);
  const borate = totals.borate;
  // One draw's answer is near the next one's: a good place to start.
  let start = nominal.water.ph;
  return {
    outputs: EFFECT_OUTPUTS,
    run(drawn, out) {
      totals.borate = borate;
      if (!drawTotals(before, drawn, totals)) return false;
      const litres = drawn[5] as number;
      if (!(litres > 0)) return false;
      if (replaced)
        for (const key of CONSERVED) totals[key] += replaced.fraction * (replaced.fill[key] - totals[key]);
      for (let index = 0; index < additions.length; index++)
        shares[index] = ((additions[index] as PlannedAddition).grams * (drawn[6 + index] as number)) / litres;
      addShares(totals, effects, shares);
      totals.inorganicCarbon -= drivenOut;
      if (!(totals.inorganicCarbon > 0)) return false;
      let { ph, hypochlorous } = solvePh(after, totals, totals.alkalinity, start);
      let h = activity(ph);
      if (drivenOut > 0 && totals.inorganicCarbon * carbonDioxideShare(after, h) < rest) {
        // Air takes no more than down to what it holds itself.
        totals.inorganicCarbon += drivenOut;
        totals.temperature = planned.temperature;
        totals.totalDissolvedSolids = planned.totalDissolvedSolids;
        totals.inorganicCarbon = driveOut(totals, drivenOut).inorganicCarbon;
        ({ ph, hypochlorous } = solvePh(after, totals, totals.alkalinity, start));
        h = activity(ph);
      }
      start = ph;
      out[0] = ph;
      out[1] = asRead.alkalinity(titrated(after, totals, h));
      out[2] = asRead.calcium(totals.calcium);
      out[3] = asRead.cyanurate(totals.cyanurate);
      out[4] = asRead.chlorine(totals.chlorine);
      out[5] = indexOf(after, paired, totals, h);
      out[6] = asRead.chlorine(hypochlorous);
      return true;
    },
  };
}

/** The inputs of `effectModel` in its order, with the usual scatter of product strengths. */
export const effectInputs = (
  readings: SampleSpread,
  litres: Spread,
  additions: readonly PlannedAddition[],
): Spread[] => [
  ...DRAWN_READINGS.map((name) => readings[name]),
  litres,
  ...additions.map(({ product }) => about(1, STRENGTH_DEVIATION[PRODUCTS[product].form])),
];

/** Spreads of a sample that is taken as exact. */
export const exactSample = (sample: Sample): SampleSpread => ({
  ph: exactly(sample.ph),
  totalAlkalinity: exactly(sample.totalAlkalinity),
  calciumHardness: exactly(sample.calciumHardness),
  cyanuricAcid: exactly(sample.cyanuricAcid),
  freeChlorine: exactly(sample.freeChlorine),
});

/** Volume from a known dose: V = moles / (after − before). Inputs: moles, before, after (mol, mol/L). */
export const volumeModel: Model<"litres"> = {
  outputs: ["litres"],
  run(drawn, out) {
    const change = (drawn[2] as number) - (drawn[1] as number);
    out[0] = (drawn[0] as number) / change;
    return change > 0;
  },
};
