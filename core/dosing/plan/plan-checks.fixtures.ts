import { expect } from "vitest";
import type { ProductId } from "../../products/products";
import { TRAITS } from "../../products/traits";
import { readingsOf } from "../../water/equilibrium";
import { type Sample, type Totals, totalsOf } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { PlanInput } from "./input";
import { ACID_CHLORINE_MINUTES, type PlanStep } from "./steps";
import type { Way } from "./way";
import type { Solved } from "./weighing";

/**
 * Checks of a plan that know nothing of how it was found: what a mole of each compound does is written
 * out here once more, from the compounds' formulas.
 */

/** g/mol or, for chlorine by its label, grams of product for a mole of Cl2 at default strength; then moles of each total. */
const BY_FORMULA: Partial<
  Record<
    ProductId,
    {
      moles: (grams: number, strength: number) => number;
      alk: number;
      dic?: number;
      ca?: number;
      cy?: number;
      cl?: number;
      tds: number;
    }
  >
> = {
  "hydrochloric-acid": { moles: (g, s) => (g * s) / 36.461, alk: -1, tds: 36.461 },
  "sodium-bisulfate": { moles: (g, s) => (g * s) / 120.06, alk: -1, tds: 120.06 },
  "sodium-bicarbonate": { moles: (g, s) => (g * s) / 84.007, alk: 1, dic: 1, tds: 84.007 },
  "sodium-carbonate": { moles: (g, s) => (g * s) / 105.988, alk: 2, dic: 1, tds: 105.988 },
  "calcium-chloride": { moles: (g, s) => (g * s) / 110.98, alk: 0, ca: 1, tds: 110.98 },
  "cyanuric-acid": { moles: (g, s) => (g * s) / 129.075, alk: 0, cy: 1, tds: 129.075 },
  "sodium-hypochlorite": { moles: (g, s) => (g * s) / 70.906, alk: 1, cl: 1, tds: 74.44 + 58.44 },
  "calcium-hypochlorite": { moles: (g, s) => (g * s) / 70.906 / 2, alk: 2, ca: 1, cl: 2, tds: 142.98 },
  dichlor: { moles: (g, s) => (g * s) / 70.906 / 2, alk: 1, cy: 1, cl: 2, tds: 219.95 },
};

/** mol/L (eq/L) that a portion brings. */
function brought(product: { product: ProductId; strength: number }, grams: number, litres: number) {
  const by = BY_FORMULA[product.product];
  if (!by) throw new Error(`nothing is known of ${product.product}`);
  const share = by.moles(grams, product.strength) / litres;
  return {
    alkalinity: by.alk * share,
    inorganicCarbon: (by.dic ?? 0) * share,
    calcium: (by.ca ?? 0) * share,
    cyanurate: (by.cy ?? 0) * share,
    chlorine: (by.cl ?? 0) * share,
    totalDissolvedSolids: by.tds * share * 1000,
  };
}

const LEEWAY = 1e-6;

