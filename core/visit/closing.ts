import { millisecondsInDay } from "date-fns/constants";
import { Ahead, NOTHING_DONE } from "../dosing/horizon/ahead";
import { drawn, figureOf } from "../dosing/horizon/draws";
import { STEERED, type Steered } from "../dosing/plan/goals";
import { cadenceWith } from "../schedule/cadence";
import { noonIn } from "../schedule/days";
import { dueTests } from "../testing/order/due";
import { type Station, stationsWith } from "../testing/order/stations";
import type { Figure } from "../uncertainty/figure";
import { horizonOf } from "./horizon";
import { nextCallAt } from "./jobs";
import type { OpenedVisit } from "./visit";
import type { AheadKept } from "./written";

/** What a visit ends with: the next call, what is due then, and what the water is expected to be. */
export interface Closing {
  /** Day of the next call by the basin's plan or a job there, today for this evening; null where there is none. */
  next: string | null;
  /** Tests that are due then, by their intervals. */
  due: Station[];
  /** Each reading as that call will find it: as the plan promised it, or as the basin's habits make it. */
  expected: Partial<Record<Steered, Figure>>;
  /** What the plan thought of for the calls to come. */
  ahead: AheadKept | null;
}

/**
 * What is said when a visit is closed.
 * @example closingOf(opened).next // "2026-05-11"
 */
export function closingOf(opened: OpenedVisit): Closing {
  const { basin, firm, visit, plans, readings, earlier, kit } = opened;
  const next = nextCallAt(opened);
  const ahead = plans.findLast(({ content }) => content.ahead)?.content.ahead ?? null;
  const at = next === null ? null : noonIn(next, firm.timeZone);
  const promised = at === null ? null : (ahead?.promised[0]?.readings ?? null);
  // Nothing went in: the water of today, left to itself.
  const left = at === null || promised || opened.doses.length > 0 ? null : leftAlone(opened);
  const expected = Object.fromEntries(
    STEERED.flatMap((quantity) => {
      const figure = promised?.[quantity] ?? left?.[quantity];
      return figure ? [[quantity, figure]] : [];
    }),
  );
  const days = at === null ? 0 : (at - visit.startedAt.getTime()) / millisecondsInDay;
  const due = dueTests({
    stations: stationsWith(kit, basin.sanitiser),
    cadence: cadenceWith(firm.cadence, basin.cadence).tests,
    lastDaysAgo: Object.fromEntries(
      [...earlier, ...readings].map((one) => [
        one.quantity,
        (visit.startedAt.getTime() - one.takenAt.getTime()) / millisecondsInDay + days,
      ]),
    ),
    outLastTime: new Set(),
    outWhenRead: new Set(),
    doses: [],
    litres: visit.litres,
    phOff: null,
  });
  return {
    next,
    due: next === null ? [] : due.filter((one) => one.due).map(({ station }) => station),
    expected,
    ahead,
  };
}

const DRAWS = 48;

/** What the next call finds of today's water if nothing goes in; only of what was read. */
function leftAlone(opened: OpenedVisit): Partial<Record<Steered, Figure>> | null {
  const problem = horizonOf(opened);
  if ("reason" in problem || problem.calls.length === 0) return null;
  const ahead = new Ahead({ ...problem, calls: problem.calls.slice(0, 1) });
  const fed = problem.feeder ? problem.rates.feeder : 0;
  const found = drawn(ahead, { ...NOTHING_DONE, fed }, DRAWS).found[1];
  if (!found) return null;
  return Object.fromEntries(
    STEERED.flatMap((quantity) =>
      problem.still.input.goals[quantity].known ? [[quantity, figureOf(found[quantity])]] : [],
    ),
  );
}

/** A reading that the last visit's plan did not see coming. */
export interface Miss {
  quantity: Steered;
  found: number;
  promised: Figure;
}

/**
 * Readings of today outside the interval that the last visit's plan promised for them.
 * @example missesOf(opened) // []
 */
export const missesOf = ({ promised, readings, plans }: OpenedVisit): Miss[] =>
  promised && plans.length === 0
    ? STEERED.flatMap((quantity): Miss[] => {
        const reading = readings.find((one) => one.quantity === quantity && one.bound === "within");
        const figure = promised.readings[quantity];
        if (!reading || !figure) return [];
        // Of a count only what lies in its bracket is known.
        const low = reading.low ?? reading.value;
        const high = reading.high ?? reading.value;
        return high < figure.low || low > figure.high
          ? [{ quantity, found: reading.value, promised: figure }]
          : [];
      })
    : [];
