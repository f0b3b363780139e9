import { addDays, type Basin, calledOn, dayIn, type Firm, type Pace, pairOf, type ReagentUse } from "#core";
import { basinsInOrder } from "../db/basins";
import { reading } from "../db/batch";
import type { FirmScope } from "../db/connection";
import { calledByJob, jobsUnderWay } from "../db/jobs";
import { paceOf } from "../db/pace";
import { productsOf } from "../db/products";
import { type CallChange, callChanges, eventsBetween, roundVersion } from "../db/rounds";
import { openVisits } from "../db/visits";
import { lastCallDays, movedTo } from "../db/week";
import { callOf, type RoundCall } from "./call";
import { contextOf } from "./context";
import { type LoadLine, loadOf, reagentsOf } from "./load";
import { type MissedCall, missedCalls, skippedLately } from "./missed";

/** Days ahead of which events are told. */
const EVENT_DAYS = 7;

/** A day's calls in their order, what they need, and what was left open before. */
export interface RoundDay {
  day: string;
  today: string;
  version: number;
  calls: RoundCall[];
  /** For calls that are still to make: what to have on the truck. */
  load: LoadLine[];
  reagents: ReagentUse[];
  /** How long the day's calls take, and the ways between their sites. */
  pace: Pace;
  /** Calls of the last days that nobody made and nobody explained. */
  missed: MissedCall[];
  /** Calls of this day that moved to another, or out of the week, and who moved them. */
  moved: { basinId: string; name: string; to: string | null; by: string }[];
  /** Calls that moved here, where somebody who had not heard of it called on their old day or since. */
  calledBefore: { basinId: string; name: string; day: string }[];
}

/** The round of a day. */
export const roundOn = (scope: FirmScope, firm: Firm, day: string, now: Date): Promise<RoundDay> =>
  reading(scope, (reads) => readRound(reads, firm, day, now));

async function readRound(scope: FirmScope, firm: Firm, day: string, now: Date): Promise<RoundDay> {
  const today = dayIn(now, firm.timeZone);
  const [all, changes, events, products, version, skipped, open, jobs, pace, movedHere, lastDays] =
    await Promise.all([
      basinsInOrder(scope),
      callChanges(scope, day),
      eventsBetween(scope, day, addDays(day, EVENT_DAYS)),
      productsOf(scope),
      roundVersion(scope, day),
      skippedLately(scope, today),
      openVisits(scope),
      jobsUnderWay(scope, firm.timeZone),
      paceOf(scope),
      movedTo(scope, day, day),
      lastCallDays(scope, firm.timeZone),
    ]);
  const goneFrom = new Map(changes.flatMap(({ basinId, gone }) => (gone ? [[basinId, gone]] : [])));
  const basins = ordered(all, changes).filter(
    (basin) =>
      !goneFrom.has(basin.id) &&
      (calledOn(basin.calls, day) ||
        (day >= today && calledByJob(jobs.get(basin.id), day)) ||
        changes.some((change) => change.basinId === basin.id) ||
        // Before a party the water is tested the day before.
        events.some((event) => event.basinId === basin.id && event.day === addDays(day, 1))),
  );
  const [known, missed] = await Promise.all([
    contextOf(scope, { firm, basins, day, now, products, open, jobs }),
    missedCalls(scope, firm, all, today, skipped),
  ]);
  const calls = basins.map((basin) => callOf(basin, day, known, changes, events));
  const ahead = calls.filter((call) => !call.done && !call.skipped);
  return {
    day,
    today,
    version,
    calls,
    load: loadOf(ahead, products),
    reagents: reagentsOf(ahead, known),
    pace: ofDay(pace, basins),
    missed,
    moved: all.flatMap(({ id, name, site }) => {
      const gone = goneFrom.get(id);
      return gone ? [{ basinId: id, name: `${site.name}, ${name}`, to: gone.to, by: gone.by }] : [];
    }),
    calledBefore: movedHere.flatMap(({ basinId, from }) => {
      const basin = basins.find(({ id }) => id === basinId);
      const last = lastDays.get(basinId);
      return basin && last && last >= from && last < day
        ? [{ basinId, name: `${basin.site.name}, ${basin.name}`, day: last }]
        : [];
    }),
  };
}

/** Of a firm's pace what a day's calls need. */
function ofDay(pace: Pace, basins: readonly Basin[]): Pace {
  const sites = [...new Set(basins.map(({ site }) => site.id))];
  const pairs = sites.flatMap((one, index) => sites.slice(index + 1).map((other) => pairOf(one, other)));
  const of = (takes: Pace["calls"], keys: readonly string[]) =>
    Object.fromEntries(keys.flatMap((key) => (takes[key] ? [[key, takes[key]]] : [])));
  return {
    ...pace,
    calls: of(
      pace.calls,
      basins.map(({ id }) => id),
    ),
    ways: of(pace.ways, pairs),
  };
}

/** As the basins stand, and where the day says otherwise, as the day says. */
function ordered(basins: Basin[], changes: CallChange[]): Basin[] {
  const place = new Map(changes.map((change) => [change.basinId, change.position]));
  return basins
    .map((basin, index) => ({ basin, at: place.get(basin.id) ?? index + 0.5 }))
    .sort((a, b) => a.at - b.at)
    .map(({ basin }) => basin);
}