/** Follows the steps portion by portion and holds every water to the safe way; gives the last one, if any. */
export function replayed(input: PlanInput, { steps, waters }: Way, seed: number): Sample | null {
  const { litres, fill } = input;
  let totals: Totals = totalsOf(input.water);
  let last: Sample | null = null;
  const start = { ...input.water, saturation: saturation(input.water).full.corrected };
  let seen = 0;
  const see = () => {
    last = readingsOf(totals);
    const index = saturation(last).full.corrected;
    expect(last.ph, `pH on the way of ${seed}`).toBeGreaterThanOrEqual(Math.min(6.8, start.ph) - LEEWAY);
    expect(last.ph, `pH on the way of ${seed}`).toBeLessThanOrEqual(Math.max(8.2, start.ph) + LEEWAY);
    if (Number.isFinite(index)) {
      expect(index, `index of ${seed}`).toBeGreaterThanOrEqual(Math.min(-1, start.saturation) - LEEWAY);
      expect(index, `index of ${seed}`).toBeLessThanOrEqual(Math.max(1, start.saturation) + LEEWAY);
    }
    expect(last.freeChlorine, `chlorine of ${seed}`).toBeLessThanOrEqual(
      Math.max(10, start.freeChlorine) + LEEWAY,
    );
    expect(waters[seen]?.ph, `told pH of ${seed}`).toBeCloseTo(last.ph, 6);
    seen++;
  };
  for (const step of steps) {
    if (step.kind === "replace-water" && fill) {
      const fresh = totalsOf(fill);
      for (const key of Object.keys(totals) as (keyof Totals)[])
        totals[key] = (1 - step.fraction) * totals[key] + step.fraction * fresh[key];
      see();
    }
    if (step.kind === "aerate") {
      totals = { ...totals, inorganicCarbon: totals.inorganicCarbon - step.millimoles / 1000 };
      see();
      expect(step.untilPh, `where air stops in ${seed}`).toBeCloseTo((last as Sample | null)?.ph ?? 0, 6);
      // Open air holds about 1.3e-5 mol/L at 27 °C; water never comes to less by air.
      expect(step.minutes).toBeGreaterThan(0);
    }
    if (step.kind !== "dose") continue;
    const product = input.products.find(({ key }) => key === step.product);
    if (!product) throw new Error(step.product);
    for (let portion = 0; portion < step.portions; portion++) {
      const part = brought(product, step.portionGrams, litres);
      totals = { ...totals };
      for (const key of Object.keys(part) as (keyof typeof part)[]) totals[key] += part[key];
      see();
    }
  }
  expect(seen, `waters told of ${seed}`).toBe(waters.length);
  return last;
}

export function keepsHardLimits(input: PlanInput, { amounts, after, missed }: Solved, seed: number): void {
  expect(amounts.replaced).toBeLessThanOrEqual(input.mostReplaced + 1e-9);
  if (!input.fill) expect(amounts.replaced).toBe(0);
  if (!input.aeration) expect(amounts.aerated).toBe(0);
  for (const product of input.products)
    if (product.stock !== null)
      expect(amounts.grams.get(product.key) ?? 0).toBeLessThanOrEqual(product.stock * (1 + 1e-6));
  // In range, or told.
  for (const quantity of ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const) {
    const { low, high } = input.goals[quantity];
    if (missed.some((miss) => miss.quantity === quantity)) continue;
    const leeway = 0.02 * (quantity === "ph" ? 0.05 : 1);
    if (low !== null) expect(after[quantity], `${quantity} of ${seed}`).toBeGreaterThan(low - leeway);
    if (high !== null) expect(after[quantity], `${quantity} of ${seed}`).toBeLessThan(high + leeway);
  }
}

const isAcid = (step: PlanStep) =>
  step.kind === "dose" && (step.compound === "hydrochloric-acid" || step.compound === "sodium-bisulfate");
const isChlorine = (step: PlanStep) =>
  step.kind === "dose" && /hypochlorite|chlor$/.test(step.compound) && step.compound !== "calcium-chloride";

/** The order, the waits and the portions that keep people safe. */
export function hasSafeSteps(
  steps: readonly PlanStep[],
  input: PlanInput,
  sanitiserFirst: boolean,
  seed: number,
): void {
  for (const step of steps) {
    if (isAcid(step) || isChlorine(step)) expect(step.cautions).toContain("acid-and-chlorine");
    if (step.kind === "replace-water")
      expect(step.cautions).toEqual(expect.arrayContaining(["hydrostatic-lift", "dechlorinate-drain"]));
    if (step.kind !== "dose") continue;
    const per40 = (step.portionGrams * 40_000) / input.litres;
    // 1 L of full-strength acid, 5 kg of bicarbonate or calcium chloride, 1 kg of soda ash in 40 m³ at a time
    if (step.compound === "hydrochloric-acid") expect(per40).toBeLessThanOrEqual(1160 * 1.0001);
    if (step.compound === "sodium-bicarbonate" || step.compound === "calcium-chloride")
      expect(per40).toBeLessThanOrEqual(5000 * 1.0001);
    if (step.compound === "sodium-carbonate") expect(per40).toBeLessThanOrEqual(1000 * 1.0001);
    expect(step.portions * step.portionGrams).toBeCloseTo(step.grams, 6);
  }
  steps.forEach((before, index) => {
    const step = steps[index + 1];
    if (step && ((isAcid(before) && isChlorine(step)) || (isChlorine(before) && isAcid(step))))
      expect(before.waitMinutes, `acid and chlorine in ${seed}`).toBeGreaterThanOrEqual(
        ACID_CHLORINE_MINUTES,
      );
  });
  const air = steps.findIndex((step) => step.kind === "aerate");
  const chlorine = steps.findIndex(isChlorine);
  if (sanitiserFirst && chlorine >= 0 && air >= 0)
    expect(chlorine, `chlorine waits for air in ${seed}`).toBeLessThan(air);
  if (steps.length > 0) expect(steps.at(-1)?.kind).toBe("retest");
}

