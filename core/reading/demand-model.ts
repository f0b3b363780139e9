import { InputFault } from "../fault";
import type { Readings } from "../measure/quantity";
import type { SampleSpread } from "../uncertainty/models";
import { DROP_SIZE_DEVIATION, SAMPLE_VOLUME_DEVIATION, type Spread } from "../uncertainty/spread";
import { chargeAt } from "../water/charge";
import { crossing } from "../water/root";
import { activity, conditionsOf, type Sample, totalsOf } from "../water/sample";
import { agreement, type Estimate } from "./demand";

/**
 * Acid that takes a litre of a water to a pH in a closed vessel, by the full equilibrium; below zero it
 * is base. The demand test does the same with drops, so that the two can be held against each other.
 * Both are per litre: the basin's volume is in neither.
 *
 * @returns meq/L
 * @throws InputFault when the readings make no water
 * @example demandByModel(water, 7.4) // 0.27 for a litre at pH 8.0 and TA 100
 */
export function demandByModel(water: Sample, target: number): number {
  const totals = totalsOf(water);
  const conditions = conditionsOf(totals);
  return 1000 * (totals.alkalinity - chargeAt(conditions, totals, activity(target)).charge);
}

/** Standard deviation of a spread, in the reading's unit. */
const deviationOf = ({ low, high, deviation }: Spread): number =>
  Math.hypot((high - low) / Math.sqrt(12), ((low + high) / 2) * deviation);

const STEP = { ph: 1e-4, totalAlkalinity: 1e-2, cyanuricAcid: 1e-2 } as const;

/** The demand with its uncertainty: how far each reading's own moves it, added in squares. meq/L */
export function demandEstimate(water: Sample, spreads: SampleSpread, target: number): Estimate {
  const value = demandByModel(water, target);
  const parts = (Object.keys(STEP) as (keyof typeof STEP)[]).map((name) => {
    const slope =
      (demandByModel({ ...water, [name]: water[name] + STEP[name] }, target) - value) / STEP[name];
    return slope * deviationOf(spreads[name]);
  });
  return around(value, Math.hypot(...parts));
}

/** A count of demand drops: somewhere in its bracket, scattered by drop and sample. meq/L */
export function demandByDrops(counted: { low: number | null; high: number | null; value: number }): Estimate {
  const low = counted.low ?? counted.value;
  const high = counted.high ?? counted.value;
  const value = (low + high) / 2;
  const quantum = (high - low) / Math.sqrt(12);
  return around(value, Math.hypot(quantum, value * DROP_SIZE_DEVIATION, value * SAMPLE_VOLUME_DEVIATION));
}

const around = (value: number, deviation: number): Estimate => ({
  value,
  deviation,
  low: value - 2 * deviation,
  high: value + 2 * deviation,
});

/** Drops and model ask for different amounts of acid (or base), beyond both uncertainties. meq/L */
export interface DemandNotice {
  code: "demand.disagrees";
  quantity: "acidDemand" | "baseDemand";
  byDrops: number;
  byModel: number;
  /** How many standard deviations of both together lie between them. */
  deviations: number;
}

/** Drops and model side by side, where a demand test was made; null where there is nothing to compare. */
export function compareDemand(
  water: Sample,
  spreads: SampleSpread,
  readings: Readings,
  target: number,
): {
  quantity: DemandNotice["quantity"];
  byDrops: Estimate;
  byModel: Estimate;
  agree: boolean;
  deviations: number;
} | null {
  const quantity = readings.acidDemand ? "acidDemand" : "baseDemand";
  const counted = readings[quantity];
  if (!counted) return null;
  try {
    const acid = demandEstimate(water, spreads, target);
    const sign = quantity === "acidDemand" ? 1 : -1;
    const byModel = around(sign * acid.value, acid.deviation);
    const byDrops = demandByDrops(counted);
    const { agree, deviations } = agreement(byDrops, byModel);
    return { quantity, byDrops, byModel, agree, deviations };
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

/** The finding, where drops and model are further apart than both are unsure. */
export function demandNotices(...of: Parameters<typeof compareDemand>): DemandNotice[] {
  const beside = compareDemand(...of);
  if (!beside || beside.agree) return [];
  const { quantity, byDrops, byModel, deviations } = beside;
  return [
    {
      code: "demand.disagrees",
      quantity,
      byDrops: byDrops.value,
      byModel: byModel.value,
      deviations: Math.min(99, deviations),
    },
  ];
}

/**
 * The pH of a water whose colour ran off the scale, from the drops that brought it to the target:
 * the one at which the model asks for as much. Null when no pH from 5 to 10.5 does.
 *
 * @param demand acid in meq/L; below zero for base
 */
export function phByDemand(water: Omit<Sample, "ph">, demand: number, target: number): number | null {
  const gap = (ph: number) => {
    try {
      return demandByModel({ ...water, ph }, target) - demand;
    } catch (fault) {
      if (fault instanceof InputFault) return Number.NaN;
      throw fault;
    }
  };
  // A little past the target: no demand at all is the target itself.
  const [from, to] = demand >= 0 ? [target - 0.01, 10.4] : [5.2, target + 0.01];
  return crossing(gap, from, to, 1e-6);
}
