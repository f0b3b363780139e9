import { InputFault } from "../fault";
import type { Measurement, Quantity } from "../measure/quantity";
import type { Method } from "../testing/kit";
import type { SampleSpread } from "../uncertainty/models";
import { exactly, type Spread, spreadOf } from "../uncertainty/spread";
import type { Sample } from "../water/sample";
import { type SaturationIndex, saturation } from "../water/saturation";

/** A reading with the kind of test that made it. */
export type Made = Measurement & { kind: Method["kind"] };

/** How the water stands as a whole: its saturation, and the spreads to work out how sure that is. */
export interface WaterBalance {
  water: Sample;
  spreads: SampleSpread;
  saturation: SaturationIndex;
  /** Readings that were not there, with what stands in. */
  assumed: Quantity[];
}

const STAND_INS = { cyanuricAcid: 0, freeChlorine: 0, temperature: 25, totalDissolvedSolids: 1000 } as const;

/**
 * The balance of a water from its readings; null without pH, alkalinity and hardness, with one of them
 * off its scale, or when the readings cannot belong to one water.
 */
export function balanceOf(readings: Partial<Record<Quantity, Made>>): WaterBalance | null {
  const { ph, totalAlkalinity, calciumHardness, cyanuricAcid, freeChlorine } = readings;
  if (!ph || !totalAlkalinity || !calciumHardness) return null;
  if ([ph, totalAlkalinity, calciumHardness, cyanuricAcid].some((one) => one?.bound === "at-least"))
    return null;
  if ([ph, totalAlkalinity, calciumHardness].some((one) => one.bound === "at-most")) return null;
  const assumed = (Object.keys(STAND_INS) as (keyof typeof STAND_INS)[]).filter((name) => !readings[name]);
  const orStandIn = (name: keyof typeof STAND_INS) => readings[name]?.value ?? STAND_INS[name];
  const water: Sample = {
    ph: ph.value,
    totalAlkalinity: totalAlkalinity.value,
    calciumHardness: calciumHardness.value,
    cyanuricAcid: stabiliser(cyanuricAcid),
    freeChlorine: orStandIn("freeChlorine"),
    borate: 0,
    temperature: orStandIn("temperature"),
    totalDissolvedSolids: orStandIn("totalDissolvedSolids"),
  };
  const spread = (made: Made | undefined, otherwise: number): Spread => {
    if (!made) return exactly(otherwise);
    if (made.bound === "at-most") return { low: 0, high: made.value, deviation: 0 };
    return made.bound === "at-least" ? exactly(made.value) : spreadOf(made, made.kind);
  };
  try {
    return {
      water,
      spreads: {
        ph: spread(ph, ph.value),
        totalAlkalinity: spread(totalAlkalinity, totalAlkalinity.value),
        calciumHardness: spread(calciumHardness, calciumHardness.value),
        cyanuricAcid: spread(cyanuricAcid, STAND_INS.cyanuricAcid),
        freeChlorine: spread(freeChlorine, STAND_INS.freeChlorine),
      },
      saturation: saturation(water),
      assumed,
    };
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

/** "At most 30" says it lies somewhere under: half of it is the best single number. */
const stabiliser = (made: Made | undefined): number =>
  made?.bound === "at-most" ? made.value / 2 : (made?.value ?? STAND_INS.cyanuricAcid);
