import { sql } from "kysely";
import type { Column, Row, Shape } from "../exchange/shape";
import type { FirmScope } from "./connection";

/** Rows of the database as they stand in a file, and back. */

/** An instant as ISO text, written by the database: it has the other processor while this one writes JSON. */
const instant = (name: string, fraction: "MS" | "US" = "MS") =>
  sql`to_char(${sql.ref(name)} at time zone 'UTC', ${`YYYY-MM-DD"T"HH24:MI:SS.${fraction}"Z"`})`;

/** What is selected for a column: days and instants as text, everything else as it is. */
function selected({ name, type }: Column) {
  const as = sql.ref(name);
  switch (type) {
    case "day":
      return sql`${as}::text as ${as}`;
    case "time":
      return sql`${instant(name)} as ${as}`;
    case "since":
      return sql`case when isfinite(${as}) then ${instant(name)} end as ${as}`;
    default:
      return as;
  }
}

/** A row under the names of the file. Plain assignments: half a million rows pass here on their way out. */
function out(columns: Column[], row: Row): Row {
  const written: Row = {};
  for (const { name, as } of columns) {
    const value = row[name];
    written[as] = Buffer.isBuffer(value) ? value.toString("base64") : value;
  }
  return written;
}

/** A value as `json_populate_recordset` takes it. */
function into(value: unknown, type: Column["type"]): unknown {
  if (type === "since") return value ?? "-infinity";
  if (type === "bytes" && value !== null) return `\\x${Buffer.from(String(value), "base64").toString("hex")}`;
  return value;
}

/** Rows of a table whose `column` is one of `keys`, or all of them, in the order given. */
export async function readRows(
  scope: FirmScope,
  { table, columns }: Shape,
  by: { column: string; keys: string[] } | null,
  order: string,
): Promise<{ key: string; row: Row }[]> {
  const { rows } = await sql<Row>`
    select ${sql.join(columns.map(selected))}${by ? sql`, ${sql.ref(by.column)} as "parent key"` : sql``}
    from ${sql.table(table)}
    ${by ? sql`where ${sql.ref(by.column)} = any(${sql.val(by.keys)}::uuid[])` : sql``}
    order by ${sql.raw(order)}`.execute(scope);
  return rows.map((row) => ({ key: String(row["parent key"] ?? ""), row: out(columns, row) }));
}

/** Rows of a table by their ids, from the one after `after` on. */
export async function rowsAfter(
  scope: FirmScope,
  { table, columns }: Shape,
  after: string | null,
  limit: number,
): Promise<Row[]> {
  const { rows } = await sql<Row>`
    select ${sql.join(columns.map(selected))} from ${sql.table(table)}
    where ${after === null ? sql`true` : sql`id > ${after}::uuid`} order by id limit ${limit}`.execute(scope);
  return rows.map((row) => out(columns, row));
}

export interface ReadingFilter {
  basinId: string;
  quantity: string | null;
  /** Calendar days of the firm's zone, both included. */
  from: string | null;
  to: string | null;
}

/** A basin's readings that count, with the ids of their visits, the oldest first, from the one after `after` on. */
export async function readingsAfter(
  scope: FirmScope,
  { columns }: Shape,
  { basinId, quantity, from, to }: ReadingFilter,
  after: { at: string; id: string } | null,
  { limit, timeZone }: { limit: number; timeZone: string },
): Promise<Row[]> {
  const conditions = [
    sql`basin_id = ${basinId}`,
    sql`superseded_at is null and used`,
    ...(quantity ? [sql`quantity = ${quantity}`] : []),
    ...(from ? [sql`taken_at >= (${from}::date)::timestamp at time zone ${timeZone}`] : []),
    ...(to ? [sql`taken_at < (${to}::date + 1)::timestamp at time zone ${timeZone}`] : []),
    ...(after ? [sql`(taken_at, id) > (${after.at}::timestamptz, ${after.id}::uuid)`] : []),
  ];
  const { rows } = await sql<Row>`
    select ${sql.join(columns.map(selected))}, visit_id, ${instant("taken_at", "US")} as place
    from reading where ${sql.join(conditions, sql` and `)}
    order by taken_at, id limit ${limit}`.execute(scope);
  return rows.map((row) => ({ ...out(columns, row), visitId: row.visit_id, place: row.place }));
}

/** Rows that go in with one statement. */
const AT_ONCE = 2000;

/**
 * Puts rows in; those whose key is there already are left as they are.
 * @returns the ids of what was new, where the table has one
 */
export async function writeRows(
  scope: FirmScope,
  { table, columns }: Shape,
  firmId: string,
  rows: Row[],
  extra: Record<string, unknown>[] = [],
): Promise<Set<string>> {
  const names = [...columns.map((column) => column.name), ...Object.keys(extra[0] ?? {}), "firm_id"];
  const hasId = names.includes("id");
  const written = new Set<string>();
  for (let start = 0; start < rows.length; start += AT_ONCE) {
    const values = rows.slice(start, start + AT_ONCE).map((row, index) => ({
      ...Object.fromEntries(columns.map(({ name, as, type }) => [name, into(row[as], type)])),
      ...extra[start + index],
      firm_id: firmId,
    }));
    // One parameter holds them all: the database turns them into rows of the table faster than we can name them.
    const { rows: done } = await sql<{ id?: string }>`
      insert into ${sql.table(table)} (${sql.join(names.map((name) => sql.ref(name)))})
      select ${sql.join(names.map((name) => sql.ref(`given.${name}`)))}
      from json_populate_recordset(null::${sql.table(table)}, ${JSON.stringify(values)}::json) as given
      on conflict do nothing ${hasId ? sql`returning id` : sql``}`.execute(scope);
    for (const { id } of done) if (id) written.add(id);
  }
  return written;
}

/** Of these ids, how many stand in no row that this firm can see. */
export async function notHere(scope: FirmScope, { table }: Shape, ids: string[]): Promise<number> {
  const { rows } = await sql<{ here: string }>`
    select count(*) as here from ${sql.table(table)} where id = any(${sql.val(ids)}::uuid[])`.execute(scope);
  return new Set(ids).size - Number(rows[0]?.here ?? 0);
}

/** People whose rows stand in the book; nobody else's name goes out. */
const NAMED = sql`
  select member_id from visit union select member_id from reading union select member_id from dose
  union select member_id from plan union select member_id from plan_step union select member_id from photo
  union select member_id from kit where member_id is not null
  union select member_id from range_set where member_id is not null
  union select member_id from basin_volume union select made_by from basin_event
  union select member_id from task_done union select member_id from round_call union select skipped_by from round_call
  union select gone_by from round_call
  union select caller_id from basin where caller_id is not null`;

export async function membersNamed(scope: FirmScope): Promise<string[]> {
  const { rows } = await sql<{ id: string }>`
    select member_id as id from (${NAMED}) as named where member_id is not null`.execute(scope);
  return rows.map(({ id }) => id);
}
