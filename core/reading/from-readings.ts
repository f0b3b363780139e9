import { InputFault } from "../fault";
import { type Measurement, QUANTITIES, type Quantity } from "../measure/quantity";
import type { Method } from "../testing/kit";
import { DRAWN_READINGS, type SampleSpread } from "../uncertainty/models";
import { exactly, type Spread, spreadOf, usualSpreads } from "../uncertainty/spread";
import { SAMPLE_LIMITS, type Sample, totalsOf } from "../water/sample";
import { type Place, standIns } from "../water/stand-ins";
import { demandByDrops, phByDemand } from "./demand-model";

/**
 * The one way from what was read to a water: for the judge, the plan, the chlorine floor, What if and
 * the verbs. What was not read has a stand-in, and every number says how it came to stand there.
 */

/** A reading with the kind of test that made it, and its age; without one it is of this visit. */
export type DatedReading = Measurement & {
  kind: Method["kind"];
  daysAgo?: number;
  /** Of the hand that made it, relative; left out for the default of its kind. */
  scatter?: number | undefined;
};

/** The readings that make a water. */
export const WATER_READINGS = [
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
  "freeChlorine",
  "temperature",
  "totalDissolvedSolids",
] as const;
export type WaterReading = (typeof WATER_READINGS)[number];

/**
 * How a number came to stand in a water.
 * - `read`: in this visit
 * - `carried`: before it, and no longer ago than its kind holds
 * - `old`: longer ago: it is the best that is known, and nothing is dosed for it
 * - `at-least`, `at-most`: off an end of its scale: the end stands in, or half of "at most"
 * - `assumed`: not read, or too old for its kind to say anything: a usual value stands in
 */
export type Standing = "read" | "carried" | "old" | "at-least" | "at-most" | "assumed";

export interface WaterEstimate {
  water: Sample;
  spreads: SampleSpread;
  standing: Record<WaterReading, Standing>;
  /** Age in days of what was not read in this visit, where it was read at all. */
  daysAgo: Partial<Record<WaterReading, number>>;
  /** The pH ran off its scale and was worked out from the demand drops. */
  phByDemand: boolean;
  /** False when the readings cannot belong to one water: more cyanurate than the alkalinity can hold. */
  possible: boolean;
}

/** Days for which a reading still speaks of today's water; beyond them it is old. Cadence and a visit's slack. */
const HOLDS_DAYS: Record<WaterReading, number> = {
  // Of this visit, or nothing is dosed by it.
  ph: 0,
  freeChlorine: 0,
  temperature: 2,
  totalAlkalinity: 10,
  calciumHardness: 35,
  cyanuricAcid: 35,
  totalDissolvedSolids: 100,
};

/** What moves within hours, or days, is not known at all when it is old; the rest is better than a guess. */
const GONE_WHEN_OLD: Partial<Record<WaterReading, number>> = {
  ph: 0.5,
  freeChlorine: 0.5,
  temperature: 14,
  totalAlkalinity: 60,
};

/** Borate leaves with the water only; after half a year of splash and top-up nothing is built on it. */
const BORATE_HOLDS_DAYS = 180;

/** °C; see `conditionsAt`. */
const HOTTEST_KNOWN = SAMPLE_LIMITS.temperature.high;

/** Dissolved solids of a salt pool beside its salt, mg/L. */
const BESIDE_SALT = 500;

/** How far off a stand-in may be. */
const guessed = (name: WaterReading, value: number): Spread => {
  if (name === "calciumHardness") return { low: 100, high: 400, deviation: 0 };
  if (name === "cyanuricAcid") return { low: 0, high: 2 * value, deviation: 0 };
  return exactly(value);
};

/** The number that stands for a bounded reading: the end of a scale, or half of "at most" where it begins at none. */
const endOf = (made: DatedReading, name: WaterReading): number =>
  made.bound === "at-most" && name !== "ph" ? made.value / 2 : made.value;

/**
 * The water of a visit's readings with those that were carried into it, the newest of each kind.
 *
 * @param demandTarget pH to which the kit's demand drops titrate; null when it has none
 * @example waterFromReadings({ ph: { value: 7.6, low: 7.5, high: 7.7, bound: "within", unit: "pH", kind: "comparator" } }, { kind: "pool", outdoors: true }).water.ph // 7.6
 */
