import { sql } from "kysely";
import { dayIn, daysBetween, EVENING_FROM, hourIn, type Job, nextDayOf } from "#core";
import type { FirmScope } from "./connection";
import { type JobRow, jobFrom } from "./visit-before";

/** A job of several calls that is under way at a basin. */
export interface OpenJob {
  basinId: string;
  job: Job;
  /** Day on which it was begun, and the one of its next call; null where only the basin's own calls are left. */
  begun: string;
  next: string | null;
}

/** The jobs of a firm that visits have begun and none has ended, by basin. */
export async function jobsUnderWay(scope: FirmScope, timeZone: string): Promise<Map<string, OpenJob[]>> {
  const { rows } = await sql<{ basinId: string; job: JobRow; last: Date }>`
    select visit.basin_id as "basinId", one.job, (
      select max(called.started_at) from visit as called
      where called.firm_id = visit.firm_id and called.basin_id = visit.basin_id and called.finished_at is not null
    ) as last
    from visit, jsonb_array_elements(visit.jobs) as one(job)
    where visit.firm_id = current_firm() and visit.jobs is not null and visit.finished_at is not null
      and coalesce(one.job->'over', 'null') = 'null'
      and not exists (
        select from visit as later, jsonb_array_elements(later.jobs) as ended(job)
        where later.firm_id = visit.firm_id and later.basin_id = visit.basin_id and later.jobs is not null
          and ended.job->>'id' = one.job->>'id' and coalesce(ended.job->'over', 'null') <> 'null')
    order by visit.started_at`.execute(scope);
  const found = new Map<string, OpenJob[]>();
  for (const { basinId, job: row, last } of rows) {
    const job = jobFrom(row);
    const begun = dayIn(job.begunAt, timeZone);
    const next = nextDayOf(job.kind, {
      begun,
      last: dayIn(last, timeZone),
      lastWasMorning: hourIn(last, timeZone) < EVENING_FROM,
    });
    found.set(basinId, [...(found.get(basinId) ?? []), { basinId, job, begun, next }]);
  }
  return found;
}

/** Whether a job wants a call on a day: from the day of its next call on, while nobody was there. */
export const calledByJob = (jobs: readonly OpenJob[] | undefined, day: string): boolean =>
  (jobs ?? []).some(({ next }) => next !== null && next <= day);

/** Day of a job, 1 the one on which it was begun. */
export const dayOfJob = ({ begun }: Pick<OpenJob, "begun">, day: string): number =>
  daysBetween(begun, day) + 1;
