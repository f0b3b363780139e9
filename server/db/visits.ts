import { sql } from "kysely";
import type {
  Bathing,
  Look,
  Notice,
  OpenedVisit,
  RangeOverrides,
  Sampling,
  Untested,
  WeatherDay,
} from "#core";
import type { FirmScope } from "./connection";

/** A visit as it was begun, and what is written of it as a whole. */
export type Visit = OpenedVisit["visit"] & {
  /** Whether the water might be used as it was left; null where nobody worked it out. */
  bathing: Bathing | null;
  untested: Untested | null;
};

const select = (scope: FirmScope) =>
  scope
    .selectFrom("visit")
    .innerJoin("member", "member.id", "visit.member_id")
    .select([
      "visit.id",
      "visit.basin_id as basinId",
      "visit.member_id as memberId",
      "member.name as memberName",
      "visit.kit_id as kitId",
      "visit.range_set_id as rangeSetId",
      "visit.litres",
      "visit.started_at as startedAt",
      "visit.finished_at as finishedAt",
      "visit.note",
      "visit.look",
      "visit.sampling",
      "visit.range_overrides as rangeOverrides",
      "visit.notices",
      "visit.weather",
      "visit.bathing",
      "visit.untested",
    ]);

type Row = Awaited<ReturnType<ReturnType<typeof select>["executeTakeFirstOrThrow"]>>;

const visitFrom = (row: Row): Visit => ({
  ...row,
  look: row.look as Look | null,
  sampling: row.sampling as Sampling | null,
  rangeOverrides: row.rangeOverrides as RangeOverrides | null,
  notices: row.notices as Notice[] | null,
  weather: row.weather as WeatherDay | null,
  bathing: row.bathing as Bathing | null,
  untested: row.untested as Untested | null,
});

/** One visit, or undefined when this firm has none under that id. */
export async function visitById(scope: FirmScope, id: string): Promise<Visit | undefined> {
  const row = await select(scope).where("visit.id", "=", id).executeTakeFirst();
  return row && visitFrom(row);
}

/** The visit under way at a basin. */
export async function openVisitAt(scope: FirmScope, basinId: string): Promise<Visit | undefined> {
  const row = await select(scope)
    .where("basin_id", "=", basinId)
    .where("finished_at", "is", null)
    .executeTakeFirst();
  return row && visitFrom(row);
}

/**
 * Starts a visit under a key that the client made, with the kit, range set and volume of this moment.
 * Sent again, or while another visit at the basin is under way, it changes nothing.
 *
 * @returns the id of the visit under way at the basin
 */
export async function startVisit(
  scope: FirmScope,
  visit: {
    id: string;
    basinId: string;
    memberId: string;
    startedAt: Date;
    /** The versions and the volume that it was begun with, away from here. */
    brought?: { kitId?: string; rangeSetId?: string; litres?: number };
  },
): Promise<string | undefined> {
  const { brought = {} } = visit;
  await scope
    .insertInto("visit")
    .columns([
      "id",
      "firm_id",
      "basin_id",
      "member_id",
      "kit_id",
      "range_set_id",
      "range_overrides",
      "litres",
      "started_at",
    ])
    .expression((from) =>
      from
        .selectFrom("basin")
        .select((row) => [
          row.val(visit.id).$castTo<string>().as("id"),
          "basin.firm_id",
          "basin.id as basin_id",
          row.val(visit.memberId).$castTo<string>().as("member_id"),
          sql<string>`coalesce(${brought.kitId ?? null}::uuid, basin.kit_id)`.as("kit_id"),
          sql<string>`coalesce(${brought.rangeSetId ?? null}::uuid, basin.range_set_id)`.as("range_set_id"),
          "basin.range_overrides",
          sql<number>`coalesce(${brought.litres ?? null}::double precision, basin.litres)`.as("litres"),
          sql<Date>`${visit.startedAt}::timestamptz`.as("started_at"),
        ])
        .where("basin.id", "=", visit.basinId),
    )
    .onConflict((conflict) => conflict.doNothing())
    .execute();
  const sent = await visitById(scope, visit.id);
  return sent?.id ?? (await openVisitAt(scope, visit.basinId))?.id;
}

/** The visit that one begun elsewhere became: where another was under way already, that one. */
export async function startedAs(scope: FirmScope, id: string): Promise<string | null> {
  const row = await scope.selectFrom("command").select("answer").where("id", "=", id).executeTakeFirst();
  return typeof row?.answer === "string" ? row.answer : null;
}

/** The book of a basin: visits from the newest, a page at a time from before `before`. */
export const visitsOfBasin = (scope: FirmScope, basinId: string, limit: number, before: Date | null) =>
  select(scope)
    .where("basin_id", "=", basinId)
    .where("finished_at", "is not", null)
    .$if(before !== null, (query) => query.where("started_at", "<", before ?? new Date()))
    .orderBy("started_at", "desc")
    .limit(limit)
    .execute();

/** Visits under way, by basin. */
export async function openVisits(scope: FirmScope): Promise<Map<string, { id: string; memberName: string }>> {
  const rows = await select(scope).where("finished_at", "is", null).execute();
  return new Map(rows.map((row) => [row.basinId, { id: row.id, memberName: row.memberName }]));
}

/** How many of these visits are in the book. */
export const visitsHere = async (scope: FirmScope, ids: string[]): Promise<number> =>
  (await scope.selectFrom("visit").select("id").where("id", "in", ids).execute()).length;
