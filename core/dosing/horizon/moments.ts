import type { Sample } from "../../water/sample";
import type { Steered } from "../plan/goals";

/** The moments at which a plan looks at the water. */

/** Where the water stands: found by a call, left by it, or half way to the next. */
export interface Moment {
  kind: "found" | "after" | "mid";
  /** Of the call; half way: of the one before. */
  call: number;
}

export const MOMENTS = ["found", "after", "mid"] as const;

/** The water at each of them. */
export type Readings = Record<Moment["kind"], Sample[]>;

/** Quantiles of what may come that are looked at. */
export const QUANTILES = [0.05, 0.2, 0.5, 0.8, 0.95] as const;

/** How far the quantiles of what may come lie from what is expected, at each moment. */
export type Offsets = Record<Moment["kind"], Record<Steered, readonly number[]>[]>;
