import { addDays, type Basin, calledOn, daysBetween } from "#core";
import { basinsInOrder } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { firmOf } from "../db/firms";
import { jobsUnderWay } from "../db/jobs";
import { type BasinEvent, callChangesBetween, eventsBetween } from "../db/rounds";

export interface CallAhead {
  day: string;
  basin: Basin;
  memberId: string | null;
  /** Its place in the day's order, where somebody put it; else as the basins stand. */
  position: number | null;
  /** A job of several calls asks for it. */
  byJob: boolean;
  /** What happens there on the day after: the reason of a call that the plan does not have. */
  before: BasinEvent | null;
}

/** The calls of a span of days, both ends included, without those that are skipped. */
export async function callsAhead(scope: FirmScope, from: string, to: string): Promise<CallAhead[]> {
  const basins = await basinsInOrder(scope);
  const changes = await callChangesBetween(scope, from, to);
  const { timeZone } = await firmOf(scope);
  const jobs = await jobsUnderWay(scope, timeZone);
  const events = await eventsBetween(scope, from, addDays(to, 1));
  const days = Array.from({ length: daysBetween(from, to) + 1 }, (_, ahead) => addDays(from, ahead));
  return days.flatMap((day) =>
    basins.flatMap((basin) => {
      const change = changes.find((one) => one.day === day && one.basinId === basin.id);
      const before =
        events.find((event) => event.basinId === basin.id && event.day === addDays(day, 1)) ?? null;
      const byJob = (jobs.get(basin.id) ?? []).some(({ next }) => next === day);
      if (change?.skipped || change?.gone) return [];
      if (!(change || before || byJob || calledOn(basin.calls, day))) return [];
      const position = change?.position ?? null;
      return [{ day, basin, memberId: change?.memberId ?? basin.callerId, position, byJob, before }];
    }),
  );
}
