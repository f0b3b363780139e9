import { QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import type { Sanitiser } from "../measure/sanitiser";
import { freeChlorineFor } from "../water/chlorine";
import { standIns } from "../water/stand-ins";
import { type BathingPlace, mixesLike, rangeAt, USUAL_PLACE } from "./bathing-limits";
import type { Range } from "./range";

export type { Range } from "./range";

/** A named, dated school of what is right. Data: a firm may hold its own. */
export interface RangeSet {
  id: string;
  name: string;
  /** ISO date of this edition. */
  date: string;
  /** What it stands for, in the firm's words. */
  purpose: string;
  ranges: Partial<Record<Quantity, Range>>;
  /** Ranges that differ by the basin's surface; they go before `ranges`. */
  bySurface?: Partial<Record<Surface, Partial<Record<Quantity, Range>>>>;
  /** Where the saturation index may lie. */
  saturation?: { low: number; high: number };
  /** The basin that it is asked for, see `setForBasin`; a set as it ships or is stored has none. */
  place?: BathingPlace;
}

export const SURFACES = ["plaster", "vinyl", "fibreglass", "acrylic", "tile", "concrete"] as const;
export type Surface = (typeof SURFACES)[number];

/** What the free chlorine that holds an amount of hypochlorous acid depends on. */
export interface HoldingWater {
  ph: number;
  cyanuricAcid: number;
  temperature: number;
  totalDissolvedSolids?: number;
}

/** Where a range is told without any water: the middle of what is common outdoors. */
const USUAL_WATER: HoldingWater = standIns({ kind: "pool", outdoors: true });

/** Chlorine of a pH that cannot be right would be held by none: the range is told for one of these. */
const HOLDING_PH = { low: 6.8, high: 8.4 };

/** Limits of one basin in place of its set's, by quantity. */
export type RangeOverrides = Partial<Record<Quantity, Range>>;

/** What of a basin decides how a set applies to it. */
interface RangedBasin {
  kind: string;
  indoors: boolean;
  sanitiser: Sanitiser;
  equipment?: { cellSalt?: BathingPlace["cellSalt"] } | undefined;
}

/**
 * The set as it applies to a basin: limits of its own go before every other, and none of them is laxer than what
 * anybody may bathe in there, see `rangeAt`.
 * @example setForBasin(set, basin, { ph: { low: 7.3, high: 7.7, aim: 7.5 } }).ranges.ph.aim // 7.5
 */
export function setForBasin(set: RangeSet, basin: RangedBasin, overrides: RangeOverrides | null): RangeSet {
  const place: BathingPlace = {
    kind: mixesLike(basin.kind),
    outdoors: !basin.indoors,
    sanitiser: basin.sanitiser,
    cellSalt: basin.equipment?.cellSalt ?? null,
  };
  if (!overrides || Object.keys(overrides).length === 0) return { ...set, place };
  const bySurface = Object.fromEntries(
    Object.entries(set.bySurface ?? {}).map(([surface, ranges]) => [surface, { ...ranges, ...overrides }]),
  );
  return { ...set, place, ranges: { ...set.ranges, ...overrides }, bySurface };
}

/**
 * Every range of a set as it applies to a basin of this surface with this water.
 * @example rangesOf(set, "plaster").totalAlkalinity.low // 80
 */
export const rangesOf = (
  set: RangeSet,
  surface: Surface,
  water?: HoldingWater,
): Partial<Record<Quantity, Range>> =>
  Object.fromEntries(
    QUANTITY_NAMES.flatMap((quantity) => {
      const range = rangeFor(set, quantity, surface, water);
      return range ? [[quantity, range]] : [];
    }),
  );

/**
 * The range that applies to a reading in a basin of this surface, or undefined when the set has none.
 * A range held by hypochlorous acid is told as the free chlorine that gives it in this water; none lets anybody
 * bathe where the set's place does not, see `rangeAt`.
 * @example rangeFor(set, "ph", "plaster").high // 7.8
 */
export function rangeFor(
  set: RangeSet,
  quantity: Quantity,
  surface: Surface,
  water: HoldingWater = USUAL_WATER,
): Range | undefined {
  const range = set.bySurface?.[surface]?.[quantity] ?? set.ranges[quantity];
  return rangeAt(quantity, range && toldIn(range, water), set.place ?? USUAL_PLACE);
}

/** A range in the unit of its reading, in this water. */
function toldIn(range: Range, water: HoldingWater): Range {
  const { unstabilised, heldBy, ...plain } = range;
  const limits = unstabilised && water.cyanuricAcid <= 0 ? { ...plain, ...unstabilised } : plain;
  if (heldBy !== "hypochlorous-acid") return limits;
  const holding = {
    totalDissolvedSolids: 1000,
    ...water,
    ph: Math.min(HOLDING_PH.high, Math.max(HOLDING_PH.low, water.ph)),
  };
  const told: Range = { ...limits };
  for (const limit of ["low", "high", "aim"] as const) {
    const acid = range[limit];
    if (acid !== undefined) told[limit] = Number(freeChlorineFor(acid, holding).toPrecision(6));
  }
  return told;
}
