import type { Use } from "../../products/traits";
import type { Steered } from "../plan/goals";

/** The reading that a use raises; acid and base move the pH. */
export const RAISED: Partial<Record<Use, Exclude<Steered, "ph">>> = {
  alkalinity: "totalAlkalinity",
  calcium: "calciumHardness",
  stabiliser: "cyanuricAcid",
  chlorine: "freeChlorine",
};
