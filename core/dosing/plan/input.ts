import type { Sample } from "../../water/sample";
import type { Product } from "../products";
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

/** What a plan weighs against what. Money, or its worth. */
export interface Weights {
  /** For opening one more container. */
  product: number;
  /** For half a range off the aim in a cubic metre, where the reading was out of its range. */
  offAim: number;
  /** The same where it was inside already. */
  offAimInside: number;
  /** For half a range outside a limit: far more than any product costs. */
  outside: number;
  /** The same for pH and free chlorine, which no other reading is worth: they hurt people. */
  outsideUnsafe: number;
  /** For a cubic metre replaced, and for the trouble of draining at all. */
  replacedCubicMetre: number;
  replacing: number;
  /** For a mmol/L of carbon dioxide driven out (hours of jets), and for setting it up. */
  aeratedMillimole: number;
  aerating: number;
}

export const WEIGHTS: Weights = {
  product: 1,
  offAim: 0.5,
  offAimInside: 0.02,
  outside: 2000,
  outsideUnsafe: 50_000,
  replacedCubicMetre: 5,
  replacing: 40,
  aeratedMillimole: 3,
  aerating: 2,
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
  weights: Weights;
}
