import { addDays, type Basin, calledOn, dayIn, type Firm, type ReagentUse } from "#core";
import { basinsInOrder } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { productsOf } from "../db/products";
import { lastVisitsOf } from "../db/recent";
import { type CallChange, callChanges, eventsBetween, roundVersion } from "../db/rounds";
import { callOf, type RoundCall } from "./call";
import { contextOf } from "./context";
import { type LoadLine, loadOf, reagentsOf } from "./load";
import { type MissedCall, missedCalls } from "./missed";

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
  /** Calls of the last days that nobody made and nobody explained. */
  missed: MissedCall[];
}

/** The round of a day. */
export async function roundOn(scope: FirmScope, firm: Firm, day: string, now: Date): Promise<RoundDay> {
  const all = await basinsInOrder(scope);
  const changes = await callChanges(scope, day);
  const events = await eventsBetween(scope, day, addDays(day, EVENT_DAYS));
  const basins = ordered(all, changes).filter(
    (basin) =>
      calledOn(basin.calls, day) ||
      changes.some((change) => change.basinId === basin.id) ||
      // Before a party the water is tested the day before.
      events.some((event) => event.basinId === basin.id && event.day === addDays(day, 1)),
  );
  const products = await productsOf(scope);
  const last = await lastVisitsOf(
    scope,
    basins.map((basin) => basin.id),
    day,
    firm.timeZone,
  );
  const known = await contextOf(scope, { firm, basins, day, now, products, last });
  const calls = basins.map((basin) => callOf(basin, day, known, changes, events));
  const ahead = calls.filter((call) => !call.done && !call.skipped);
  const today = dayIn(now, firm.timeZone);
  return {
    day,
    today,
    version: await roundVersion(scope, day),
    calls,
    load: loadOf(ahead, products),
    reagents: reagentsOf(ahead, known),
    missed: await missedCalls(scope, firm, all, today),
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
