import { millisecondsInDay } from "date-fns/constants";
import type { Basin } from "../basin/basin";
import type { Between, HorizonProblem } from "../dosing/horizon/problem";
import { problemFor } from "../dosing/plan/problem";
import type { DriftPlace } from "../drift/habits";
import { locationOf } from "../drift/location";
import { HOLD_DAYS, type HoldAnswer, type HoldOptions, hold } from "../hold/hold";
import { type Posterior, ratesIn } from "../learning/posterior";
import { posteriorAt, sampleIn } from "../learning/resume";
import { habitAt } from "../learning/unknowns";
import { mixesLike } from "../ranges/bathing-limits";
import type { RangeSet } from "../ranges/range-set";
import { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND } from "../ranges/sets";
import { WATER_READINGS, type WaterEstimate } from "../reading/from-readings";
import { callsBetween } from "../schedule/calls";
import { addDays, dayIn, noonIn } from "../schedule/days";
import { usualSpreads } from "../uncertainty/spread";
import { type CallWorth, callWorth } from "../week/worth";
import type { Firm, ShelfProduct } from "./brought";
import { feederKindOf, feederOf } from "./feeder";
import { plannedProducts } from "./problem";

/** What would hold a basin, as its book has it. */
export interface HoldBasis {
  basin: Basin;
  firm: Pick<Firm, "timeZone" | "callMinutes" | "callPrice" | "laymen">;
  /** As it applies to this basin, see `setForBasin`. */
  rangeSet: RangeSet;
  products: readonly ShelfProduct[];
  posterior: Posterior;
  /** What the people there give already. */
  between: Between | null;
  now: Date;
}

/** Calls that a basin without a plan of calls is taken to get. Days */
const UNPLANNED_EVERY = 7;

/**
 * The problem that a basin's belief poses over its calls of four weeks, without a visit.
 * @example holdProblem(basis).calls.length // 8
 */
export function holdProblem({
  basin,
  firm,
  rangeSet,
  products,
  posterior,
  between,
  now,
}: HoldBasis): HorizonProblem {
  const from = now.getTime();
  const location = locationOf(firm.timeZone, now);
  const place: DriftPlace = {
    kind: mixesLike(basin.kind),
    outdoors: !basin.indoors,
    feeder: feederKindOf(basin),
  };
  const believed = posteriorAt(posterior, from, { visits: [], weather: [], location });
  const water = sampleIn(believed, from, { weather: [], location });
  const known: WaterEstimate = {
    water,
    standing: Object.fromEntries(WATER_READINGS.map((name) => [name, "read"])) as WaterEstimate["standing"],
    spreads: usualSpreads(water),
    daysAgo: {},
    phByDemand: false,
    possible: true,
  };
  const planned = plannedProducts({ products, basin });
  const { fillAlkalinity, fillHardness } = basin.site;
  const still = problemFor(known, {
    set: rangeSet,
    surface: basin.surface,
    litres: basin.litres,
    kind: place.kind,
    outdoors: place.outdoors,
    findings: [],
    products: planned,
    fill:
      fillAlkalinity === null || fillHardness === null
        ? null
        : { totalAlkalinity: fillAlkalinity, calciumHardness: fillHardness },
    mostReplaced: basin.mostReplaced,
  });
  const rates = ratesIn(believed);
  const feeder = feederOf(basin, rates.feeder, basin.litres, planned);
  return {
    still,
    from,
    calls: callsOfFourWeeks(basin, firm.timeZone, now),
    minutes: basin.callMinutes ?? firm.callMinutes,
    rates,
    believed,
    feeder: feeder && {
      ...feeder,
      gives: believed.setting === null ? 1 : Math.exp(believed.mean[habitAt("feeder")] as number),
    },
    between,
    outdoors: place.outdoors,
    location,
    weather: [],
  };
}

function callsOfFourWeeks({ calls }: Basin, timeZone: string, now: Date): number[] {
  const today = dayIn(now, timeZone);
  const planned = callsBetween(calls, addDays(today, 1), addDays(today, HOLD_DAYS)).map((day) =>
    noonIn(day, timeZone),
  );
  if (planned.length > 0) return planned;
  return Array.from(
    { length: HOLD_DAYS / UNPLANNED_EVERY },
    (_, week) => now.getTime() + (week + 1) * UNPLANNED_EVERY * millisecondsInDay,
  );
}

/**
 * Range sets that may stand in for a basin's own: none where strangers bathe, or nobody said whether they do, and
 * none for hot water.
 * @example otherSets({ isPublic: true, kind: "pool", sanitiser: "chlorine" }) // []
 */
export const otherSets = ({
  isPublic,
  kind,
  sanitiser,
}: Pick<Basin, "isPublic" | "kind" | "sanitiser">): RangeSet[] =>
  isPublic === false && mixesLike(kind) === "pool" && sanitiser === "chlorine"
    ? [OUTDOOR_FIXED_BAND, HELD_BY_HOCL_SET]
    : [];

/**
 * What would hold a basin; null for one that is not kept with chlorine.
 * @example holdOf({ basin: { sanitiser: "bromine" } }) // null
 */
export function holdOf(basis: HoldBasis): HoldAnswer | null {
  const { basin, firm } = basis;
  if (basin.sanitiser === "bromine") return null;
  const options: HoldOptions = {
    sets: otherSets(basin),
    callPrice: firm.callPrice,
    laymen: firm.laymen,
    callMinutes: basin.callMinutes ?? firm.callMinutes,
    covered: basin.equipment.cover !== null && basin.equipment.cover !== "none",
  };
  return hold(holdProblem(basis), options);
}

/**
 * What calls are worth at a basin; null for one that is not kept with chlorine.
 * @example callsWorthOf({ basin: { sanitiser: "bromine" } }) // null
 */
export const callsWorthOf = (basis: HoldBasis): CallWorth | null =>
  basis.basin.sanitiser === "bromine" ? null : callWorth(holdProblem(basis));
