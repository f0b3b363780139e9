import { sql } from "kysely";
import {
  type BasinWishes,
  type CallWorth,
  type FirmWeek,
  type MemberWeek,
  NO_WISHES,
  type SitePlace,
  USUAL_FIRM_WEEK,
} from "#core";
import type { FirmScope } from "./connection";
import { LEARNER_VERSION } from "./learned";

/** What a week is drawn up from, beside calls and what was learned. */

/** What is wished of each basin, by its id; one of which nobody said anything is not in it. */
export async function wishesOf(scope: FirmScope): Promise<Map<string, BasinWishes>> {
  const rows = await scope.selectFrom("basin").select(["id", "week"]).where("week", "is not", null).execute();
  return new Map(rows.map(({ id, week }) => [id, { ...NO_WISHES, ...(week as Partial<BasinWishes>) }]));
}

export async function setWishes(scope: FirmScope, basinId: string, wishes: BasinWishes): Promise<void> {
  await scope
    .updateTable("basin")
    .set({ week: JSON.stringify(wishes) })
    .where("id", "=", basinId)
    .execute();
}

/** The weekdays on which a basin is called at, and every how many weeks. */
export async function setCallDays(
  scope: FirmScope,
  basinId: string,
  { callDays, everyWeeks }: { callDays: number[]; everyWeeks: number },
): Promise<void> {
  await scope
    .updateTable("basin")
    .set({ call_days: callDays, every_weeks: everyWeeks })
    .where("id", "=", basinId)
    .execute();
}

/** Who works when; those of whom nobody said it have null. */
export async function memberWeeks(
  scope: FirmScope,
): Promise<{ id: string; name: string; week: MemberWeek | null }[]> {
  const rows = await scope
    .selectFrom("member")
    .select(["id", "name", "week"])
    .where("role", "!=", "reader")
    .where("disabled_at", "is", null)
    .orderBy("name")
    .execute();
  return rows.map(({ week, ...row }) => ({ ...row, week: week as MemberWeek | null }));
}

export async function setMemberWeek(scope: FirmScope, memberId: string, week: MemberWeek): Promise<boolean> {
  const { numUpdatedRows } = await scope
    .updateTable("member")
    .set({ week: JSON.stringify(week) })
    .where("id", "=", memberId)
    .where("role", "!=", "reader")
    .executeTakeFirst();
  return numUpdatedRows === 1n;
}

export async function firmWeekOf(scope: FirmScope): Promise<FirmWeek> {
  const { week } = await scope.selectFrom("firm").select("week").executeTakeFirstOrThrow();
  return { ...USUAL_FIRM_WEEK, ...(week as Partial<FirmWeek> | null) };
}

export async function setFirmWeek(scope: FirmScope, week: FirmWeek): Promise<void> {
  await scope
    .updateTable("firm")
    .set({ week: JSON.stringify(week) })
    .execute();
}

/** Where each site lies, of those of which somebody said it. */
export async function placesOf(scope: FirmScope): Promise<Map<string, SitePlace>> {
  const rows = await scope
    .selectFrom("site")
    .select(["id", "place"])
    .where("place", "is not", null)
    .execute();
  return new Map(rows.map(({ id, place }) => [id, place as unknown as SitePlace]));
}

export async function setPlace(scope: FirmScope, siteId: string, place: SitePlace | null): Promise<void> {
  await scope
    .updateTable("site")
    .set({ place: place && JSON.stringify(place) })
    .where("id", "=", siteId)
    .execute();
}

/** What calls are worth at each basin, and when that was worked out. */
export async function worthsOf(scope: FirmScope): Promise<Map<string, { worth: CallWorth; at: Date }>> {
  const rows = await scope
    .selectFrom("learned")
    .select(["basin_id", "worth", "learned_at"])
    .where("worth", "is not", null)
    .where("version", "=", LEARNER_VERSION)
    .execute();
  return new Map(
    rows.map((row) => [row.basin_id, { worth: row.worth as unknown as CallWorth, at: row.learned_at }]),
  );
}

/** Calls that moved to a day of a span, and the day they had before. */
export async function movedTo(
  scope: FirmScope,
  from: string,
  to: string,
): Promise<{ basinId: string; from: string; to: string }[]> {
  const { rows } = await sql<{ basinId: string; from: string; to: string }>`
    select basin_id as "basinId", day::text as "from", gone_to::text as "to" from round_call
    where gone_to between ${from}::date and ${to}::date`.execute(scope);
  return rows;
}

/** Days of each basin's last finished visit, in a time zone. */
export async function lastCallDays(scope: FirmScope, timeZone: string): Promise<Map<string, string>> {
  const { rows } = await sql<{ id: string; day: string }>`
    select basin.id, (select (visit.started_at at time zone ${timeZone})::date::text from visit
      where visit.basin_id = basin.id and visit.finished_at is not null
      order by visit.started_at desc limit 1) as day
    from basin`.execute(scope);
  return new Map(rows.flatMap(({ id, day }) => (day ? [[id, day]] : [])));
}

/** kg of products that a call at each basin took in the mean, since a moment. */
export async function loadsOf(scope: FirmScope, since: Date): Promise<Map<string, number>> {
  const { rows } = await sql<{ id: string; kg: number }>`
    select visit.basin_id as id, coalesce(sum(dose.given_grams), 0) / 1000 / count(distinct visit.id) as kg
    from visit left join dose on dose.visit_id = visit.id and dose.firm_id = visit.firm_id and dose.superseded_at is null
    where visit.finished_at is not null and visit.started_at > ${since}
    group by visit.basin_id`.execute(scope);
  return new Map(rows.map(({ id, kg }) => [id, Number(kg)]));
}
