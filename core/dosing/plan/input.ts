import type { Product } from "../../products/products";
import type { Sample } from "../../water/sample";
import type { Goals } from "./goals";

/** A product that a plan may use. */
export interface PlanProduct extends Product {
  /** Names it in the answer; the same compound may stand there in two strengths. */
  key: string;
  /** Money for a kilogram as sold. */
  pricePerKg: number;
  /** Grams at hand; null for as much as it takes. */
  stock: number | null;
}

/**
 * What a plan weighs against what: money, or its worth, for each cubic metre of the basin, so that a
 * large basin and a small one with the same water get the same plan.
 */
export interface Weights {
  /** For opening one more container. */
  product: number;
  /** For half a range off the aim, where the reading is steered. */
  offAim: number;
  /** For half a range outside a limit: far more than any product costs. */
  outside: number;
  /** The same for pH and free chlorine, which no other reading is worth: they hurt people. */
  outsideUnsafe: number;
  /** For all of the water replaced, and for the trouble of draining at all. */
  replaced: number;
  replacing: number;
  /** For a mmol/L of carbon dioxide driven out (hours of jets), and for setting it up. */
  aeratedMillimole: number;
  aerating: number;
}

export const WEIGHTS: Weights = {
  product: 0.025,
  offAim: 0.5,
  outside: 50,
  outsideUnsafe: 1250,
  replaced: 5,
  replacing: 1,
  aeratedMillimole: 0.075,
  aerating: 0.05,
};

export interface PlanInput {
  water: Sample;
  litres: number;
  goals: Goals;
  products: readonly PlanProduct[];
  /** Known fill water; null when none is known, and water is then not replaced. */
  fill: Sample | null;
  /** The largest share of the water that may be replaced, 0…1. */
  mostReplaced: number;
  /** Whether aeration is to be had. */
  aeration: boolean;
  /** Whether chlorine that brings stabiliser may be chosen, where stabiliser was read and is under its aim. */
  stabilisedChlorine?: boolean;
  /** Whether the basin is fed with chlorine tablets. */
  tablets?: boolean;
  /** Whether a salt cell runs, on whose plates calcium settles. */
  cell?: boolean;
  weights: Weights;
}
