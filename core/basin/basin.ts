import type { Sanitiser } from "../measure/sanitiser";
import type { ProductId } from "../products/products";
import type { RangeOverrides, RangeSet, Surface } from "../ranges/range-set";
import { OUTDOOR_FIXED_BAND, PUBLIC_CODE_SET, SPA_WARM_WATER } from "../ranges/sets";
import type { CadenceChange } from "../schedule/cadence";
import type { CallPlan } from "../schedule/calls";

/** A body of water that is called at, and what stands around it. */
export interface Basin {
  id: string;
  name: string;
  kind: BasinKind;
  surface: Surface;
  litres: number;
  indoors: boolean;
  /** Whether others than one household bathe there; null where nobody said. */
  isPublic: boolean | null;
  sanitiser: Sanitiser;
  /** On which days it is called at, and by whom unless a round says otherwise. */
  calls: CallPlan;
  callerId: string | null;
  /** What is tested and done how often here, where it is not as in the whole firm. */
  cadence: CadenceChange | null;
  equipment: Equipment;
  note: string;
  kitId: string;
  rangeSetId: string;
  /** Limits of its own, before its set's. */
  rangeOverrides: RangeOverrides | null;
  /** Compounds that are not used here. */
  barred: ProductId[];
  /** The largest share of its water that is replaced at a time, 0…1. */
  mostReplaced: number;
  /** For pouring at a call here, minutes; null for the firm's. */
  callMinutes: number | null;
  site: {
    id: string;
    name: string;
    street: string;
    district: string;
    contact: string;
    fillAlkalinity: number | null;
    fillHardness: number | null;
    /** What its customer reads: "es-MX"; null as the browser asks. */
    language: string | null;
  };
}

/** What stands around the water; what is not known is null. */
export interface Equipment {
  pumpHours: number | null;
  /** Who bathe there on a usual day. */
  bathers: number | null;
  feeder: "none" | "tablets" | "liquid" | "salt-cell" | null;
  /** Salt cell output, g of chlorine an hour. */
  cellGrams: number | null;
  /** Salt that the plate of the cell asks for, mg/L. */
  cellSalt: { low: number; high: number } | null;
  cover: "none" | "bubble" | "slats" | "foam" | null;
}

export const NO_EQUIPMENT: Equipment = {
  pumpHours: null,
  bathers: null,
  feeder: null,
  cellGrams: null,
  cellSalt: null,
  cover: null,
};

export const BASIN_KINDS = ["pool", "spa", "plunge", "teaching", "exercise", "splash-pad"] as const;
export type BasinKind = (typeof BASIN_KINDS)[number];

/**
 * The ranges that a basin begins with, until somebody chooses others: what strangers bathe in, a hotel's or a
 * holiday let's too, has a code to keep; hot water of a household has its own.
 * @param isPublic whether others than one household bathe there
 * @example usualSetFor("spa", false).id // "spa-warm-water"
 */
export function usualSetFor(kind: BasinKind, isPublic: boolean): RangeSet {
  if (isPublic) return PUBLIC_CODE_SET;
  return kind === "spa" ? SPA_WARM_WATER : OUTDOOR_FIXED_BAND;
}
