import { type Measurement, QUANTITY_NAMES, type Quantity, type Readings } from "../measure/quantity";
import { type HoldingWater, type Range, type RangeSet, rangeFor, type Surface } from "../ranges/range-set";

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
  /** The limit that closes, where it does: another number than the range's. */
  closesAt?: number;
  /** Id of the set that says so. */
  rangeSet: string;
  /** The last test of the visit no longer has it: it was mended before anybody left. */
  settled?: boolean;
  /** What is written is inside, and its bracket reaches beyond: it may be so. */
  possible?: boolean;
  /** It may lie beyond the limit that closes. */
  mayClose?: boolean;
  /** Read so many days ago, not in this visit. */
  daysAgo?: number;
}

export type FindingCode = `${Quantity}.${"low" | "high"}`;

/** Running-pool order of work, after what closes the basin. */
const ORDER: readonly Quantity[] = [
  "totalAlkalinity",
  "ph",
  "calciumHardness",
  "cyanuricAcid",
  "combinedChlorine",
  "freeChlorine",
];

/** A reading as far as a limit is asked: what is written, and the ends between which its truth lies. */
type Bracketed = Pick<Measurement, "value" | "bound"> & Partial<Pick<Measurement, "low" | "high">>;
type Limits = Pick<Range, "low" | "high" | "closeBelow" | "closeAbove">;

/** A range's foot and top: a limit that closes stands in where there is no other. */
const footOf = ({ low, closeBelow }: Limits): number | undefined => low ?? closeBelow;
const topOf = ({ high, closeAbove }: Limits): number | undefined => high ?? closeAbove;

/**
 * Where one reading stands against its range, by what is written.
 * A bounded reading breaks a limit only when the bound lies on or beyond it.
 * @example placeInRange({ value: 8.1, bound: "within" }, { low: 7.2, high: 7.8 }) // "high"
 */
export function placeInRange(
  measured: Pick<Measurement, "value" | "bound">,
  range: Limits | undefined,
): "low" | "within" | "high" {
  if (!range) return "within";
  const { value, bound } = measured;
  const foot = footOf(range);
  const top = topOf(range);
  if (foot !== undefined && bound !== "at-least" && (value < foot || (bound === "at-most" && value <= foot)))
    return "low";
  if (top !== undefined && bound !== "at-most" && (value > top || (bound === "at-least" && value >= top)))
    return "high";
  return "within";
}

/** The ends between which the truth of a reading lies; open ones are infinite. */
const endsOf = ({ value, bound, low, high }: Bracketed): [number, number] => [
  bound === "at-most" ? Number.NEGATIVE_INFINITY : (low ?? value),
  bound === "at-least" ? Number.POSITIVE_INFINITY : (high ?? value),
];

/** On which sides the truth of a reading may lie beyond its range though what is written does not. */
function mayLieOutside(measured: Bracketed, range: Limits): ("low" | "high")[] {
  const [least, most] = endsOf(measured);
  const foot = footOf(range);
  const top = topOf(range);
  return [
    ...(foot !== undefined && least < foot ? (["low"] as const) : []),
    ...(top !== undefined && most > top ? (["high"] as const) : []),
  ];
}

/**
 * Whether a reading closes the basin: what is written lies beyond the limit, or at an end of its scale
 * that does: "at least 8.0" is anything from there on.
 */
function closes(
  { value, bound }: Bracketed,
  { closeBelow, closeAbove }: Limits,
  side: "low" | "high",
): boolean {
  return side === "low"
    ? closeBelow !== undefined && (value < closeBelow || (bound === "at-most" && value <= closeBelow))
    : closeAbove !== undefined && (value > closeAbove || (bound === "at-least" && value >= closeAbove));
}

/** Whether it may lie beyond the closing limit. */
function mayClose(measured: Bracketed, { closeBelow, closeAbove }: Limits, side: "low" | "high"): boolean {
  const [least, most] = endsOf(measured);
  return side === "low"
    ? closeBelow !== undefined && least < closeBelow
    : closeAbove !== undefined && most > closeAbove;
}

/** Every quantity that a set may hold, in the order of work. */
const JUDGED: readonly Quantity[] = [...ORDER, ...QUANTITY_NAMES.filter((name) => !ORDER.includes(name))];

/**
 * Judges each reading against the set, in the order in which they are to be dealt with: a sanitiser
 * below its floor and a pH over 8 come first, then the order of work of a running pool.
 *
 * @param water what free chlorine is held in; see `waterFromReadings`
 * @example findings({ ph: { value: 8.1, low: 8, high: 8.2, bound: "within", unit: "pH" } }, set, "plaster")[0].code // "ph.high"
 */
export function findings(
  readings: Readings,
  set: RangeSet,
  surface: Surface,
  water: HoldingWater,
): Finding[] {
  const found = JUDGED.flatMap((quantity): Finding[] => {
    const measured = readings[quantity];
    const range = rangeFor(set, quantity, surface, water);
    if (!measured || !range) return [];
    const place = placeInRange(measured, range);
    if (place === "within") return [];
    return findingOf(quantity, measured, range, place, set.id, closes(measured, range, place));
  });
  const urgency = (finding: Finding) => {
    if (finding.code === "ph.high" && (finding.value > 8 || finding.closes)) return 0;
    if (finding.code === "freeChlorine.low" && finding.closes) return 1;
    return 2;
  };
  return found.sort((a, b) => urgency(a) - urgency(b));
}

/**
 * What the readings may be beyond their limits, though what is written is not: a drop or a gap of
 * colours reaches over the edge. Told beside the findings; nothing is dosed for it.
 */
export function possibleFindings(
  readings: Readings,
  set: RangeSet,
  surface: Surface,
  water: HoldingWater,
): Finding[] {
  return JUDGED.flatMap((quantity): Finding[] => {
    const measured = readings[quantity];
    const range = rangeFor(set, quantity, surface, water);
    if (!measured || !range) return [];
    const place = placeInRange(measured, range);
    return mayLieOutside(measured, range)
      .filter((side) => side !== place)
      .flatMap((side) => findingOf(quantity, measured, range, side, set.id, false))
      .map((finding) => ({ ...finding, possible: true }));
  });
}

function findingOf(
  quantity: Quantity,
  measured: Bracketed,
  range: Range,
  side: "low" | "high",
  rangeSet: string,
  closed: boolean,
): Finding[] {
  const limit = side === "low" ? footOf(range) : topOf(range);
  if (limit === undefined) return [];
  return [
    {
      code: `${quantity}.${side}`,
      quantity,
      value: measured.value,
      bound: measured.bound,
      limit,
      aim: range.aim ?? null,
      closes: closed,
      ...(closed ? { closesAt: (side === "low" ? range.closeBelow : range.closeAbove) ?? limit } : {}),
      ...(!closed && mayClose(measured, range, side) ? { mayClose: true } : {}),
      rangeSet,
    },
  ];
}
