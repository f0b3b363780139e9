import { sql } from "kysely";
import { InputFault, type Task } from "#core";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** What a day does otherwise than the basins' plans say, events ahead, and tasks done. */

export interface CallChange {
  basinId: string;
  position: number | null;
  memberId: string | null;
  skipped: { why: string; by: string } | null;
  /** It moved: to that day, or out of the week. */
  gone: { to: string | null; by: string } | null;
}

/** The day's version: 0 while nobody has changed anything. */
export async function roundVersion(scope: FirmScope, day: string): Promise<number> {
  const row = await scope
    .selectFrom("round_day")
    .select("version")
    .where("day", "=", sql<Date>`${day}::date`)
    .executeTakeFirst();
  return row?.version ?? 0;
}

/** Changes to the calls of a day. */
export async function callChanges(scope: FirmScope, day: string): Promise<CallChange[]> {
  const rows = await scope
    .selectFrom("round_call")
    .leftJoin("member", (join) =>
      join.on((on) => on("member.id", "=", on.fn.coalesce("round_call.skipped_by", "round_call.gone_by"))),
    )
    .select([
      "basin_id",
      "position",
      "round_call.member_id",
      "skipped_at",
      "why",
      "gone_at",
      sql<string | null>`gone_to::text`.as("gone_to"),
      "member.name as by",
    ])
    .where("day", "=", sql<Date>`${day}::date`)
    .execute();
  return rows.map((row) => ({
    basinId: row.basin_id,
    position: row.position,
    memberId: row.member_id,
    skipped: row.skipped_at ? { why: row.why, by: row.by ?? "" } : null,
    gone: row.gone_at ? { to: row.gone_to, by: row.by ?? "" } : null,
  }));
}

export interface ChangeAhead {
  day: string;
  basinId: string;
  memberId: string | null;
  position: number | null;
  skipped: boolean;
  gone: boolean;
}

/** Changes to the calls of a span of days, both ends included. */
export async function callChangesBetween(scope: FirmScope, from: string, to: string): Promise<ChangeAhead[]> {
  const rows = await scope
    .selectFrom("round_call")
    .select([sql<string>`day::text`.as("day"), "basin_id", "member_id", "position", "skipped_at", "gone_at"])
    .where("day", ">=", sql<Date>`${from}::date`)
    .where("day", "<=", sql<Date>`${to}::date`)
    .execute();
  return rows.map((row) => ({
    day: row.day,
    basinId: row.basin_id,
    memberId: row.member_id,
    position: row.position,
    skipped: row.skipped_at !== null,
    gone: row.gone_at !== null,
  }));
}

/**
 * Takes the day for one change.
 * @throws InputFault "changed" when somebody else changed it since `version` was read
 */
export async function takeDay(scope: FirmScope, firmId: string, day: string, version: number): Promise<void> {
  const taken = await sql`
    insert into round_day (firm_id, day, version) values (${firmId}, ${day}::date, ${version + 1})
    on conflict (firm_id, day) do update set version = round_day.version + 1
    where round_day.version = ${version}`.execute(scope);
  const fresh = version === 0 || (await roundVersion(scope, day)) === version + 1;
  if (Number(taken.numAffectedRows) !== 1 || !fresh) throw new InputFault("changed", "round", day);
}

interface PutCall {
  basinId: string;
  position?: number | null;
  memberId?: string | null;
  skipped?: { why: string; by: string; at: Date } | null;
  gone?: { to: string | null; by: string; at: Date } | null;
}

/** Writes what differs for one call of a day; what is left out stays as it was. */
export async function putCall(scope: FirmScope, firmId: string, day: string, call: PutCall): Promise<void> {
  const values = {
    ...(call.position === undefined ? {} : { position: call.position }),
    ...(call.memberId === undefined ? {} : { member_id: call.memberId }),
    ...(call.skipped === undefined
      ? {}
      : {
          skipped_at: call.skipped?.at ?? null,
          skipped_by: call.skipped?.by ?? null,
          why: call.skipped?.why ?? "",
        }),
    ...(call.gone === undefined
      ? {}
      : {
          gone_at: call.gone?.at ?? null,
          gone_by: call.gone?.by ?? null,
          gone_to: call.gone?.to ? sql<Date>`${call.gone.to}::date` : null,
        }),
  };
  await scope
    .insertInto("round_call")
    .values({ firm_id: firmId, day: sql<Date>`${day}::date`, basin_id: call.basinId, ...values })
    .onConflict((conflict) =>
      Object.keys(values).length > 0
        ? conflict.columns(["firm_id", "day", "basin_id"]).doUpdateSet(values)
        : conflict.doNothing(),
    )
    .execute();
}

