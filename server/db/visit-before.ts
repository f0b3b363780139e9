import { type RawBuilder, sql } from "kysely";
import {
  type Basin,
  besideDisplay,
  isPlantKind,
  type Job,
  type JobBefore,
  type Look,
  type OpenDefect,
  type PlantSeen,
  placeOf,
  waterFromValues,
} from "#core";

/** What a visit brings along of the visits before it: parts of its one statement, and what they come to. */

/** Visits back of which gauges are told, of those at which one was read. */
const PLANT_VISITS = 12;

export interface PlantBeforeRow {
  kind: string;
  value: number;
  changed: boolean;
  at: string;
  ph: number | null;
  chlorine: number | null;
  stabiliser: number | null;
}

/** What was read off the plant at the last visits before `visit`, the earliest first. */
export const plantBeforeQuery: RawBuilder<unknown> = sql`
  select seen.kind, seen.value, seen.changed, seen.at, beside.ph, beside.chlorine, beside.stabiliser
from (
  select other.id, other.firm_id, other.started_at from visit as other
  where other.firm_id = visit.firm_id and other.basin_id = visit.basin_id and other.id <> visit.id
    and other.finished_at is not null and other.started_at < visit.started_at
    and exists (
  select from plant_reading where plant_reading.firm_id = other.firm_id
    and plant_reading.visit_id = other.id and plant_reading.superseded_at is null)
  order by other.started_at desc limit ${sql.lit(PLANT_VISITS)}
) as other
cross join lateral (
  select plant_reading.kind, plant_reading.value, plant_reading.changed, plant_reading.at from plant_reading
  where plant_reading.firm_id = other.firm_id and plant_reading.visit_id = other.id
    and plant_reading.superseded_at is null offset 0
) as seen
cross join lateral (
  select max(reading.value) filter (where reading.quantity = 'ph') as ph,
    max(reading.value) filter (where reading.quantity = 'freeChlorine') as chlorine,
    max(reading.value) filter (where reading.quantity = 'cyanuricAcid') as stabiliser
  from reading where reading.firm_id = other.firm_id and reading.visit_id = other.id
    and reading.superseded_at is null and reading.used and reading.round = 0
) as beside
order by other.started_at, seen.at`;

/** Each with what the drops of its visit came to; cyanuric acid is carried, for it is tested seldom. */
export function plantSeen(
  rows: readonly PlantBeforeRow[],
  earlier: readonly { quantity: string; value: number }[],
  basin: Basin,
): PlantSeen[] {
  const first = rows.find(({ stabiliser }) => stabiliser !== null)?.stabiliser;
  let carried = first ?? earlier.find(({ quantity }) => quantity === "cyanuricAcid")?.value ?? null;
  return rows.flatMap(({ kind, value, changed, at, ph, chlorine, stabiliser }) => {
    carried = stabiliser ?? carried;
    if (!isPlantKind(kind)) return [];
    const { water } = waterFromValues(
      carried === null ? [] : [{ quantity: "cyanuricAcid", value: carried }],
      placeOf(basin),
    );
    const drops = besideDisplay(kind, { ph: ph ?? undefined, freeChlorine: chlorine ?? undefined, water });
    return [{ kind, value, changed, at: new Date(at), drops }];
  });
}

export interface DefectRow {
  id: string;
  title: string;
  photoId: string | null;
  by: string;
  at: string;
  visitId: string;
  quote: { amount: number; approvedBy: string | null } | null;
}

/** The newest offer for a defect, as JSON. */
const quoteOfDefect = sql`(
  select json_build_object('amount', quote.amount, 'approvedBy', quote.approved_by)
  from quote where quote.firm_id = defect.firm_id and quote.defect_id = defect.id
  order by quote.version desc limit 1)`;

const defectColumns = sql`defect.id, defect.title, defect.photo_id as "photoId", defect.seen_at as at,
  defect.visit_id as "visitId", (select name from member where member.id = defect.member_id) as "by",
  ${quoteOfDefect} as quote`;

