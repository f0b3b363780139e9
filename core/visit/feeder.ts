import type { Basin } from "../basin/basin";
import { fedPrice, feederMost } from "../dosing/horizon/feeders";
import type { Feeder } from "../dosing/horizon/problem";
import type { PlanProduct } from "../dosing/plan/input";
import type { FeederKind } from "../drift/habits";

/** The feeder of a basin, as plans and logs take it. */

const FEEDERS: Record<string, FeederKind> = { tablets: "tablets", liquid: "pump", "salt-cell": "saltCell" };
/** A pump that nobody wrote the hours of. */
const USUAL_PUMP_HOURS = 12;

type WithFeeder = Pick<Basin, "equipment" | "sanitiser">;

/** @example feederKindOf({ equipment: NO_EQUIPMENT, sanitiser: "salt-cell" }) // "saltCell" */
export const feederKindOf = ({ equipment, sanitiser }: WithFeeder): FeederKind =>
  FEEDERS[equipment.feeder ?? ""] ?? (sanitiser === "salt-cell" ? "saltCell" : "none");

/**
 * What a plan may set; null where there is none.
 * @param now what it gives, mg/L of chlorine a day
 */
export function feederOf(
  basin: WithFeeder,
  now: number,
  litres: number,
  products: readonly PlanProduct[],
): Feeder | null {
  const kind = feederKindOf(basin);
  if (kind === "none") return null;
  const { cellGrams, pumpHours } = basin.equipment;
  const most =
    kind === "saltCell" && cellGrams !== null
      ? (cellGrams * (pumpHours ?? USUAL_PUMP_HOURS) * 1000) / litres
      : feederMost(now);
  return { kind, most: Math.max(most, now), pricePerKg: fedPrice(kind, products) };
}
