import { millisecondsInHour } from "date-fns/constants";
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

/** A pace with the moment at which it was worked out, ms since 1970. */
type KeptPace = Pace & { at: number };

/** Tenths of a minute are finer than any of it is known. */
const inTenths = (_: string, value: unknown) =>
  typeof value === "number" && !Number.isInteger(value) ? Number(value.toFixed(1)) : value;

/** Keeps a firm's pace. */
export async function savePace(scope: FirmScope, pace: Pace, now: Date): Promise<void> {
  const kept: KeptPace = { ...pace, at: now.getTime() };
  await scope
    .updateTable("firm")
    .set({ pace: JSON.stringify(kept, inTenths) })
    .execute();
}

/** Worked out once a day: one call more moves no median. */
const FRESH = 20 * millisecondsInHour;

/** Whether a firm's pace is of today. */
export async function isPaceFresh(scope: FirmScope, now: Date): Promise<boolean> {
  const kept = await keptPace(scope);
  return kept !== null && now.getTime() >= kept.at && now.getTime() - kept.at < FRESH;
}

const keptPace = async (scope: FirmScope): Promise<KeptPace | null> =>
  (await scope.selectFrom("firm").select("pace").executeTakeFirstOrThrow()).pace as KeptPace | null;

/** What is usual everywhere, until a night has read the firm's book. */
const UNREAD = learnPace([], () => "");

/** A firm's pace, as it was worked out last. */
export const paceOf = async (scope: FirmScope): Promise<Pace> => (await keptPace(scope)) ?? UNREAD;
