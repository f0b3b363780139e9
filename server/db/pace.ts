import { sql } from "kysely";
import { learnPace, type Pace, type TimedVisit } from "#core";
import type { FirmScope } from "./connection";

/** How long calls take and the ways between them, as the book of a firm has it. */

/** Finished visits since a moment, with who made them and where. */
export async function timedVisits(scope: FirmScope, since: Date): Promise<TimedVisit[]> {
  const { rows } = await sql<
    Pick<TimedVisit, "memberId" | "basinId" | "siteId"> & { startedAt: Date; finishedAt: Date }
  >`
    select visit.member_id as "memberId", visit.basin_id as "basinId", basin.site_id as "siteId",
      visit.started_at as "startedAt", visit.finished_at as "finishedAt"
    from visit join basin on basin.firm_id = visit.firm_id and basin.id = visit.basin_id
    where visit.finished_at is not null and visit.started_at > ${since}`.execute(scope);
  return rows.map(({ startedAt, finishedAt, ...row }) => ({
    ...row,
    startedAt: startedAt.getTime(),
    finishedAt: finishedAt.getTime(),
  }));
}

/** Keeps a firm's pace. */
export async function savePace(scope: FirmScope, pace: Pace): Promise<void> {
  await scope
    .updateTable("firm")
    .set({ pace: JSON.stringify(pace) })
    .execute();
}

/** What is usual everywhere, until a night has read the firm's book. */
const UNREAD = learnPace([], () => "");

/** A firm's pace, as it was worked out last. */
export async function paceOf(scope: FirmScope): Promise<Pace> {
  const { pace } = await scope.selectFrom("firm").select("pace").executeTakeFirstOrThrow();
  return (pace as Pace | null) ?? UNREAD;
}
