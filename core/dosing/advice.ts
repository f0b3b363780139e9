import { InputFault } from "../fault";
import type { Finding } from "../judging/findings";
import type { Quantity, Readings } from "../measure/quantity";
import { LABELLED, LABELLED_IDS } from "../products/labels";
import { PRODUCTS, type Product, type ProductId } from "../products/products";
import { isBounded, type WaterEstimate } from "../reading/from-readings";
import type { Sample } from "../water/sample";
import { gramsForBromine, gramsForSalt } from "./by-own-rule";
import { BATHING_CHLORINE } from "./plan/goals";
import { type Portions, portionsOf } from "./portions";
import { gramsForChange, gramsForPh, type Proportional } from "./single";

/** An amount of one product for one finding. */
export interface Dose {
  kind: "dose";
  finding: Finding;
  product: ProductId;
  strength: number;
  grams: number;
  portions: Portions;
  /** What the reading should come to. */
  aim: number;
  /** The whole amount would drive the pH out of its range: this is the part that does not. */
  limitedBy?: "ph";
}

/** What to do about one finding, each reading on its own. */
export type Advice =
  | Dose
  | { kind: "replace-water"; finding: Finding; fraction: number; litres: number; aim: number }
  | { kind: "wait"; finding: Finding; aim: number | null }
  | { kind: "none"; finding: Finding; reason: NoDoseReason };

export type NoDoseReason =
  | "bounded"
  | "needs-reading"
  | "no-product"
  | "after-ph"
  | "acid-conflict"
  | "aerate-first"
  | "covered"
  | "needs-free"
  | "combined-unsure"
  | "ph-first"
  | "combined-too-much"
  | "fill-no-better"
  | "by-label"
  | "inconsistent-readings";

/** The compounds that mend a finding, in the order they are preferred when the shelf has several. */
const REMEDIES: Partial<Record<Finding["code"], readonly ProductId[]>> = {
  "freeChlorine.low": ["sodium-hypochlorite", "calcium-hypochlorite"],
  "combinedChlorine.high": ["sodium-hypochlorite", "calcium-hypochlorite"],
  "ph.low": ["sodium-carbonate"],
  "ph.high": ["hydrochloric-acid", "sodium-bisulfate"],
  "totalAlkalinity.low": ["sodium-bicarbonate"],
  "totalAlkalinity.high": ["hydrochloric-acid", "sodium-bisulfate"],
  "calciumHardness.low": ["calcium-chloride"],
  "cyanuricAcid.low": ["cyanuric-acid"],
  // An oxidiser makes bromine of the bromide that is there; unstabilised, so that nothing else comes along.
  "bromine.low": [
    "sodium-hypochlorite",
    "potassium-monopersulfate",
    "bromine-granules",
    "calcium-hypochlorite",
  ],
  "salt.low": ["sodium-chloride"],
};

/** What a product by its label is for: it says how much. */
const ANSWERED: ReadonlySet<Quantity> = new Set(LABELLED_IDS.flatMap((id) => LABELLED[id].answers));

/** Free chlorine that burns off combined chlorine: ten times as much (breakpoint). */
export const BREAKPOINT_RATIO = 10;

/** Nobody bathes over it, in any code; less of it than the whole makes the air worse. mg/L */
const MOST_BREAKPOINT = BATHING_CHLORINE;

/** Acid for alkalinity stops where the mixed pH would pass this: the foot of every range. */
const LOWEST_PH_BY_DOSE = 7.2;

export interface AdviceInput {
  findings: Finding[];
  readings: Readings;
  known: Pick<WaterEstimate, "water" | "standing" | "possible">;
  litres: number;
  products: readonly Product[];
  /** Persulfate that went in lately reads as combined chlorine. */
  combinedUnsure?: boolean;
  /** Fill water of the site, mg/L; unknown without it. */
  fill?: { calciumHardness: number };
}

/** The water that a pH dose is worked out for; none without pH and alkalinity, or with one off its scale. */
function sampleOf({ water, standing, possible }: AdviceInput["known"]): Sample | null {
  const needed = [standing.ph, standing.totalAlkalinity];
  return possible && !needed.some((one) => one === "assumed" || isBounded(one)) ? water : null;
}

/**
 * A dose for each finding, each worked on its own: the amounts do not know of one another, so one is
 * given, mixed in and retested before the next that touches the same reading.
 * @example adviseEach({ findings: [], readings: {}, known: lastWater(brought.basin, opened.readings, methodFrom(brought.kits)), litres: 40_000, products: [] }) // []
 */
