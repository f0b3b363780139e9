import { type KnownBy, knownToday } from "../dosing/horizon/known";
import { type HorizonProblem, MINUTES_LIMITS, MOST_CALLS, USUAL_MINUTES } from "../dosing/horizon/problem";
import type { NoPlan } from "../dosing/plan/problem";
import type { DriftPlace } from "../drift/habits";
import { locationOf } from "../drift/location";
import type { LoggedReading } from "../learning/log";
import { POSTERIOR_VERSION } from "../learning/posterior";
import { USUAL_FILL } from "../learning/start-water";
import { mixesLike } from "../ranges/bathing-limits";
import { nextCall } from "../schedule/calls";
import { dayIn, daysBetween, noonIn } from "../schedule/days";
import { mayActOn } from "../testing/doubt";
import { totalsOf } from "../water/sample";
import { bathingAt } from "./bathing";
import { demandAt } from "./demand";
import { feederKindOf, feederOf } from "./feeder";
import { problemOf } from "./problem";
import type { OpenedVisit } from "./visit";

/** What a visit's plan over the next calls is asked for. */

/** What lies farther ahead is another season's. Days */
const FARTHEST_DAYS = 30;
/**
 * The calls after a visit, as the basin's plan has them: the nearest few.
 * @example callsAfter(opened).length // 3
 */
export function callsAfter({ basin, firm, visit }: Pick<OpenedVisit, "basin" | "firm" | "visit">): number[] {
  const today = dayIn(visit.startedAt, firm.timeZone);
  const days: string[] = [];
  for (
    let day = nextCall(basin.calls, today);
    day && days.length < MOST_CALLS - 1;
    day = nextCall(basin.calls, day)
  ) {
    if (daysBetween(today, day) > FARTHEST_DAYS) break;
    days.push(day);
  }
  return days.map((day) => noonIn(day, firm.timeZone));
}

/**
 * Minutes for pouring at this basin's calls.
 * @example minutesAt(opened) // 40
 */
export const minutesAt = ({ basin, firm }: Pick<OpenedVisit, "basin" | "firm">): number =>
  basin.callMinutes ?? firm.callMinutes ?? USUAL_MINUTES;

/**
 * The problem that a visit's readings pose over its next calls, or why there is none.
 * @param minutes for pouring now, where somebody said other ones
 * @example horizonOf(opened).calls.length // 3
 */
export function horizonOf(opened: OpenedVisit, minutes = minutesAt(opened)): HorizonProblem | NoPlan {
  const still = problemOf(opened);
  if ("reason" in still) return still;
  const { basin, firm, visit } = opened;
  const place: DriftPlace = {
    kind: mixesLike(basin.kind),
    outdoors: !basin.indoors,
    feeder: feederKindOf(basin),
  };
  const from = visit.startedAt.getTime();
  const location = locationOf(firm.timeZone, visit.startedAt);
  const { water, fill, litres, products } = still.input;
  const { rates, believed, gives } = knownToday(learnedAt(opened, place), {
    place,
    water,
    spreads: still.spreads,
    visits: [{ at: from, readings: loggedReadings(opened), doses: [] }],
    fill: totalsOf(fill ?? USUAL_FILL),
    from,
    location,
    weather: [],
  });
  const feeder = feederOf(basin, rates.feeder, litres, products);
  return {
    still,
    from,
    calls: callsAfter(opened),
    minutes: Math.min(MINUTES_LIMITS.high, Math.max(MINUTES_LIMITS.low, minutes)),
    rates,
    believed,
    feeder: feeder && { ...feeder, gives },
    between: opened.between,
    outdoors: !basin.indoors,
    closed: isShut(opened),
    fillRate: opened.firm.fillRate,
    doubtfulDemand: doubtfulDemand(opened),
    location,
    weather: [],
  };
}

/**
 * What its log taught; of a basin that was another one then, its habits as they were told. Once something was
 * poured, the log's water is another one too.
 */
function learnedAt({ learned, before, visit }: OpenedVisit, place: DriftPlace): KnownBy {
  const posterior = learned?.posterior;
  const isSame =
    posterior?.version === POSTERIOR_VERSION &&
    posterior.kind === place.kind &&
    posterior.outdoors === place.outdoors &&
    posterior.feeder === place.feeder &&
    Math.abs(posterior.litres / visit.litres - 1) < SAME_VOLUME;
  return { posterior: isSame && before.length === 0 ? posterior : null, habits: learned?.habits };
}

/** A volume that was written down anew is another one: what was learned of it was learned of the old. */
const SAME_VOLUME = 0.001;

/** What was read in this visit and may be acted on, as a log has it. */
const loggedReadings = ({ readings }: OpenedVisit): LoggedReading[] =>
  readings
    .filter(({ doubts }) => mayActOn(doubts))
    .map(({ quantity, value, low, high, bound }) => ({
      quantity,
      value,
      low: bound === "at-most" ? Number.NEGATIVE_INFINITY : (low ?? value),
      high: bound === "at-least" ? Number.POSITIVE_INFINITY : (high ?? value),
    }));

/** Only a test opens it: it is closed, or nothing says that it may be used. */
function isShut(opened: OpenedVisit): boolean {
  const { state } = bathingAt(opened);
  return state === "closed" || state === "untested";
}

/** Acid or base by drops and by calculation, where they are further apart than both are unsure: the smaller of them. */
function doubtfulDemand(opened: OpenedVisit): HorizonProblem["doubtfulDemand"] {
  const demand = demandAt(opened);
  if (!demand || demand.agree) return null;
  const { quantity, byDrops, byModel } = demand;
  return {
    use: quantity === "acidDemand" ? "acid" : "base",
    most: Math.max(0, Math.min(byDrops.value, byModel.value)),
  };
}
