import type { RangeSet } from "../../ranges/range-set";
import { calciteKilograms } from "../../water/saturation";
import type { WaterBalance } from "../balance";
import type { Notice } from "./notice";

/** Where a set says nothing of saturation. */
export const USUAL_WINDOW = { low: -0.3, high: 0.3 } as const;

/** Where the index lies against the set's window, and whether the correction for stabiliser decides it. */
export function saturated({ saturation, water }: WaterBalance, set: RangeSet, litres: number): Notice[] {
  const { low, high } = set.saturation ?? USUAL_WINDOW;
  const side = (index: number) => (index < low ? "low" : index > high ? "high" : "within");
  const { corrected, titrated } = saturation.full;
  if (!Number.isFinite(corrected)) return [];
  const here = side(corrected);
  const notices: Notice[] = [];
  if (here !== "within")
    notices.push({
      code: `saturation.${here}`,
      index: saturation,
      limit: here === "low" ? low : high,
      calcite: calciteKilograms(water, litres),
    });
  if (side(titrated) !== here)
    notices.push({ code: "saturation.correction-decides", index: saturation, low, high });
  return notices;
}
