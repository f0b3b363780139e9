import { persulfateStillReading } from "../../doubts/chlorine";
import type { OwnHabits, RecentDose } from "../../doubts/context";
import type { Readings } from "../../measure/quantity";
import type { Sanitiser } from "../../measure/sanitiser";
import { hoursSince } from "../../products/hours-since";
import { effectPerGram } from "../../products/products";
import type { Figure } from "../../uncertainty/figure";
import { asRead } from "../../water/molar";
import type { Finding } from "../findings";
import type { Notice } from "./notice";

export interface CauseInput {
  findings: readonly Finding[];
  readings: Readings;
  /** From the log, any order. */
  doses: readonly RecentDose[];
  /** Of the fill water, mg/L; null when not known. */
  fillHardness: number | null;
  sanitiser: Sanitiser;
  kind: "spa" | "pool";
  /** What the basin does by itself, by its own log; null where that was not learned. */
  habits: OwnHabits | null;
}

/** What came along with a chlorine product is worth naming from here, mg/L. */
const WORTH_NAMING = { cyanuricAcid: 3, calciumHardness: 15 } as const;
/** Alkalinity from which jets and salt cells drive the pH up noticeably, mg/L. */
const AERATION_ALKALINITY = 80;
/** pH under which a heater's copper goes into the water. */
const EATS_COPPER_BELOW = 7;
/** Fill water from this share of the hardness limit on is where the calcium comes from. */
const HARD_FILL = 0.8;

/** What the log says about why a reading is off. Probable, not proven: each is said beside its finding. */
export function causes({
  findings,
  readings,
  doses,
  fillHardness,
  sanitiser,
  kind,
  habits,
}: CauseInput): Notice[] {
  const own = (habit: keyof OwnHabits): { own?: Figure } =>
    habits && habits[habit].low > 0 ? { own: habits[habit] } : {};
  const has = (code: Finding["code"]) => findings.some((finding) => finding.code === code);
  const found: Notice[] = [];

  if (has("cyanuricAcid.high"))
    for (const product of ["trichlor", "dichlor"] as const) {
      const came = broughtBy(doses, product, (effect) => asRead.cyanurate(effect.cyanurate));
      if (came.brought >= WORTH_NAMING.cyanuricAcid)
        found.push({ code: "cause.stabiliser-from-chlorine", product, ...came, ...own("stabiliserClimb") });
    }

  const hardness = findings.find((finding) => finding.code === "calciumHardness.high");
  if (hardness) {
    const came = broughtBy(doses, "calcium-hypochlorite", (effect) => asRead.calcium(effect.calcium));
    if (came.brought >= WORTH_NAMING.calciumHardness)
      found.push({ code: "cause.calcium-from-chlorine", ...came, ...own("calciumClimb") });
    if (fillHardness !== null && fillHardness >= HARD_FILL * hardness.limit)
      found.push({
        code: "cause.calcium-from-fill",
        fill: fillHardness,
        value: hardness.value,
        ...own("calciumClimb"),
      });
  }

  const alkalinity = readings.totalAlkalinity?.value;
  if (has("ph.high") && alkalinity !== undefined && alkalinity >= AERATION_ALKALINITY)
    if (sanitiser === "salt-cell" || kind === "spa")
      found.push({
        code: "cause.ph-from-aeration",
        sanitiser: sanitiser === "salt-cell" ? "salt-cell" : "chlorine",
        totalAlkalinity: alkalinity,
        ...own("phRise"),
      });

  const persulfate = persulfateStillReading(doses).map(({ hoursAgo }) => hoursAgo);
  if (has("combinedChlorine.high") && persulfate.length > 0)
    found.push({ code: "cause.combined-from-persulfate", hoursAgo: Math.min(...persulfate) });

  const algaecide = hoursSince(doses, (product) => product === "copper-algaecide");
  if (has("copper.high") && algaecide !== null)
    found.push({ code: "cause.copper-from-algaecide", days: algaecide / 24 });
  const ph = readings.ph?.value;
  if (has("copper.high") && ph !== undefined && ph < EATS_COPPER_BELOW)
    found.push({ code: "cause.copper-from-low-ph", ph });
  const sequestrant = hoursSince(doses, (product) => product === "sequestrant");
  if (has("phosphate.high") && sequestrant !== null)
    found.push({ code: "cause.phosphate-from-sequestrant", days: sequestrant / 24 });
  return found;
}

/** What the log's doses of a product brought of a reading, mg/L, and over how many days. */
function broughtBy(
  doses: readonly RecentDose[],
  product: RecentDose["product"],
  read: (effect: ReturnType<typeof effectPerGram>) => number,
): { grams: number; days: number; brought: number } {
  const own = doses.filter((dose) => dose.product === product);
  return {
    grams: own.reduce((sum, dose) => sum + dose.grams, 0),
    days: Math.max(0, ...own.map((dose) => dose.hoursAgo)) / 24,
    brought: own.reduce((sum, dose) => sum + (read(effectPerGram(dose)) * dose.grams) / dose.litres, 0),
  };
}
