import { sql } from "kysely";
import {
  BASIN_KINDS,
  type BasinKind,
  dayIn,
  filterIsFull,
  InputFault,
  isWorkKey,
  usualWork,
  type VisitMoment,
  type WorkDone,
  type WorkList,
  type WorkMinutes,
} from "#core";
import { workListSchema } from "#core/schemas";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** What is done at calls besides the water: the lists of a firm, and what was done. Versions are added, never changed. */

export interface KeptWorkList {
  kind: BasinKind;
  /** 0 while the firm has none of its own. */
  version: number;
  list: WorkList;
  /** Who made this version; null of the usual one. */
  by: string | null;
}

/** The list of every kind of basin, as it is now. */
export async function workListsOf(scope: FirmScope): Promise<Map<BasinKind, KeptWorkList>> {
  const rows = await scope
    .selectFrom("work_list")
    .innerJoin("member", "member.id", "work_list.member_id")
    .distinctOn("work_list.kind")
    .select(["work_list.kind", "work_list.version", "work_list.content", "member.name as by"])
    .orderBy("work_list.kind")
    .orderBy("work_list.version", "desc")
    .execute();
  const own = new Map(rows.map((row) => [row.kind, row]));
  return new Map(
    BASIN_KINDS.map((kind): [BasinKind, KeptWorkList] => {
      const row = own.get(kind);
      return [
        kind,
        row
          ? { kind, version: row.version, list: workListFrom(row.content), by: row.by }
          : { kind, version: 0, list: usualWork(kind), by: null },
      ];
    }),
  );
}

/** A list as it stands in its row. @throws ValidationError where it is none */
export function workListFrom(content: unknown): WorkList {
  const { value, error } = workListSchema.validate(content);
  if (error) throw error;
  return value;
}

/**
 * Adds a version to the list of a kind, under a key that the client made.
 * @throws InputFault "changed" when somebody saved another version meanwhile
 */
export async function saveWorkList(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  sent: { id: string; kind: BasinKind; basedOn: number; list: WorkList },
): Promise<void> {
  const newest = (await workListsOf(scope)).get(sent.kind)?.version ?? 0;
  if (newest !== sent.basedOn) throw new InputFault("changed", "version", sent.basedOn, newest);
  await scope
    .insertInto("work_list")
    .values({
      id: sent.id,
      firm_id: author.firmId,
      kind: sent.kind,
      version: newest + 1,
      content: JSON.stringify(sent.list),
      member_id: author.memberId,
      created_at: author.now,
    })
    .execute();
}

/** When each piece of work was last done at these basins, as the day in a time zone. */
export async function workLastDone(
  scope: FirmScope,
  basinIds: readonly string[],
  timeZone: string,
): Promise<Map<string, Record<string, string>>> {
  const found = new Map<string, Record<string, string>>();
  if (basinIds.length === 0) return found;
  const { rows } = await sql<{ basinId: string; key: string; at: Date }>`
    select visit.basin_id as "basinId", work.key, max(work.at) as at
    from visit cross join lateral (
      select visit_work.key, visit_work.at from visit_work
      where visit_work.firm_id = visit.firm_id and visit_work.visit_id = visit.id
        and visit_work.superseded_at is null and visit_work.state = 'done' offset 0
    ) as work
    where visit.basin_id = ${anyOf(basinIds)}
    group by visit.basin_id, work.key`.execute(scope);
  for (const { basinId, key, at } of rows)
    found.set(basinId, { ...found.get(basinId), [key]: dayIn(at, timeZone) });
  return found;
}

/** What was done at these visits, in the order in which it was. */
export async function workOfVisits(
  scope: FirmScope,
  visitIds: readonly string[],
): Promise<(Pick<WorkDone, "key" | "name" | "state" | "why" | "at"> & { visitId: string })[]> {
  const rows = await scope
    .selectFrom("visit_work")
    .select(["visit_id as visitId", "key", "name", "state", "why", "at"])
    .where("visit_id", "=", anyOf(visitIds))
    .where("superseded_at", "is", null)
    .orderBy("at")
    .execute();
  return rows.flatMap(({ state, ...row }) =>
    (state === "done" || state === "skipped") && (row.name !== "" || isWorkKey(row.key))
      ? [{ ...row, state }]
      : [],
  );
}

/** The day on which the filter's pressure last said that it wants cleaning, by basin; those whose last one did not are left out. */
export async function filtersFull(
  scope: FirmScope,
  basinIds: readonly string[],
  timeZone: string,
): Promise<Map<string, string>> {
  if (basinIds.length === 0) return new Map();
  const { rows } = await sql<{ basinId: string; now: number | null; at: Date | null; clean: number | null }>`
    select visit.basin_id as "basinId",
      (array_agg(seen.value order by seen.at desc) filter (where seen.kind = 'filterPressure'))[1] as now,
      max(seen.at) filter (where seen.kind = 'filterPressure') as at,
      (array_agg(seen.value order by seen.at desc) filter (where seen.kind = 'cleanPressure'))[1] as clean
    from visit cross join lateral (
      select plant_reading.kind, plant_reading.value, plant_reading.at from plant_reading
      where plant_reading.firm_id = visit.firm_id and plant_reading.visit_id = visit.id
        and plant_reading.superseded_at is null and plant_reading.kind in ('filterPressure', 'cleanPressure') offset 0
    ) as seen
    where visit.basin_id = ${anyOf(basinIds)}
    group by visit.basin_id`.execute(scope);
  return new Map(
    rows.flatMap(({ basinId, now, at, clean }) =>
      at && filterIsFull(now ?? undefined, clean ?? undefined) ? [[basinId, dayIn(at, timeZone)]] : [],
    ),
  );
}

/** What was written down at visits since a moment where work was done: what its minutes are learned from. */
export async function workMoments(scope: FirmScope, since: Date): Promise<VisitMoment[]> {
  const { rows } = await sql<{ visitId: string; key: string | null; at: Date }>`
    with visited as (
      select distinct visit_id from visit_work
      where at > ${since} and superseded_at is null and state = 'done'
    )
    select visit_work.visit_id as "visitId", visit_work.key, visit_work.at
    from visited join visit_work using (visit_id)
    where visit_work.superseded_at is null and visit_work.state = 'done'
    union all
    select visit.id, null, visit.started_at from visited join visit on visit.id = visited.visit_id
    union all
    select reading.visit_id, null, reading.taken_at from visited join reading using (visit_id)
    union all
    select dose.visit_id, null, dose.given_at from visited join dose using (visit_id)
    union all
    select plant_reading.visit_id, null, plant_reading.at from visited join plant_reading using (visit_id)`.execute(
    scope,
  );
  return rows.map((row) => ({ ...row, at: row.at.getTime() }));
}

/** Keeps the minutes of each piece of work for the firm. */
export async function saveWorkMinutes(scope: FirmScope, minutes: Record<string, WorkMinutes>): Promise<void> {
  await scope
    .updateTable("firm")
    .set({ work_minutes: JSON.stringify(minutes) })
    .execute();
}
