import type { StraightDrift } from "../../learning/straight-drift";
import type { Goal, Steered } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import type { Reference } from "../plan/linearise";
import type { Ahead } from "./ahead";
import type { Allowed } from "./allowed";

/** What a pass of the programme is asked, and what one pass hands to the next. */

/** What one pass hands to the next. */
export interface Tangent {
  /** Of the water at each call, as it is found and after what is given. */
  found: Reference[];
  after: Reference[];
  aired: Reference[];
  /** One for each gap. */
  drifts: StraightDrift[];
  fed: number;
}

/** How far inside its limits a reading is to stand, so that it holds nine times in ten: at each call, as found and after. */
export type Margins = Record<Steered, { low: number; high: number }>;

/** Money, or its worth, for each cubic metre, as the still plan's; see `Weights`. */
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
  /** The same for a pH that acid brings down today: a test would find it under, and somebody would pour the other way. */
  overshoot: 1000,
  /** The same for chlorine over its floor, which makes people ill, and for what is under it. */
  unsureFloor: 5,
  underFloor: 1000,
  outside: 8,
  outsideUnsafe: 200,
} as const;
export type HorizonWeights = { [name in keyof typeof HORIZON_WEIGHTS]: number };

export interface Asked {
  ahead: Ahead;
  input: PlanInput;
  weights: HorizonWeights;
  allowed: Allowed;
  /** Free chlorine to hold at each call, as found and after. */
  chlorine: { found: Goal[]; after: Goal[] };
  margins: { found: Margins[]; after: Margins[] };
  /** For today's pours; null for as long as it takes. */
  minutes: number | null;
  /** Most of each product today, g. */
  caps: ReadonlyMap<string, number>;
}
