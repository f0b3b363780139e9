import { millisecondsInDay } from "date-fns/constants";
import { type BromineAhead, type BromineSince, bromineAhead, bromineRate } from "../dosing/bromine-ahead";
import { brominePerGram } from "../dosing/by-own-rule";
import { nextCall } from "../schedule/calls";
import { dayIn, noonIn } from "../schedule/days";
import { mayActOn } from "../testing/doubt";
import type { OpenedVisit } from "./visit";

/**
 * What to leave of bromine at a visit until the next call; null where the basin has none, or it was not read.
 * @example bromineAt(opened) // null
 */
export function bromineAt(opened: OpenedVisit): BromineAhead | null {
  const { basin, firm, visit, readings, ranges } = opened;
  const range = ranges.bromine;
  const now = readings.find(({ quantity, doubts }) => quantity === "bromine" && mayActOn(doubts));
  if (basin.sanitiser !== "bromine" || !range || now?.bound !== "within") return null;
  const next = nextCall(basin.calls, dayIn(visit.startedAt, firm.timeZone));
  const days =
    next === null ? null : (noonIn(next, firm.timeZone) - visit.startedAt.getTime()) / millisecondsInDay;
  return bromineAhead(range, bromineRate(sinceLast(opened, now.value)), days);
}

/** What was there at the last visit's reading, and what made bromine since and before this visit. */
function sinceLast({ earlier, visit, log }: OpenedVisit, now: number): BromineSince | null {
  const last = earlier.find(({ quantity, bound }) => quantity === "bromine" && bound === "within");
  if (!last) return null;
  const days = (visit.startedAt.getTime() - last.takenAt.getTime()) / millisecondsInDay;
  const added = log.doses
    .filter(({ hoursAgo }) => hoursAgo / 24 <= days && hoursAgo > 0)
    .reduce((sum, dose) => sum + (1000 * brominePerGram(dose) * dose.grams) / dose.litres, 0);
  return { before: last.value, added: Math.max(0, added), now, days };
}
