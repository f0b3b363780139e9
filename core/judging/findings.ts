import type { Measurement, Quantity } from "../measure/quantity";
import { type HoldingWater, holdingWaterOf, type RangeSet, rangeFor, type Surface } from "./range-set";

/** A fact about one reading against the range that applies: a code with its numbers, never a sentence. */
export interface Finding {
  code: FindingCode;
  quantity: Quantity;
  value: number;
  bound: Measurement["bound"];
  /** The limit that is broken. */
  limit: number;
  /** What the set aims for, when it says. */
  aim: number | null;
  /** The basin must be closed until this reads right. */
  closes: boolean;
  /** Id of the set that says so. */
  rangeSet: string;
  /** The last test of the visit no longer has it: it was mended before anybody left. */
  settled?: boolean;
}

export type FindingCode = `${Quantity}.${"low" | "high"}`;

export type Readings = Partial<Record<Quantity, Measurement>>;

/** Running-pool order of work, after what closes the basin. */
const ORDER: readonly Quantity[] = [
  "totalAlkalinity",
  "ph",
  "calciumHardness",
  "cyanuricAcid",
  "combinedChlorine",
  "freeChlorine",
];

/**
 * Where one reading stands against its range.
 * A bounded reading breaks a limit only when the bound lies on or beyond it.
 */
export function placeInRange(
  measured: Pick<Measurement, "value" | "bound">,
  range: { low?: number; high?: number } | undefined,
): "low" | "within" | "high" {
  if (!range) return "within";
  const { value, bound } = measured;
  if (
    range.low !== undefined &&
    bound !== "at-least" &&
    (value < range.low || (bound === "at-most" && value <= range.low))
  )
    return "low";
  if (
    range.high !== undefined &&
    bound !== "at-most" &&
    (value > range.high || (bound === "at-least" && value >= range.high))
  )
    return "high";
  return "within";
}

/**
 * Judges each reading against the set, in the order in which they are to be dealt with: a sanitiser
 * below its floor and a pH over 8 come first, then the order of work of a running pool.
 */
export function findings(
  readings: Readings,
  set: RangeSet,
  surface: Surface,
  water: HoldingWater = holdingWaterOf(readings),
): Finding[] {
  const found: Finding[] = [];
  for (const quantity of ORDER) {
    const measured = readings[quantity];
    const range = rangeFor(set, quantity, surface, water);
    if (!measured || !range) continue;
    const place = placeInRange(measured, range);
    if (place === "within") continue;
    const limit = place === "low" ? range.low : range.high;
    if (limit === undefined) continue;
    found.push({
      code: `${quantity}.${place}`,
      quantity,
      value: measured.value,
      bound: measured.bound,
      limit,
      aim: range.aim ?? null,
      closes:
        (range.closeBelow !== undefined && place === "low" && measured.value < range.closeBelow) ||
        (range.closeAbove !== undefined && place === "high" && measured.value > range.closeAbove),
      rangeSet: set.id,
    });
  }
  const urgency = (finding: Finding) => {
    if (finding.code === "ph.high" && finding.value > 8) return 0;
    if (finding.code === "freeChlorine.low" && finding.closes) return 1;
    return 2;
  };
  return found.sort((a, b) => urgency(a) - urgency(b));
}
