import type { Bound, Quantity } from "../../measure/quantity";
import type { ProductId } from "../../products/products";
import type { DemandNotice } from "../../reading/demand-model";
import type { UrgentTrouble } from "../../testing/order/look";
import type { Figure } from "../../uncertainty/figure";
import type { SaturationIndex } from "../../water/saturation";
import type { BathingReason } from "../bathing";

/**
 * What the readings say together, or the log beside them: a code with its numbers, never a sentence.
 * Findings are about one reading and its range; a notice is about the rest. `own` is what the basin does by
 * itself, by its own log: mg/L a month, pH a day.
 */
export type Notice =
  /** The basin must stay closed; it reopens once each of these reads inside its limits. */
  | { code: "basin.closed"; because: BathingReason[]; reopens: Reopening[] }
  /** Nothing says that the water may be used: it was not tested, or not looked at. */
  | { code: "basin.untested"; because: BathingReason[]; reopens: Reopening[] }
  /** What may not be left as it is. */
  | { code: "basin.urgent"; trouble: UrgentTrouble }
  /** °C */
  | { code: "water.hot" | "water.cold"; temperature: number; limit: number }
  /** A cell gives little: mg/L of salt, °C. */
  | { code: "cell.low-salt"; salt: number; least: number }
  | { code: "cell.cold"; temperature: number; limit: number }
  /** Another basin's sanitiser was read: it says nothing here. */
  | { code: "reading.other-sanitiser"; quantity: Quantity; value: number }
  /** Free chlorine is in its band, but less of it is the acid that kills than another school asks for. mg/L */
  | { code: "chlorine.weak"; hypochlorousAcid: number; floor: number; freeChlorine: number; needed: number }
  /** So much stabiliser that the fixed-band school calls the chlorine wasted, then locked. mg/L */
  | { code: "chlorine.overstabilised"; cyanuricAcid: number; limit: number; needed: number }
  | {
      code: "saturation.low" | "saturation.high";
      index: SaturationIndex;
      limit: number;
      /** Calcite that the basin would drop, kg; below zero what it could take up. */
      calcite: number;
    }
  /** Corrected for stabiliser the index says one thing, as titrated another. */
  | { code: "saturation.correction-decides"; index: SaturationIndex; low: number; high: number }
  | { code: "reading.bounded"; quantity: Quantity; value: number; bound: Exclude<Bound, "within"> }
  | { code: "reading.carried"; quantity: Quantity; value: number; daysAgo: number }
  /** A metal stains from here on. mg/L */
  | { code: "metal.stains"; quantity: "iron" | "copper"; value: number; limit: number }
  /** Food for algae. mg/L as PO4; whether the chlorine that was read keeps them away all the same. */
  | { code: "phosphate.feeds"; value: number; limit: number; isHeld: boolean }
  /** Borate holds the pH: amounts are worked out with it. mg/L as B */
  | { code: "borate.holds"; value: number }
  | DemandNotice
  | {
      code: "cause.stabiliser-from-chlorine";
      product: ProductId;
      grams: number;
      days: number;
      brought: number;
      own?: Figure;
    }
  | { code: "cause.calcium-from-fill"; fill: number; value: number; own?: Figure }
  | { code: "cause.calcium-from-chlorine"; grams: number; days: number; brought: number; own?: Figure }
  | {
      code: "cause.ph-from-aeration";
      sanitiser: "salt-cell" | "chlorine";
      totalAlkalinity: number;
      own?: Figure;
    }
  | { code: "cause.combined-from-persulfate"; hoursAgo: number }
  | { code: "cause.copper-from-algaecide"; days: number }
  | { code: "cause.copper-from-low-ph"; ph: number }
  | { code: "cause.phosphate-from-sequestrant"; days: number };

export type NoticeCode = Notice["code"];

export interface Reopening {
  quantity: Quantity;
  low: number | null;
  high: number | null;
}

/** What must be done first comes first. */
const ORDER: readonly NoticeCode[] = [
  "basin.closed",
  "basin.untested",
  "basin.urgent",
  "reading.other-sanitiser",
  "water.hot",
  "water.cold",
  "chlorine.weak",
  "chlorine.overstabilised",
  "demand.disagrees",
  "saturation.low",
  "saturation.high",
  "saturation.correction-decides",
  "cell.low-salt",
  "cell.cold",
  "metal.stains",
  "phosphate.feeds",
  "borate.holds",
  "cause.combined-from-persulfate",
  "cause.ph-from-aeration",
  "cause.stabiliser-from-chlorine",
  "cause.calcium-from-chlorine",
  "cause.calcium-from-fill",
  "cause.copper-from-algaecide",
  "cause.copper-from-low-ph",
  "cause.phosphate-from-sequestrant",
  "reading.bounded",
  "reading.carried",
];

export const inOrder = (notices: Notice[]): Notice[] =>
  notices.sort((a, b) => ORDER.indexOf(a.code) - ORDER.indexOf(b.code));
