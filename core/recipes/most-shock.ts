import type { Surface } from "../ranges/range-set";

/** Free chlorine of a shock at most, mg/L: nobody bathes over it in any code, and less where a shell would bleach. */
const MOST = 10;
const MOST_ON_LINER = 5;

/**
 * The most free chlorine that a shock may raise a basin of this surface to, mg/L.
 * @example mostShock("vinyl") // 5
 */
export const mostShock = (surface: Surface): number =>
  surface === "vinyl" || surface === "acrylic" ? MOST_ON_LINER : MOST;
