import type { Range } from "../ranges/range";
import type { Kit, TitrationMethod } from "./kit";

/**
 * The standard of the pH scale to which demand drops are matched: the nearest to what the set aims for; of two
 * as near the one that the drops reach first, so that none goes past it.
 *
 * @param range of pH
 * @returns null for what is no demand test
 * @example demandTargetOf(kit, alkalinity, { low: 7.2, high: 7.8, aim: 7.5 }) // null
 */
export function demandTargetOf(kit: Kit, method: TitrationMethod, range: Range | undefined): number | null {
  if (method.target === undefined) return null;
  const aim = range?.aim;
  const scale = kit.methods.find(({ id }) => id === method.continues);
  if (aim === undefined || scale?.kind !== "comparator") return method.target;
  const reachedFirst = method.quantity === "acidDemand" ? -1 : 1;
  const byNearness = [...scale.marks].sort((a, b) => apart(a, aim) - apart(b, aim) || reachedFirst * (a - b));
  return byNearness[0] ?? method.target;
}

/** In hundredths: 7.6 − 7.5 and 7.5 − 7.4 are as far, whatever binary fractions say. */
const apart = (mark: number, aim: number): number => Math.round(Math.abs(mark - aim) * 100);
