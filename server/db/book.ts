import { type RawBuilder, sql } from "kysely";
import type { Untested } from "#core";
import type { FirmScope } from "./connection";

/** The book: every finished visit of the firm, searched and filtered, a page at a time. */

export interface BookFilter {
  /** In the basin's, the site's or the member's name, or in the note. */
  text: string;
  basinId: string | null;
  memberId: string | null;
  /** Code of a finding, as "totalAlkalinity.low". */
  finding: string | null;
  /** Calendar days of the firm's zone, both included; 2026-05-01. */
  from: string | null;
  to: string | null;
}

/** Where a page goes on: after the visit that began then. */
export interface BookPlace {
  startedAt: Date;
  id: string;
}

export interface BookRow {
  id: string;
  startedAt: Date;
  finishedAt: Date;
  basinId: string;
  basinName: string;
  siteName: string;
  memberName: string;
  note: string;
  /** Why nobody tested the water; null where somebody did. */
  untested: Untested | null;
}

/** A page of the book from the newest, after `after`. */
export async function bookPage(
  scope: FirmScope,
  filter: BookFilter,
  after: BookPlace | null,
  limit: number,
  timeZone: string,
): Promise<BookRow[]> {
  const conditions: RawBuilder<boolean>[] = [sql<boolean>`visit.finished_at is not null`];
  if (after)
    conditions.push(sql`(visit.started_at, visit.id) < (${after.startedAt}::timestamptz, ${after.id}::uuid)`);
  if (filter.basinId) conditions.push(sql`visit.basin_id = ${filter.basinId}`);
  if (filter.memberId) conditions.push(sql`visit.member_id = ${filter.memberId}`);
  if (filter.from)
    conditions.push(sql`visit.started_at >= (${filter.from}::date)::timestamp at time zone ${timeZone}`);
  if (filter.to)
    conditions.push(sql`visit.started_at < (${filter.to}::date + 1)::timestamp at time zone ${timeZone}`);
  if (filter.finding)
    conditions.push(sql`exists (
      select from finding where finding.firm_id = visit.firm_id and finding.visit_id = visit.id
        and finding.code = ${filter.finding})`);
  if (filter.text) {
    const like = `%${filter.text.replace(/[\\%_]/g, "\\$&")}%`;
    conditions.push(
      sql`(basin.name ilike ${like} or site.name ilike ${like} or member.name ilike ${like} or visit.note ilike ${like})`,
    );
  }
  const { rows } = await sql<BookRow>`
    select visit.id, visit.started_at as "startedAt", visit.finished_at as "finishedAt", visit.basin_id as "basinId", basin.name as "basinName",
      site.name as "siteName", member.name as "memberName", visit.note, visit.untested
    from visit
    join basin on basin.id = visit.basin_id
    join site on site.id = basin.site_id
    join member on member.id = visit.member_id
    where ${sql.join(conditions, sql` and `)}
    order by visit.started_at desc, visit.id desc
    limit ${limit}`.execute(scope);
  return rows;
}
