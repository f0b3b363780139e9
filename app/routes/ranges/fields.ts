import { QUANTITY_NAMES, type Quantity, type Range, type RangeSet, SURFACES, type Surface } from "#core";
import { typedNumber } from "../../ui/number-text";

/** A range set as a form holds it: every limit as it was typed. */

export const LIMITS = ["closeBelow", "low", "aim", "high", "closeAbove"] as const;
export type TypedRange = Record<(typeof LIMITS)[number], string>;

/** Readings that a set may judge. */
export const JUDGED: readonly Quantity[] = [
  "freeChlorine",
  "combinedChlorine",
  "bromine",
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
  "salt",
  "borate",
  "phosphate",
  "iron",
  "copper",
  "temperature",
];

export interface SetFields {
  name: string;
  purpose: string;
  /** Free chlorine is held by the acid that kills. */
  heldByAcid: boolean;
  ranges: Record<string, TypedRange>;
  /** Rows of their own for surfaces: `surface.quantity`. */
  surfaces: Record<string, TypedRange>;
  saturation: { low: string; high: string };
}

const typed = (range: Range | undefined): TypedRange =>
  Object.fromEntries(LIMITS.map((limit) => [limit, range?.[limit]?.toString() ?? ""])) as TypedRange;

export function fieldsOf(set: RangeSet): SetFields {
  return {
    name: set.name,
    purpose: set.purpose,
    heldByAcid: set.ranges.freeChlorine?.heldBy === "hypochlorous-acid",
    ranges: Object.fromEntries(JUDGED.map((quantity) => [quantity, typed(set.ranges[quantity])])),
    surfaces: Object.fromEntries(
      SURFACES.map((surface) => [surface, typed(set.bySurface?.[surface]?.calciumHardness)]),
    ),
    saturation: { low: set.saturation?.low.toString() ?? "", high: set.saturation?.high.toString() ?? "" },
  };
}

/** What was typed as a range; undefined where nothing was. A limit that is no number goes along to be named. */
function rangeFrom(fields: TypedRange): Range | undefined {
  const given = LIMITS.filter((limit) => fields[limit].trim() !== "");
  return given.length === 0
    ? undefined
    : Object.fromEntries(given.map((limit) => [limit, typedNumber(fields[limit])]));
}

/** The set as it was typed, on the basis of the one that was edited: what no field shows stays. */
export function setFrom(fields: SetFields, base: RangeSet, today: string): RangeSet {
  const ranges: RangeSet["ranges"] = {};
  for (const quantity of QUANTITY_NAMES) {
    const range = fields.ranges[quantity] ? rangeFrom(fields.ranges[quantity]) : base.ranges[quantity];
    if (!range) continue;
    const kept = base.ranges[quantity]?.unstabilised;
    ranges[quantity] = {
      ...range,
      ...(kept ? { unstabilised: kept } : {}),
      ...(quantity === "freeChlorine" && fields.heldByAcid ? { heldBy: "hypochlorous-acid" as const } : {}),
    };
  }
  const bySurface: Partial<Record<Surface, Partial<Record<Quantity, Range>>>> = {};
  for (const surface of SURFACES) {
    const { calciumHardness: _, ...others } = base.bySurface?.[surface] ?? {};
    const range = fields.surfaces[surface] ? rangeFrom(fields.surfaces[surface]) : undefined;
    const all = { ...others, ...(range ? { calciumHardness: range } : {}) };
    if (Object.keys(all).length > 0) bySurface[surface] = all;
  }
  const window = fields.saturation.low.trim() !== "" || fields.saturation.high.trim() !== "";
  return {
    id: base.id,
    name: fields.name,
    date: today,
    purpose: fields.purpose,
    ranges,
    ...(Object.keys(bySurface).length > 0 ? { bySurface } : {}),
    ...(window
      ? { saturation: { low: typedNumber(fields.saturation.low), high: typedNumber(fields.saturation.high) } }
      : {}),
  };
}
