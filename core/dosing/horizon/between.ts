import type { DriftStep } from "../../drift/drift";
import { CONSERVED } from "../../products/effects";
import { effectPerGram } from "../../products/products";
import type { Between } from "./problem";

/** A dose this near before the next call is left to whoever calls. Days */
const nearCall = (everyDays: number): number => Math.min(0.5, everyDays / 2);

/**
 * The steps of a gap with what the people there give in it: the first dose so many days after the call.
 * @param litres of the basin, by the book
 * @example withDoses(stepsOfAWeek, { product: "dichlor", strength: 0.56, grams: 5, everyDays: 2 }, 1500).filter(({ given }) => given).length // 3
 */
export function withDoses(
  steps: readonly DriftStep[],
  between: Between | null | undefined,
  litres: number,
): DriftStep[] {
  if (!between || between.grams <= 0) return [...steps];
  const effect = effectPerGram(between);
  const share = between.grams / litres;
  const given = Object.fromEntries(
    CONSERVED.map((name) => [name, effect[name] * share]),
  ) as unknown as NonNullable<DriftStep["given"]>;
  const total = steps.reduce((sum, { days }) => sum + days, 0);
  let at = 0;
  let next = between.everyDays;
  return steps.map((step) => {
    const isDue = at >= next - step.days / 2 && next < total - nearCall(between.everyDays) - 1e-9;
    at += step.days;
    if (!isDue) return step;
    next += between.everyDays;
    return { ...step, given };
  });
}

/** How often a dose is given in so many days without a call. @example dosesIn(7, 2) // 3 */
export const dosesIn = (days: number, everyDays: number): number =>
  Math.max(0, Math.ceil((days - nearCall(everyDays)) / everyDays - 1e-9) - 1);
