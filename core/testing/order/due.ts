import type { Quantity } from "../../measure/quantity";
import type { ProductId } from "../../products/products";
import type { Station } from "./stations";

/**
 * How often each test is due. Data: days between tests, 0 for every visit. Chlorine and pH on every
 * visit, combined chlorine and alkalinity weekly, hardness and stabiliser monthly. Dissolved solids are nobody's routine: a firm that wants them sets how often.
 */
export type Cadence = Partial<Record<Station, number>>;

export const CADENCE: Cadence = {
  temperature: 0,
  freeChlorine: 0,
  bromine: 0,
  ph: 0,
  combinedChlorine: 7,
  totalAlkalinity: 7,
  calciumHardness: 30,
  totalHardness: 30,
  cyanuricAcid: 30,
  salt: 30,
};

export type DueReason =
  | { because: "every-visit" }
  | { because: "never-tested" }
  | { because: "interval"; every: number; daysAgo: number }
  | { because: "out-last-time" }
  | { because: "after-product"; product: ProductId; grams: number }
  | { because: "ph-off" };

export type Due =
  | { station: Station; due: true; reason: DueReason }
  /** Days until it is; null for what is made when somebody wants it. */
  | { station: Station; due: false; nextIn: number | null };

/** What is no routine and was out of its range is asked for again after so many days: a metal goes in weeks. */
const AGAIN_DAYS = 7;

/** A weekly call falls now and then a few hours short of seven days. */
const EARLY_DAYS = 0.75;

/** Doses of these since the last test bring it forward: a month's climb at once. mg/L that they brought */
const BRINGS_FORWARD: { station: Station; products: readonly ProductId[]; grams: number }[] = [
  // per 10 000 L; calcium hypochlorite brings about 0.7 ppm hardness a ppm, tablets 0.6 ppm stabiliser
  { station: "calciumHardness", products: ["calcium-hypochlorite", "calcium-chloride"], grams: 300 },
  { station: "cyanuricAcid", products: ["trichlor", "dichlor", "cyanuric-acid"], grams: 250 },
];

export interface DueInput {
  stations: readonly Station[];
  cadence: Cadence;
  /** Days since each was last read; absent when never. */
  lastDaysAgo: Partial<Record<Quantity, number>>;
  /** Quantities that were out of range at the last visit. */
  outLastTime: ReadonlySet<Quantity>;
  /** Quantities that were out of range when they were last read, at whichever visit: for what is no routine. */
  outWhenRead: ReadonlySet<Quantity>;
  /** Doses in the log. */
  doses: readonly { product: ProductId; grams: number; daysAgo: number }[];
  litres: number;
  /** Today's pH, once it is known to lie outside its range: a demand test is then due. */
  phOff: "low" | "high" | null;
}

/**
 * Which stations stand open today, each with its reason, and when the others come round again.
 * @example dueTests({ stations: ["ph"], cadence: cadenceWith().tests, lastDaysAgo: {}, outLastTime: new Set(), outWhenRead: new Set(), doses: [], litres: 40_000, phOff: null })[0].station // "ph"
 */
export function dueTests(input: DueInput): Due[] {
  return input.stations.map((station) => dueAt(station, input));
}

function dueAt(station: Station, input: DueInput): Due {
  const due = (reason: DueReason): Due => ({ station, due: true, reason });
  const not = (nextIn: number): Due => ({ station, due: false, nextIn: Math.max(1, Math.ceil(nextIn)) });
  if (station === "acidDemand") return input.phOff === "high" ? due({ because: "ph-off" }) : not(1);
  if (station === "baseDemand") return input.phOff === "low" ? due({ because: "ph-off" }) : not(1);
  const every = input.cadence[station];
  const daysAgo = input.lastDaysAgo[station];
  if (every === 0) return due({ because: "every-visit" });
  if (every === undefined) {
    if (daysAgo === undefined || !input.outWhenRead.has(station))
      return { station, due: false, nextIn: null };
    return daysAgo >= AGAIN_DAYS - EARLY_DAYS ? due({ because: "out-last-time" }) : not(AGAIN_DAYS - daysAgo);
  }
  if (daysAgo === undefined) return due({ because: "never-tested" });
  if (input.outLastTime.has(station)) return due({ because: "out-last-time" });
  for (const { station: forStation, products, grams } of BRINGS_FORWARD) {
    if (forStation !== station) continue;
    const limit = (grams * input.litres) / 10_000;
    for (const product of products) {
      const given = input.doses
        .filter((dose) => dose.product === product && dose.daysAgo < daysAgo)
        .reduce((sum, dose) => sum + dose.grams, 0);
      if (given >= limit) return due({ because: "after-product", product, grams: given });
    }
  }
  return daysAgo >= every - EARLY_DAYS ? due({ because: "interval", every, daysAgo }) : not(every - daysAgo);
}
