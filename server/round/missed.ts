import { addDays, type Basin, type Firm, lastCall } from "#core";
import type { FirmScope } from "../db/connection";
import { notSeenSince } from "../db/recent";
import { skippedSince } from "../db/rounds";

/** Days back for which a call that nobody made is asked after. */
const ASK_DAYS = 14;

/** A call that nobody made and nobody explained. */
export interface MissedCall {
  basinId: string;
  name: string;
  day: string;
}

/** Calls that somebody left out in those days, and said why. */
export const skippedLately = (scope: FirmScope, today: string): Promise<Set<string>> =>
  skippedSince(scope, addDays(today, -ASK_DAYS));

/** The last call of each basin that was due in the days before today, was not made, and has no reason. */
export async function missedCalls(
  scope: FirmScope,
  { timeZone }: Firm,
  basins: Basin[],
  today: string,
  skipped: Set<string>,
): Promise<MissedCall[]> {
  const due = basins.flatMap((basin) => {
    const day = lastCall(basin.calls, today, ASK_DAYS);
    return day ? [{ basinId: basin.id, name: `${basin.site.name}, ${basin.name}`, day }] : [];
  });
  // A firm that has never been at a basin has not missed a call there.
  const unseen = await notSeenSince(scope, due, timeZone);
  return due.filter(({ basinId, day }) => unseen.has(basinId) && !skipped.has(`${basinId} ${day}`));
}
