import { effectPerGram } from "../products/products";
import { ask, type Doubt, tell } from "../testing/doubt";
import { asRead } from "../water/molar";
import type { RecentDose, TestContext } from "./context";

/** Traps 1 to 3: what chlorine, and what passes for it, does to the tests themselves. */

/** DPD bleaches from about 10 to 15 mg/L; a sum of what was there and what went in over this says it may be so. */
const BLEACHING_FROM = 8;
/** A reading under this may be a bleached one. */
const READS_AS_NONE = 1;
/** Chlorine over this turns phenol red purple. mg/L */
const PURPLE_FROM = 10;
/** How long a persulfate reads as combined chlorine. Hours; "a day or so", doubled to be safe. */
const PERSULFATE_HOURS = 48;
const CHLORINE_HOURS = 24;
const LAST_DAYS = 3;

/** The doses of persulfate recent enough to still read as combined chlorine. */
export const persulfateStillReading = (doses: readonly RecentDose[]): RecentDose[] =>
  doses.filter(
    ({ product, hoursAgo }) => product === "potassium-monopersulfate" && hoursAgo <= PERSULFATE_HOURS,
  );

/** Whether a combined chlorine read today may be persulfate. */
export const hasPersulfate = (doses: readonly RecentDose[]): boolean =>
  persulfateStillReading(doses).length > 0;

/** Free chlorine that these doses brought when they went in, mg/L. */
const chlorineBrought = (doses: readonly RecentDose[], withinHours: number): number =>
  doses
    .filter((dose) => dose.hoursAgo <= withinHours)
    .reduce(
      (sum, dose) => sum + asRead.chlorine((effectPerGram(dose).chlorine * dose.grams) / dose.litres),
      0,
    );

export function bleached({ method, result, today, last, doses, look }: TestContext): Doubt[] {
  if (!method.traps?.includes("bleaching") || !result || result.value > READS_AS_NONE) return [];
  if (method.quantity === "combinedChlorine") return [];
  const before = last.freeChlorine && last.freeChlorine.daysAgo <= LAST_DAYS ? last.freeChlorine.value : 0;
  const brought = chlorineBrought(doses, CHLORINE_HOURS);
  const other = Math.max(
    today.totalChlorine?.low ?? 0,
    today.freeChlorine?.low ?? 0,
    today.bromine?.low ?? 0,
  );
  if (brought > 0 && before + brought >= BLEACHING_FROM)
    return [ask("chlorine-bleached", { brought, before }, "dose")];
  if (before >= BLEACHING_FROM) return [ask("chlorine-bleached", { before }, "last")];
  if (other >= 5) return [ask("chlorine-bleached", { other }, "other-test")];
  if (look?.smell.includes("chloramine")) return [ask("chlorine-bleached", {}, "smell")];
  return [];
}

export function persulfate({ method, result, doses }: TestContext): Doubt[] {
  if (!method.traps?.includes("persulfate")) return [];
  const recent = persulfateStillReading(doses);
  if (recent.length === 0) return [];
  const hours = Math.min(...recent.map((dose) => dose.hoursAgo));
  return result
    ? result.value > 0
      ? [tell("result", "persulfate-in-combined", { hours })]
      : []
    : [tell("before", "persulfate-in-combined", { hours })];
}

export function purple({ method, result, today }: TestContext): Doubt[] {
  if (!method.traps?.includes("purple")) return [];
  const chlorine = Math.max(today.freeChlorine?.value ?? 0, today.totalChlorine?.value ?? 0);
  if (chlorine <= PURPLE_FROM) return [];
  return result
    ? [ask("chlorine-purples-ph", { chlorine })]
    : [tell("before", "chlorine-purples-ph", { chlorine })];
}
