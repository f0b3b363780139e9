import type { Quantity } from "../measure/quantity";
import type { Sanitiser } from "../measure/sanitiser";
import type { Range } from "./range";

/**
 * Limits under or over which nobody bathes, whatever a range set says: a set, a firm's own too, may close a
 * basin sooner and never later. The figures are those of the United States' Model Aquatic Health Code (MAHC,
 * 2023), the code that most states' rules follow; a stricter local code is a set of the firm's own.
 */

/** The basin that limits are asked for. */
export interface BathingPlace {
  kind: "spa" | "pool";
  outdoors: boolean;
  /** Null where nobody said: every sanitiser that was read is judged then. */
  sanitiser: Sanitiser | null;
  /** Salt that the cell's plate asks for, mg/L; null where nobody wrote it down. */
  cellSalt?: { low: number; high: number } | null;
}

/** Where nothing is said of a basin. */
export const USUAL_PLACE: BathingPlace = { kind: "pool", outdoors: true, sanitiser: null };

/**
 * Jets mix a spa in minutes, and people sit in it hot; everything else takes a turnover.
 * @example mixesLike("plunge") // "pool"
 */
export const mixesLike = (kind: string | undefined): "spa" | "pool" => (kind === "spa" ? "spa" : "pool");

interface Limits {
  /** Nobody bathes under it. */
  floor?: number;
  /** Nobody bathes over it. */
  ceiling?: number;
  /** Where a set's upper limit would lie under the floor, this stands in. */
  high?: number;
}

/** mg/L as Cl2. MAHC: at least 1.0 in pools, 3.0 in spas; at most 10. Upper: the fixed band's, the spa set's. */
const FREE_CHLORINE: Record<BathingPlace["kind"], Limits> = {
  pool: { floor: 1, ceiling: 10, high: 4 },
  spa: { floor: 3, ceiling: 10, high: 5 },
};
/** mg/L as Br2. MAHC: at least 3.0 in pools, 4.0 in spas; at most 8. */
const BROMINE: Record<BathingPlace["kind"], Limits> = {
  pool: { floor: 3, ceiling: 8, high: 6 },
  spa: { floor: 4, ceiling: 8, high: 6 },
};
/** MAHC: 7.0 to 7.8 to run by; over 8.0 it counts as an imminent hazard. */
const PH: Limits = { floor: 7, ceiling: 8 };
/** 40 °C (104 °F): MAHC for spas, and the limit that heaters of hot tubs are built to (UL 1563). */
export const HOTTEST_BATH = 40;
/** °C: under it the gasp of cold shock is usual (United States National Center for Cold Water Safety, 15 °C). */
export const COLD_SHOCK = 15;

/** Bromine where a set has none of its own, mg/L: a drop of a 10 mL sample (1.1) above the floor, and up to 6. */
const BROMINE_RANGE: Record<BathingPlace["kind"], Range> = {
  pool: { low: 4, high: 6, aim: 5 },
  spa: { low: 4.5, high: 6, aim: 5.5 },
};
/** Most plates ask for 2700 to 3400 mg/L, best at 3200; the basin's own plate outranks it. */
const CELL_SALT: Range = { low: 2700, high: 3400, aim: 3200 };

/**
 * The most of what no set has to name, mg/L. None of it closes a basin: it stains, feeds algae or holds the pH.
 * A set's own limit goes before it.
 */
const USUAL_MOST: Partial<Record<Quantity, Range>> = {
  // As boron: the most that labels of borate ask for; where it is used at all, 30 to 50.
  borate: { high: 50 },
  // As PO4. The trade's usual line for a remover; chlorine that is held keeps algae away over it, too.
  phosphate: { high: 0.5 },
  // Stain and taste: secondary drinking water level, United States, 40 CFR 143.3.
  iron: { high: 0.3 },
  // The trade's usual line for stains and green hair; a tap's own level (40 CFR 143.3) is 1.0.
  copper: { high: 0.3 },
};

function limitsOf(quantity: Quantity, { kind }: BathingPlace): Limits {
  switch (quantity) {
    case "freeChlorine":
      return FREE_CHLORINE[kind];
    case "bromine":
      return BROMINE[kind];
    case "ph":
      return PH;
    case "temperature":
      return { ceiling: HOTTEST_BATH };
    default:
      return {};
  }
}

/** Whether stabiliser has a use, and may be there at all: under the sun, in a pool. The MAHC bars it indoors and in spas. */
export const mayHoldStabiliser = ({ kind, outdoors }: Pick<BathingPlace, "kind" | "outdoors">): boolean =>
  kind === "pool" && outdoors;

