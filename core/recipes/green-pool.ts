import { FRESH_SHOCK } from "../dosing/labelled";
import type { PlanProduct } from "../dosing/plan/input";
import { ACID_CHLORINE_MINUTES, doseStep, type PlanStep } from "../dosing/plan/steps";
import { gramsForChange, gramsForPh } from "../dosing/single";
import { addTo } from "../products/effects";
import type { Surface } from "../ranges/range-set";
import { freeChlorineFor, HELD_BY_HOCL } from "../water/chlorine";
import { readingsOf } from "../water/equilibrium";
import { type Sample, totalsOf } from "../water/sample";
import { mostShock } from "./most-shock";
import { pick, recipeOf, task } from "./parts";
import type { Make, RecipeInput } from "./recipe";

/** Over this the stabiliser asks for more chlorine than anybody should hold: water is replaced first. mg/L */
const MOST_HELD = 30;
/**
 * pH that the water is to have while the chlorine stands in it. Liquid chlorine brings alkali until it is taken, and
 * over 10 mg/L no drop reads the pH: acid goes in before, for what is to come, but never under the low one.
 */
const PH = { from: 7.65, to: 7.5, low: 7 } as const;
/** Over this much free chlorine phenol red reads too high, mg/L. */
export const PH_READS_TO = 10;
/** Short of the level by less than this nothing is poured, mg/L. */
const WORTH_POURING = 0.5;

/**
 * Free chlorine that is held in a green pool, mg/L: what keeps the acid of a shock in this water, and a shock's usual
 * amount where hardly any stabiliser holds it back.
 * @returns null where the stabiliser asks for more than should be held
 * @example greenLevel({ ph: 7.4, cyanuricAcid: 30, temperature: 27, totalDissolvedSolids: 1000 }, "plaster") // 11.4
 */
export function greenLevel(
  water: Pick<Sample, "ph" | "cyanuricAcid" | "temperature" | "totalDissolvedSolids">,
  surface: Surface,
): number | null {
  // It is held while the pH stays where it was brought to.
  const ph = Math.min(PH.to, water.ph);
  const held = freeChlorineFor(HELD_BY_HOCL.shock, { ...water, ph });
  const level = Math.max(Math.min(FRESH_SHOCK, mostShock(surface)), held);
  return level > MOST_HELD ? null : level;
}

/** Plain chlorine: what brings stabiliser or calcium with it makes the next day's level higher. */
export const greenChlorine = (products: readonly PlanProduct[]): PlanProduct | undefined =>
  pick(products, ["sodium-hypochlorite", "calcium-hypochlorite"]);

/**
 * A day of a green pool: cleaned of what is no water, pH, chlorine to its level, brushed, filtered around the clock.
 * Its test is the next call's: what goes in is taken within the hour, and a test beside it would call a bottle weak.
 */
export const greenPool: Make = (given) => {
  const { input, setting, surface } = given;
  const { goals, water, products, litres } = input;
  if (given.bromine !== undefined) return "not-with-bromine";
  if (setting.kind === "spa") return "drain-instead";
  if (!goals.freeChlorine.known) return "needs-free";
  if (!goals.cyanuricAcid.known) return "needs-stabiliser";
  if (!goals.ph.known && water.freeChlorine <= PH_READS_TO) return "needs-readings";
  const level = greenLevel(water, surface);
  if (level === null) return "stabiliser-first";
  const raise = level - water.freeChlorine;
  const chlorine = raise > WORTH_POURING ? greenChlorine(products) : undefined;
  if (raise > WORTH_POURING && !chlorine) return "no-product";
  const grams = chlorine ? gramsForChange(chlorine, "freeChlorine", raise, litres) : 0;
  const acid = goals.ph.known ? acidStep(given, chlorine ? { ...chlorine, grams } : null) : null;
  const steps: PlanStep[] = [
    task("scoop-out", 0, ["nobody-in"]),
    ...(acid ? [acid] : []),
    ...(chlorine
      ? [
          {
            ...doseStep(chlorine, grams, litres, { ...setting, sanitiserFirst: true }),
            waitMinutes: ACID_CHLORINE_MINUTES,
          },
        ]
      : []),
    task("brush-all"),
    task("filter-around-clock"),
    task("clean-filter-by-pressure"),
    // What was killed settles: through the filter it would come back.
    task("vacuum-to-waste", 0, ["dechlorinate-drain"]),
  ];
  return recipeOf("green-pool", given, steps, { freeChlorine: level });
};

/** Acid for the pH that the water will have with the chlorine in it; null where it stays as it should be. */
function acidStep(
  { input, setting }: RecipeInput,
  chlorine: (PlanProduct & { grams: number }) | null,
): PlanStep | null {
  const { water, products, litres } = input;
  const product = pick(products, ["hydrochloric-acid", "sodium-bisulfate"]);
  const then = chlorine ? readingsOf(addTo(totalsOf(water), [chlorine], litres).totals) : water;
  if (!product || then.ph <= PH.from) return null;
  const wanted = gramsForPh(product, then, PH.to, litres);
  const most = water.ph > PH.low ? gramsForPh(product, water, PH.low, litres) : 0;
  const grams = Math.min(wanted, most);
  return grams > 0
    ? {
        ...doseStep(product, grams, litres, { ...setting, sanitiserFirst: false }),
        waitMinutes: ACID_CHLORINE_MINUTES,
      }
    : null;
}
