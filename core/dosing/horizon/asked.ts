import type { LinearizedDrift } from "../../learning/linearized-drift";
import type { Goal } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import type { Reference } from "../plan/linearise";
import type { Ahead } from "./ahead";
import type { Allowed } from "./allowed";
import type { Moment, Offsets } from "./moments";

/** What a pass of the programme is asked, and what one pass hands to the next. */

/** What one pass hands to the next. */
export interface Tangent {
  /** Of the water at each call, as it is found and after what is given. */
  found: Reference[];
  after: Reference[];
  aired: Reference[];
  /** Half way over each gap. */
  mid: Reference[];
  /** One for each gap. */
  drifts: LinearizedDrift[];
  fed: number;
}

/** Money, or its worth, for each cubic metre; what is outside is for half a range and a week of it. */
export const HORIZON_WEIGHTS = {
  /** For opening a container today, and for setting the feeder anew. */
  product: 0.025,
  setting: 0.02,
  /** For half a range off the aim of what is steered, at each call. */
  offAim: 0.06,
  /** For a mmol/L of carbon dioxide driven out. */
  aired: 0.15,
  /** For half a range inside the limit but not surely so. */
  unsure: 0.6,
  /** For a pH that acid brings down today: a test would find it under, and somebody would pour the other way. */
  overshoot: 1000,
  /** Chlorine under its floor makes people ill; over its limit it bleaches and stings, and nobody pours it there. */
  underFloor: 1000,
  overChlorine: 300,
  pouredOver: 20_000,
  ph: 120,
  /** Alkalinity, calcium and stabiliser, at a call. */
  outside: 16,
  /** The index three tenths beyond what neither scales nor eats. */
  saturation: 10,
} as const;
export type HorizonWeights = { [name in keyof typeof HORIZON_WEIGHTS]: number };

export interface Asked {
  ahead: Ahead;
  input: PlanInput;
  weights: HorizonWeights;
  allowed: Allowed;
  /** Free chlorine to hold at each moment. */
  chlorine: Record<Moment["kind"], Goal[]>;
  offsets: Offsets;
  /** How far over its limit today's pours have to leave the pH, so that it holds nine times in ten. */
  sureLow: number;
  /** For today's pours; null for as long as it takes. */
  minutes: number | null;
  /** Most of each product today, g. */
  caps: ReadonlyMap<string, number>;
}
