import type { PlanInput } from "../dosing/plan/input";
import type { Solver } from "../dosing/plan/programme";
import type { PlanStep, StepSetting } from "../dosing/plan/steps";
import type { RangeSet, Surface } from "../ranges/range-set";
import type { SampleSpread } from "../uncertainty/models";
import type { Sample } from "../water/sample";

/** Work that has its own order: more than bringing readings back into their ranges. */
export const RECIPE_IDS = [
  "fresh-fill",
  "opening",
  "breakpoint",
  "persulfate",
  "green-pool",
  "lower-stabiliser",
  "lower-calcium",
  "chlorine-too-high",
  "closing",
] as const;
export type RecipeId = (typeof RECIPE_IDS)[number];

/** Why a recipe cannot be made here and now. */
export type NoRecipe =
  | "nothing-to-do"
  | "no-product"
  | "fill-unknown"
  | "fill-no-better"
  | "needs-combined"
  | "needs-free"
  | "needs-bromine"
  | "combined-unsure"
  | "ph-first"
  | "combined-too-much"
  | "needs-readings"
  | "needs-stabiliser"
  | "stabiliser-first"
  | "not-with-bromine"
  | "drain-instead";

export interface Recipe {
  id: RecipeId;
  steps: PlanStep[];
  cost: number;
  before: Sample;
  /** What it comes to by the full equilibrium, everything given, nothing spent. */
  after: Sample;
  /** Numbers that its words need. */
  facts: RecipeFacts;
}

export interface RecipeFacts {
  /** Free chlorine that is aimed at, mg/L. */
  freeChlorine?: number;
  /** Litres of water replaced, the share of the whole, and how long the tap takes for it, hours. */
  litres?: number;
  fraction?: number;
  hours?: number;
  /** Days until chlorine has fallen by itself. */
  days?: number;
}

export interface RecipeInput {
  input: PlanInput;
  setting: StepSetting;
  set: RangeSet;
  surface: Surface;
  spreads?: SampleSpread | undefined;
  /** mg/L; null when it was not tested. */
  combinedChlorine: number | null;
  /** Read in a bromine basin, and the most that its band lets stand, mg/L; left out elsewhere. */
  bromine?: { value: number; high: number } | null | undefined;
  /** It ran off its scale, or persulfate that went in lately reads as it. */
  combinedUnsure?: boolean;
  indoors: boolean;
  /** How fast the tap fills, litres an hour. */
  fillRate: number;
  /** Label dose of the firm's persulfate oxidiser, grams a cubic metre. */
  persulfateDose: number;
}

export type Make = (given: RecipeInput, solver: Solver) => Recipe | NoRecipe;
