import { convert } from "convert";
import type { ProductForm } from "./everyday";

/** How far the amount that is measured out may lie from the one that is meant. */
const MOST_OFF = 0.05;

const QUARTER_TSP_ML = convert(1, "teaspoon").to("millilitre") / 4; // US, 1.232 mL
/** Nobody counts out more spoons than this. */
const MOST_SPOONS = 12;

/** With what a powder is measured out where the scale's steps are coarse. */
export type SmallMeasure =
  | { by: "scale" }
  /** Level quarter teaspoons, by the loose density: about right, as cups are. */
  | { by: "spoon"; quarters: number }
  /** Neither tells it within 5 %. @property least g from which the scale does */
  | { by: "nothing"; least: number };

/**
 * Whether a scale tells a powder's amount within 5 %, and what does where it cannot.
 *
 * @param grams product as sold, more than zero
 * @param step smallest step that the scale shows, g
 * @example smallMeasure(20, { form: "solid", density: 1 }, 1) // { by: "scale" }
 * @example smallMeasure(2.4, { form: "solid", density: 0.98 }, 1) // { by: "spoon", quarters: 2 }
 * @example smallMeasure(0.07, { form: "solid", density: 1 }, 1) // { by: "nothing", least: 10 }
 */
export function smallMeasure(grams: number, { density }: ProductForm, step: number): SmallMeasure {
  // Read to the nearest step, an amount is off by half a step at most; that it happens to fall on one counts.
  if (isNear(Math.round(grams / step) * step, grams)) return { by: "scale" };
  const quarters = density === null ? 0 : Math.round(grams / density / QUARTER_TSP_ML);
  if (density !== null && quarters <= MOST_SPOONS && isNear(quarters * QUARTER_TSP_ML * density, grams))
    return { by: "spoon", quarters };
  return { by: "nothing", least: step / 2 / MOST_OFF };
}

const isNear = (measured: number, meant: number): boolean => Math.abs(measured - meant) <= meant * MOST_OFF;
