import type { Finding } from "#core";
import { dayIn, isoWeekday } from "./calendar";
import { type Basin, basinsOnDay } from "./db/basins";
import type { FirmScope } from "./db/connection";
import { findingsOfVisits } from "./db/doses";
import { lastVisits, openVisits } from "./db/visits";

export interface Call {
  basin: Basin;
  /** The visit under way, and whose it is. */
  open: { id: string; memberName: string } | null;
  last: { id: string; finishedAt: Date } | null;
  doneToday: boolean;
  /** What was found last time. */
  findings: Finding[];
}

/** The calls of a day in their order, each with what is known of it. */
export async function roundOf(scope: FirmScope, now: Date, timeZone: string): Promise<Call[]> {
  const basins = await basinsOnDay(scope, isoWeekday(now, timeZone));
  const open = await openVisits(scope);
  const last = await lastVisits(scope);
  const lastIds = basins.flatMap((basin) => last.get(basin.id)?.id ?? []);
  const found = await findingsOfVisits(scope, lastIds);
  return basins.map((basin) => {
    const seen = last.get(basin.id) ?? null;
    return {
      basin,
      open: open.get(basin.id) ?? null,
      last: seen,
      doneToday: seen !== null && dayIn(seen.finishedAt, timeZone) === dayIn(now, timeZone),
      findings: found.filter((one) => one.visitId === seen?.id).map((one) => one.finding),
    };
  });
}
