import { balanceOf } from "../judging/balance";
import { compareDemand } from "../reading/demand-model";
import { mayActOn } from "../testing/doubt";
import { byQuantity, type OpenedVisit } from "./visit";

/**
 * Acid or base by drops and by the calculation, where drops were counted; null where there is nothing to compare.
 * @example demandAt(opened)?.agree // true
 */
export function demandAt(opened: OpenedVisit): ReturnType<typeof compareDemand> {
  const balance = balanceOf(opened.known);
  const target = opened.demandTarget;
  if (!balance || target === null) return null;
  const today = byQuantity(opened.readings.filter(({ doubts }) => mayActOn(doubts)));
  return compareDemand(balance.water, balance.spreads, today, target);
}