export function waterFromReadings(
  readings: Partial<Record<Quantity, DatedReading>>,
  place: Place,
  demandTarget: number | null = null,
): WaterEstimate {
  const usual = standIns(place);
  const standing = {} as Record<WaterReading, Standing>;
  const daysAgo: WaterEstimate["daysAgo"] = {};
  const water: Sample = { ...usual, borate: 0 };
  for (const name of WATER_READINGS) {
    const made = readings[name];
    const age = made?.daysAgo ?? 0;
    if (made && age > 0) daysAgo[name] = age;
    standing[name] = standingOf(name, made);
    if (made && standing[name] !== "assumed")
      water[name] = made.bound === "within" ? made.value : endOf(made, name);
  }
  // The constants of the water end there; over the limit for bathing nothing hangs on more.
  water.temperature = Math.min(HOTTEST_KNOWN, water.temperature);
  const { borate, salt } = readings;
  if (borate && (borate.daysAgo ?? 0) <= BORATE_HOLDS_DAYS)
    water.borate = borate.bound === "at-most" ? borate.value / 2 : borate.value;
  if (salt?.bound === "within") {
    water.salt = salt.value;
    // A salt pool's solids are its salt and what else a water holds.
    if (standing.totalDissolvedSolids === "assumed") water.totalDissolvedSolids = salt.value + BESIDE_SALT;
  }
  const byDrops =
    isBounded(standing.ph) && demandTarget !== null ? beyondScale(readings, water, demandTarget) : null;
  if (byDrops) {
    water.ph = byDrops.value;
    standing.ph = "read";
  }
  const around = usualSpreads(water);
  const spreads = Object.fromEntries(
    DRAWN_READINGS.map((name): [keyof SampleSpread, Spread] => {
      const made = readings[name];
      if (name === "ph" && byDrops) return [name, byDrops.spread];
      if (!made || standing[name] === "assumed") return [name, guessed(name, water[name])];
      if (made.bound === "at-most") return [name, { low: 0, high: made.value, deviation: 0 }];
      if (made.bound === "at-least") return [name, exactly(made.value)];
      // A number out of a table came without its bracket.
      const usualWidth = standing[name] === "old" || made.low === null || made.high === null;
      return [name, usualWidth ? around[name] : spreadOf(made, made.kind)];
    }),
  ) as SampleSpread;
  return { water, spreads, standing, daysAgo, phByDemand: byDrops !== null, possible: isPossible(water) };
}

function standingOf(name: WaterReading, made: DatedReading | undefined): Standing {
  if (!made) return "assumed";
  const age = made.daysAgo ?? 0;
  if (age > (GONE_WHEN_OLD[name] ?? Number.POSITIVE_INFINITY)) return "assumed";
  if (made.bound !== "within") return made.bound;
  if (age > HOLDS_DAYS[name]) return "old";
  return age > 0 ? "carried" : "read";
}

/**
 * The readings whose numbers are stand-ins.
 * @example assumedIn(waterFromValues([], { kind: "pool", outdoors: true })).length // 7
 */
export const assumedIn = ({ standing }: Pick<WaterEstimate, "standing">): WaterReading[] =>
  WATER_READINGS.filter((name) => standing[name] === "assumed");

/** Whether a number was read, and lately enough, so that something may be dosed for it. */
export const isKnown = ({ standing }: Pick<WaterEstimate, "standing">, name: WaterReading): boolean =>
  standing[name] === "read" || standing[name] === "carried";

export const isBounded = (standing: Standing): boolean => standing === "at-least" || standing === "at-most";

/** The pH beyond the end of its scale by the demand drops, with the interval that their bracket gives. */
function beyondScale(
  readings: Partial<Record<Quantity, DatedReading>>,
  rest: Omit<Sample, "ph">,
  target: number,
): { value: number; spread: Spread } | null {
  const [counted, sign] = readings.acidDemand ? [readings.acidDemand, 1] : [readings.baseDemand, -1];
  if (!counted) return null;
  const { value, low, high } = demandByDrops(counted);
  const at = (demand: number) => phByDemand(rest, sign * demand, target);
  const middle = at(value);
  const ends = [at(Math.max(0, low)), at(high)];
  if (middle === null) return null;
  const [from, to] = ends.map((end) => end ?? middle).sort((a, b) => a - b);
  return { value: middle, spread: { low: from ?? middle, high: to ?? middle, deviation: 0 } };
}

function isPossible(water: Sample): boolean {
  try {
    totalsOf(water);
    return true;
  } catch (fault) {
    if (fault instanceof InputFault) return false;
    throw fault;
  }
}

/** A value as a list or a file tells it: without the kit that made it. */
type ToldValue = { quantity: Quantity; value: number } & Partial<
  Pick<DatedReading, "low" | "high" | "bound" | "daysAgo">
>;

/**
 * The water by values alone, of which nobody knows what made them.
 * @example waterFromValues([{ quantity: "ph", value: 7.6 }], { kind: "pool", outdoors: true }).water.ph // 7.6
 */
export const waterFromValues = (values: readonly ToldValue[], place: Place): WaterEstimate =>
  waterFromReadings(
    Object.fromEntries(
      values.map(({ quantity, low = null, high = null, bound = "within", ...told }) => [
        quantity,
        { ...told, low, high, bound, unit: QUANTITIES[quantity].unit, kind: "meter" } satisfies DatedReading,
      ]),
    ),
    place,
  );
