import { isKnown, type WaterEstimate } from "../reading/from-readings";
import { type SaturationIndex, saturation } from "../water/saturation";

/** How the water stands as a whole: its saturation, and what that rests on. */
export interface WaterBalance extends WaterEstimate {
  saturation: SaturationIndex;
}

/** Readings that an index cannot do without. */
const NEEDS = ["ph", "totalAlkalinity", "calciumHardness"] as const;

/**
 * The balance of a known water; null without pH, alkalinity and hardness, with one of them off its
 * scale, or when the readings cannot belong to one water. An old hardness still makes an index: it
 * is told with its age.
 */
export function balanceOf(known: WaterEstimate): WaterBalance | null {
  const { standing } = known;
  if (!known.possible || standing.cyanuricAcid === "at-least") return null;
  if (!NEEDS.every((name) => isKnown(known, name) || standing[name] === "old")) return null;
  return { ...known, saturation: saturation(known.water) };
}