export function adviseEach(input: AdviceInput): Advice[] {
  const codes = new Set(input.findings.map((finding) => finding.code));
  return input.findings.map((finding) => advise(finding, codes, input));
}

function advise(finding: Finding, codes: ReadonlySet<string>, input: AdviceInput): Advice {
  const { readings, litres } = input;
  const none = (reason: NoDoseReason): Advice => ({ kind: "none", finding, reason });

  if (finding.code === "freeChlorine.high" || finding.code === "bromine.high")
    return { kind: "wait", finding, aim: finding.aim };
  // Hot or cold water is mended by no bottle.
  if (finding.quantity === "temperature") return none("covered");
  if (ANSWERED.has(finding.quantity)) return none("by-label");
  if (finding.bound !== "within") return none("bounded");
  if (finding.code === "totalAlkalinity.high" && codes.has("ph.high")) return none("after-ph");
  if (finding.code === "totalAlkalinity.high" && codes.has("ph.low")) return none("acid-conflict");
  if (finding.code === "freeChlorine.low" && codes.has("combinedChlorine.high")) return none("covered");

  if (
    finding.code === "calciumHardness.high" ||
    finding.code === "cyanuricAcid.high" ||
    finding.code === "borate.high" ||
    finding.code === "salt.high"
  ) {
    const fill = finding.quantity === "calciumHardness" ? input.fill?.calciumHardness : 0;
    if (fill === undefined) return none("needs-reading");
    const aim = finding.limit;
    if (fill >= aim) return none("fill-no-better");
    const fraction = (finding.value - aim) / (finding.value - fill);
    return { kind: "replace-water", finding, fraction, litres: fraction * litres, aim };
  }

  const choices = REMEDIES[finding.code] ?? [];
  const product = choices
    .map((id) => input.products.find((candidate) => candidate.product === id))
    .find((candidate) => candidate !== undefined);
  if (!product) return none("no-product");

  const dose = (grams: number, aim: number): Dose => ({
    kind: "dose",
    finding,
    product: product.product,
    strength: product.strength,
    grams,
    portions: portionsOf(product, grams, litres),
    aim,
  });

  if (finding.code === "combinedChlorine.high") {
    const aim = finding.value * BREAKPOINT_RATIO;
    const free = readings.freeChlorine;
    if (input.combinedUnsure) return none("combined-unsure");
    if (free?.bound !== "within") return none("needs-free");
    if (codes.has("ph.high")) return none("ph-first");
    if (aim > MOST_BREAKPOINT) return none("combined-too-much");
    if (aim <= free.value) return { kind: "wait", finding, aim };
    return dose(gramsForChange(product, "freeChlorine", aim - free.value, litres), aim);
  }

  const aim = finding.aim ?? finding.limit;
  if (finding.code === "bromine.low") return dose(gramsForBromine(product, aim - finding.value, litres), aim);
  if (finding.code === "salt.low") return dose(gramsForSalt(product, aim - finding.value, litres), aim);
  if (finding.quantity === "ph") {
    const sample = sampleOf(input.known);
    if (!sample) return none("needs-reading");
    try {
      return dose(gramsForPh(product, sample, aim, litres), aim);
    } catch (fault) {
      if (fault instanceof InputFault) return none("inconsistent-readings");
      throw fault;
    }
  }
  const grams = gramsForChange(product, finding.quantity as Proportional, aim - finding.value, litres);
  if (finding.code !== "totalAlkalinity.high") return dose(grams, aim);

  // Acid takes alkalinity and pH down together: only as far as the pH allows, then air, then again.
  const sample = sampleOf(input.known);
  if (!sample) return none("needs-reading");
  if (sample.ph <= LOWEST_PH_BY_DOSE + 0.05) return none("aerate-first");
  const most = gramsForPh(product, sample, LOWEST_PH_BY_DOSE, litres);
  if (grams <= most) return dose(grams, aim);
  const reached = finding.value + (aim - finding.value) * (most / grams);
  return { ...dose(most, reached), limitedBy: "ph" };
}

/**
 * Whether amounts of this compound are poured (mL) or weighed.
 * @example productForm("sodium-bisulfate").form // "solid"
 */
export const productForm = (product: ProductId) => ({
  form: PRODUCTS[product].form,
  density: PRODUCTS[product].density,
});
