import { millisecondsInDay } from "date-fns/constants";
import { type Advice, adviseEach } from "../dosing/advice";
import type { BromineAhead } from "../dosing/bromine-ahead";
import { hasPersulfate } from "../doubts/chlorine";
import { balanceOf, type WaterBalance } from "../judging/balance";
import type { Bathing } from "../judging/bathing";
import type { Finding } from "../judging/findings";
import { type Notice, noticesOf } from "../judging/notices";
import type { Quantity } from "../measure/quantity";
import { mixesLike } from "../ranges/bathing-limits";
import { mayActOn } from "../testing/doubt";
import { bathingAt } from "./bathing";
import { bromineAt } from "./bromine";
import { demandAt } from "./demand";
import {
  byQuantity,
  carriedInto,
  findingsCarried,
  findingsNow,
  type OpenedVisit,
  possibleNow,
} from "./visit";
import type { VisitReading } from "./written";

export interface Judgement {
  findings: Finding[];
  /** Inside as written; the bracket reaches over a limit. */
  possible: Finding[];
  /** Out of their ranges when they were last read, and not tested today. */
  outBefore: Finding[];
  /** What the readings say together, and the log beside them. */
  notices: Notice[];
  advice: Advice[];
  /** Whether the water may be used. */
  bathing: Bathing;
  /** What to leave of bromine until the next call; null where there is none. */
  bromine: BromineAhead | null;
  /** How the water stands as a whole; null while readings for it are missing. */
  balance: WaterBalance | null;
  /** Acid or base by drops and by the model, where drops were counted. */
  demand: ReturnType<typeof demandAt>;
  /** Quantities that were not tested today and stand in from earlier for the amounts. */
  carried: VisitReading[];
  /** Read today, but not to be acted on. */
  setAside: VisitReading[];
}

/** Bromine that is inside and would not last until the next call is raised as one that is low. */
function withBromineToLeave(found: Finding[], opened: OpenedVisit, ahead: BromineAhead | null): Finding[] {
  const reading = byQuantity(opened.readings).bromine;
  const range = opened.ranges.bromine;
  if (!ahead || !reading || !range || found.some(({ code }) => code === "bromine.high")) return found;
  const own = found.find(({ code }) => code === "bromine.low");
  if (own) return found.map((one) => (one === own ? { ...one, aim: ahead.leave } : one));
  if (ahead.leave - reading.value < WORTH_RAISING) return found;
  const { value, bound } = reading;
  return [
    ...found,
    {
      code: "bromine.low",
      quantity: "bromine",
      value,
      bound,
      limit: range.low ?? value,
      aim: ahead.leave,
      closes: false,
      rangeSet: opened.rangeSet.id,
    },
  ];
}

/** Read before, these are in no amount of today's. */
const IN_NO_AMOUNT: readonly Quantity[] = ["phosphate", "iron", "copper"];

/** A drop of the usual test, mg/L. */
const WORTH_RAISING = 0.45;

/**
 * Judges what was measured in a visit; what was not tested is carried into the amounts only.
 * @example judge(opened).findings.map(({ code }) => code) // ["totalAlkalinity.high", "ph.high"]
 */
export function judge(opened: OpenedVisit): Judgement {
  const { visit, basin, products } = opened;
  const readings = opened.readings.filter((reading) => mayActOn(reading.doubts));
  const carried = carriedInto(opened);
  const found = findingsNow(opened);
  const fill = basin.site.fillHardness;
  const balance = balanceOf(opened.known);
  const today = byQuantity(readings);
  const bathing = bathingAt(opened);
  const bromine = bromineAt(opened);
  const target = opened.demandTarget;
  return {
    findings: found,
    possible: possibleNow(opened),
    outBefore: findingsCarried(opened),
    bathing,
    bromine,
    notices: noticesOf({
      bathing,
      findings: found,
      readings: today,
      carried: carried
        .filter(({ quantity }) => quantity in opened.ranges && !IN_NO_AMOUNT.includes(quantity))
        .map(({ quantity, value, takenAt }) => ({
          quantity,
          value,
          daysAgo: (visit.startedAt.getTime() - takenAt.getTime()) / millisecondsInDay,
        })),
      balance,
      set: opened.rangeSet,
      ranges: opened.ranges,
      litres: visit.litres,
      demandTarget: target,
      doses: opened.log.doses,
      fillHardness: fill,
      sanitiser: basin.sanitiser,
      kind: mixesLike(basin.kind),
      habits: opened.log.habits,
    }),
    carried,
    setAside: opened.readings.filter((reading) => !mayActOn(reading.doubts)),
    balance,
    demand: demandAt(opened),
    advice: adviseEach({
      findings: withBromineToLeave(found, opened, bromine),
      // Chlorine of another day says nothing of what a shock would come to.
      readings: { ...byQuantity(carried.filter(({ quantity }) => quantity !== "freeChlorine")), ...today },
      combinedUnsure: hasPersulfate(opened.log.doses),
      known: opened.known,
      litres: visit.litres,
      products,
      ...(fill === null ? {} : { fill: { calciumHardness: fill } }),
    }),
  };
}
