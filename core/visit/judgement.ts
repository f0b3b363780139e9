import { millisecondsInDay } from "date-fns/constants";
import { type Advice, adviseEach } from "../dosing/advice";
import { PERSULFATE_HOURS } from "../doubts/chlorine";
import { balanceOf, type WaterBalance } from "../judging/balance";
import type { Bathing } from "../judging/bathing";
import type { Finding } from "../judging/findings";
import { type Notice, noticesOf } from "../judging/notices";
import { mixesLike } from "../ranges/bathing-limits";
import { compareDemand } from "../reading/demand-model";
import { mayActOn } from "../testing/doubt";
import { bathingAt } from "./bathing";
import {
  byQuantity,
  carriedInto,
  demandTarget,
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
  /** How the water stands as a whole; null while readings for it are missing. */
  balance: WaterBalance | null;
  /** Acid or base by drops and by the model, where drops were counted. */
  demand: ReturnType<typeof compareDemand>;
  /** Quantities that were not tested today and stand in from earlier for the amounts. */
  carried: VisitReading[];
  /** Read today, but not to be acted on. */
  setAside: VisitReading[];
}

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
  const target = demandTarget([{ id: visit.kitId, kit: opened.kit }, ...opened.otherKits]);
  return {
    findings: found,
    possible: possibleNow(opened),
    outBefore: findingsCarried(opened),
    bathing,
    notices: noticesOf({
      bathing,
      findings: found,
      readings: today,
      carried: carried
        .filter((reading) => reading.quantity in opened.ranges)
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
    demand: balance && target !== null ? compareDemand(balance.water, balance.spreads, today, target) : null,
    advice: adviseEach({
      findings: found,
      // Chlorine of another day says nothing of what a shock would come to.
      readings: { ...byQuantity(carried.filter(({ quantity }) => quantity !== "freeChlorine")), ...today },
      combinedUnsure: opened.log.doses.some(
        ({ product, hoursAgo }) => product === "potassium-monopersulfate" && hoursAgo <= PERSULFATE_HOURS,
      ),
      known: opened.known,
      litres: visit.litres,
      products,
      ...(fill === null ? {} : { fill: { calciumHardness: fill } }),
    }),
  };
}