/** What visits before `visit` have seen broken and none before it has mended. */
export const defectsBeforeQuery: RawBuilder<unknown> = sql`
  select ${defectColumns} from defect
  where defect.firm_id = visit.firm_id and defect.basin_id = visit.basin_id and defect.visit_id <> visit.id
    and defect.seen_at < coalesce(visit.finished_at, 'infinity') and defect.dropped_at is null
    and (defect.mended_at is null or defect.mended_visit = visit.id)
  order by defect.seen_at`;

/** What `visit` has seen broken. */
export const defectsHereQuery: RawBuilder<unknown> = sql`
  select ${defectColumns} from defect
  where defect.firm_id = visit.firm_id and defect.visit_id = visit.id order by defect.seen_at`;

/** What `visit` has mended. */
export const mendedHereQuery: RawBuilder<unknown> = sql`
  select coalesce(json_agg(defect.id), '[]'::json) from defect
  where defect.firm_id = visit.firm_id and defect.basin_id = visit.basin_id and defect.mended_visit = visit.id`;

export const defectFrom = ({ at, ...defect }: DefectRow): OpenDefect => ({ ...defect, at: new Date(at) });

/** A job as JSON has it. */
export type JobRow = Omit<Job, "begunAt" | "over"> & {
  begunAt: string;
  over: (Omit<NonNullable<Job["over"]>, "at"> & { at: string }) | null;
};

export const jobFrom = ({ begunAt, over, ...job }: JobRow): Job => ({
  ...job,
  begunAt: new Date(begunAt),
  over: over && { ...over, at: new Date(over.at) },
});

interface ReadAt {
  value: number;
  at: string;
}

export interface JobBeforeRow {
  job: JobRow;
  calls: { at: string; look: Look | null; sight: number | null; read: ReadAt[] }[];
}

/** Jobs that visits before `visit` have begun and none of them has ended, with what their calls found. */
export const jobsBeforeQuery: RawBuilder<unknown> = sql`
  select begun.job, (
    select coalesce(json_agg(row_to_json(call) order by call.at), '[]'::json) from (
      select other.started_at as at, other.look,
        (select plant_reading.value from plant_reading
          where plant_reading.firm_id = other.firm_id and plant_reading.visit_id = other.id
            and plant_reading.kind = 'sight' and plant_reading.superseded_at is null) as sight,
        (select coalesce(json_agg(json_build_object('value', reading.value, 'at', reading.taken_at)
            order by reading.taken_at), '[]'::json)
          from reading where reading.firm_id = other.firm_id and reading.visit_id = other.id
            and reading.quantity = 'freeChlorine' and reading.superseded_at is null and reading.used) as read
      from visit as other
      where other.firm_id = visit.firm_id and other.basin_id = visit.basin_id and other.id <> visit.id
        and other.started_at >= begun.started_at and other.started_at < visit.started_at
    ) as call) as calls
  from (
    select one.job, other.started_at
    from visit as other, jsonb_array_elements(other.jobs) as one(job)
    where other.firm_id = visit.firm_id and other.basin_id = visit.basin_id and other.id <> visit.id
      and other.jobs is not null and other.started_at < visit.started_at
      and coalesce(one.job->'over', 'null') = 'null'
      and not exists (
        select from visit as later, jsonb_array_elements(later.jobs) as ended(job)
        where later.firm_id = visit.firm_id and later.basin_id = visit.basin_id and later.id <> visit.id
          and later.jobs is not null and later.started_at < visit.started_at
          and ended.job->>'id' = one.job->>'id' and coalesce(ended.job->'over', 'null') <> 'null')
  ) as begun
  order by begun.started_at`;

export function jobsBefore({ job, calls }: JobBeforeRow): JobBefore {
  const readAt = (one: ReadAt | undefined) => (one ? { value: one.value, at: new Date(one.at) } : null);
  return {
    job: jobFrom(job),
    calls: calls.map(({ at, look, sight, read }) => ({
      at: new Date(at),
      look,
      sight,
      first: readAt(read.at(0)),
      last: readAt(read.at(-1)),
    })),
  };
}