/** The day that a call was moved to from a day; null where it was not moved. */
export async function goneTo(scope: FirmScope, day: string, basinId: string): Promise<string | null> {
  const row = await scope
    .selectFrom("round_call")
    .select(sql<string | null>`gone_to::text`.as("to"))
    .where("day", "=", sql<Date>`${day}::date`)
    .where("basin_id", "=", basinId)
    .executeTakeFirst();
  return row?.to ?? null;
}

/** A call that moves on: the days that it had before say where it is now. */
export const followCall = (scope: FirmScope, basinId: string, from: string, to: string | null) =>
  scope
    .updateTable("round_call")
    .set({ gone_to: to === null ? null : sql<Date>`${to}::date` })
    .where("basin_id", "=", basinId)
    .where("gone_to", "=", sql<Date>`${from}::date`)
    .execute();

/** Takes what a day does otherwise for a basin away: the day is as its plan says. */
export const dropCall = (scope: FirmScope, day: string, basinId: string) =>
  scope
    .deleteFrom("round_call")
    .where("day", "=", sql<Date>`${day}::date`)
    .where("basin_id", "=", basinId)
    .execute();

/** The versions of some days; one that nobody has changed is not in it. */
export async function roundVersions(
  scope: FirmScope,
  from: string,
  to: string,
): Promise<Map<string, number>> {
  const rows = await scope
    .selectFrom("round_day")
    .select([sql<string>`day::text`.as("day"), "version"])
    .where("day", ">=", sql<Date>`${from}::date`)
    .where("day", "<=", sql<Date>`${to}::date`)
    .execute();
  return new Map(rows.map(({ day, version }) => [day, version]));
}

/** Days on which calls were skipped, or moved away from, by basin, since a day. */
export async function skippedSince(scope: FirmScope, from: string): Promise<Set<string>> {
  const rows = await scope
    .selectFrom("round_call")
    .select(["basin_id", sql<string>`day::text`.as("day")])
    .where("day", ">=", sql<Date>`${from}::date`)
    .where((or) => or.or([or("skipped_at", "is not", null), or("gone_at", "is not", null)]))
    .execute();
  return new Set(rows.map((row) => `${row.basin_id} ${row.day}`));
}

export interface BasinEvent {
  id: string;
  basinId: string;
  day: string;
  name: string;
}

/** Events in a span of days, the earliest first. */
export const eventsBetween = (scope: FirmScope, from: string, to: string): Promise<BasinEvent[]> =>
  scope
    .selectFrom("basin_event")
    .select(["id", "basin_id as basinId", sql<string>`day::text`.as("day"), "name"])
    .where("removed_at", "is", null)
    .where("day", ">=", sql<Date>`${from}::date`)
    .where("day", "<=", sql<Date>`${to}::date`)
    .orderBy("day")
    .execute();

/** Puts an event on a basin's calendar under a key that the client made. */
export async function saveEvent(
  scope: FirmScope,
  author: { firmId: string; memberId: string },
  event: BasinEvent,
): Promise<void> {
  await scope
    .insertInto("basin_event")
    .values({
      id: event.id,
      firm_id: author.firmId,
      basin_id: event.basinId,
      day: sql<Date>`${event.day}::date`,
      name: event.name,
      made_by: author.memberId,
    })
    .execute();
}

export async function removeEvent(scope: FirmScope, id: string, now: Date): Promise<void> {
  await scope.updateTable("basin_event").set({ removed_at: now }).where("id", "=", id).execute();
}

/** Notes that a task was done. The same key again changes nothing. */
export async function saveTaskDone(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  { id, basinId, task }: { id: string; basinId: string; task: Task },
): Promise<void> {
  await scope
    .insertInto("task_done")
    .values({
      id,
      firm_id: author.firmId,
      basin_id: basinId,
      member_id: author.memberId,
      task,
      done_at: author.now,
    })
    .execute();
}

/** When each task was last done at these basins. */
export async function tasksDone(
  scope: FirmScope,
  basinIds: string[],
): Promise<{ basinId: string; task: string; at: Date }[]> {
  if (basinIds.length === 0) return [];
  return scope
    .selectFrom("task_done")
    .select((row) => ["basin_id as basinId", "task", row.fn.max("done_at").as("at")])
    .where("basin_id", "=", anyOf(basinIds))
    .groupBy(["basin_id", "task"])
    .execute();
}