/** What would make a technician put the book away. */
export function isNoAbsurdity(
  input: PlanInput,
  { amounts, after }: Solved,
  kind: "spa" | "pool",
  seed: number,
): void {
  const { water, goals, litres } = input;
  const used = input.products.filter(({ key }) => (amounts.grams.get(key) ?? 0) > 0);
  const ids = used.map(({ product }) => product);
  for (const never of ["trichlor", "sodium-thiosulfate", "potassium-monopersulfate", "dichlor"] as const)
    expect(ids, `${seed}`).not.toContain(never);
  if (kind === "spa") expect(ids, `${seed}`).not.toContain("cyanuric-acid");
  const of = (use: string) => used.filter(({ product }) => TRAITS[product].use === use).length;
  expect(of("acid") + of("base"), `acid and base in ${seed}`).toBeLessThanOrEqual(1);
  for (const use of ["alkalinity", "calcium", "stabiliser", "chlorine"])
    expect(of(use), `${use} twice in ${seed}`).toBeLessThanOrEqual(1);
  // A drain of a tenth at least, and for what nothing else brings down.
  if (amounts.replaced > 0) {
    expect(amounts.replaced, `drain of ${seed}`).toBeGreaterThan(0.0999);
    const over = (["calciumHardness", "cyanuricAcid"] as const).some(
      (name) => goals[name].high !== null && water[name] > (goals[name].high ?? 0),
    );
    expect(over, `drain for nothing in ${seed}`).toBe(true);
  }
  const step = { totalAlkalinity: 10, calciumHardness: 10, cyanuricAcid: 5, freeChlorine: 0.2 } as const;
  const read = {
    totalAlkalinity: 50_040,
    calciumHardness: 100_090,
    cyanuricAcid: 129_075,
    freeChlorine: 70_906,
  };
  const total = {
    totalAlkalinity: "alkalinity",
    calciumHardness: "calcium",
    cyanuricAcid: "cyanurate",
    freeChlorine: "chlorine",
  } as const;
  const raises = {
    "sodium-bicarbonate": "totalAlkalinity",
    "calcium-chloride": "calciumHardness",
    "cyanuric-acid": "cyanuricAcid",
    "sodium-hypochlorite": "freeChlorine",
    "calcium-hypochlorite": "freeChlorine",
  } as Partial<Record<ProductId, keyof typeof step>>;
  for (const product of used) {
    const name = raises[product.product];
    if (!name) continue;
    const moved = brought(product, amounts.grams.get(product.key) ?? 0, litres)[total[name]] * read[name];
    // One that had no safe order may be cut short of what a test sees.
    expect(moved, `${product.product} of ${seed} is seen by no test`).toBeGreaterThan(0.2 * step[name]);
    const low = goals[name].low;
    const inside = low === null || water[name] >= low;
    if (inside && name !== "freeChlorine")
      expect(after[name], `${name} of ${seed} was in range`).toBeLessThanOrEqual(
        water[name] + step[name] + LEEWAY,
      );
  }
}