/** What is not read here: another basin's sanitiser. */
const isForeign = (quantity: Quantity, { sanitiser }: BathingPlace): boolean => {
  if (sanitiser === null) return false;
  if (quantity === "bromine") return sanitiser !== "bromine";
  if (quantity === "salt") return sanitiser !== "salt-cell";
  const isChlorine =
    quantity === "freeChlorine" || quantity === "combinedChlorine" || quantity === "totalChlorine";
  return isChlorine && sanitiser === "bromine";
};

/** The range that a place asks for itself, where its set says nothing. */
function usualRange(quantity: Quantity, { kind, sanitiser, cellSalt }: BathingPlace): Range | undefined {
  if (quantity === "bromine") return BROMINE_RANGE[kind];
  if (quantity === "temperature") return {};
  if (quantity === "salt" && sanitiser === "salt-cell")
    return cellSalt ? { ...cellSalt, aim: (cellSalt.low + cellSalt.high) / 2 } : CELL_SALT;
  return USUAL_MOST[quantity];
}

/**
 * The range of a set, or none, as it may stand at a place.
 * @example rangeAt("ph", { low: 7.2, high: 7.8, closeAbove: 8.4 }, USUAL_PLACE).closeAbove // 8
 */
export function rangeAt(
  quantity: Quantity,
  range: Range | undefined,
  place: BathingPlace,
): Range | undefined {
  if (isForeign(quantity, place)) return undefined;
  // The plate of the cell speaks of this very basin.
  const own = quantity === "salt" && place.cellSalt ? undefined : range;
  const standing = own ?? usualRange(quantity, place);
  if (!standing) return undefined;
  if (quantity === "cyanuricAcid" && !mayHoldStabiliser(place)) {
    const { low: _, aim: __, ...rest } = standing;
    return rest;
  }
  return within(standing, limitsOf(quantity, place));
}

/**
 * A band inside the limits for bathing: closed no later than they ask, and no limit on the wrong side of one
 * that closes. A band that lies wholly under its floor is given the usual one above it.
 * @example within({ low: 0.07, high: 0.19, aim: 0.12 }, { floor: 1, ceiling: 10, high: 4 }) // { low: 1, high: 4, aim: 2.5, closeBelow: 1, closeAbove: 10 }
 */
export function within(range: Range, { floor, ceiling, high: usualHigh }: Limits): Range {
  const closeAbove = least(range.closeAbove, ceiling);
  const foot = most(range.closeBelow, floor);
  const closeBelow = foot === undefined ? undefined : least(foot, closeAbove);
  const inside = (value: number) =>
    Math.min(closeAbove ?? Number.POSITIVE_INFINITY, Math.max(closeBelow ?? Number.NEGATIVE_INFINITY, value));
  const low = range.low === undefined ? undefined : inside(range.low);
  const isUnder = range.high !== undefined && closeBelow !== undefined && range.high <= closeBelow;
  const top = isUnder ? Math.max(usualHigh ?? 0, 2 * (closeBelow ?? 0)) : range.high;
  const high = top === undefined ? undefined : inside(Math.max(top, low ?? top));
  const middle = low !== undefined && high !== undefined ? (low + high) / 2 : undefined;
  const isAtEdge =
    range.aim !== undefined &&
    ((low !== undefined && range.aim <= low) || (high !== undefined && range.aim >= high));
  const aim =
    range.aim === undefined ? undefined : isAtEdge && middle !== undefined ? middle : inside(range.aim);
  const { low: _, high: __, aim: ___, closeBelow: ____, closeAbove: _____, ...rest } = range;
  return defined({ ...rest, low, high, aim, closeBelow, closeAbove });
}

const least = (a: number | undefined, b: number | undefined): number | undefined =>
  a === undefined ? b : b === undefined ? a : Math.min(a, b);
const most = (a: number | undefined, b: number | undefined): number | undefined =>
  a === undefined ? b : b === undefined ? a : Math.max(a, b);

const defined = (range: { [Name in keyof Range]: Range[Name] | undefined }): Range =>
  Object.fromEntries(Object.entries(range).filter(([, value]) => value !== undefined)) as Range;

/**
 * Free chlorine by a band that was worked out for a water, inside the limits for bathing.
 * @example chlorineBand({ low: 0.07, high: 0.19 }, USUAL_PLACE).low // 1
 */
export const chlorineBand = (band: Range, place: BathingPlace): Range =>
  within(band, FREE_CHLORINE[place.kind]);
