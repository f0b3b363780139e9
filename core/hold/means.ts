import type { Between } from "../dosing/horizon/problem";
import type { FeederKind } from "../drift/habits";

/** What could keep a water right, beside what is done there today. */
export type Means =
  /** So many calls a week, at even distances. */
  | { code: "calls"; aWeek: number }
  /** A feeder or a cell, as its setting is meant to give: mg/L of chlorine a day; from null where there is none yet. */
  | { code: "feeder"; kind: Exclude<FeederKind, "none">; from: number | null; to: number }
  /** Tablets that float, in a pool without a feeder: mg/L of chlorine a day. */
  | { code: "floater"; to: number }
  /** On whenever nobody bathes. */
  | { code: "cover" }
  /** mg/L */
  | { code: "stabiliser"; level: number }
  | { code: "range-set"; id: string }
  | ({ code: "between" } & Between);

export type MeansCode = Means["code"];

/** What a cover leaves of the sun on the water, of evaporation and of the exchange with the air. */
export const COVERED = {
  // Opaque, and on four days in five of daylight.
  sun: 0.3,
  // Covers save 90 % of it while they are on (United States Department of Energy, on swimming pool covers).
  evaporation: 0.3,
  gas: 0.5,
} as const;

/** Money a month for a device over its life, its current and its wear besides its chlorine; usual prices. */
export const DEVICE_A_MONTH = { tablets: 4, saltCell: 18, pump: 12, floater: 1, cover: 8 } as const;
/** What new devices can give, mg/L of chlorine a day. */
export const DEVICE_MOST = { tablets: 4, saltCell: 5, pump: 12, floater: 2.5 } as const;
