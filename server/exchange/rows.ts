import { sql } from "kysely";
import type { FirmScope } from "../db/connection";
import type { Column, Row, Shape } from "./shape";

/** Rows of the database as they stand in a file, and back. */

/** What is selected for a column: days as text, everything else as it is. */
const selected = ({ name, type }: Column) =>
  type === "day"
    ? sql`${sql.ref(name)}::text as ${sql.ref(name)}`
    : type === "since"
      ? sql`case when isfinite(${sql.ref(name)}) then ${sql.ref(name)} end as ${sql.ref(name)}`
      : sql.ref(name);

function out(value: unknown): unknown {
  if (value instanceof Date) return value.toISOString();
  if (Buffer.isBuffer(value)) return value.toString("base64");
  return value;
}

function into(value: unknown, type: Column["type"]): unknown {
  if (type === "since") return value ?? "-infinity";
  if (value === null) return null;
  if (type === "json" || type === "list" || type === "kit" || type === "set") return JSON.stringify(value);
  if (type === "bytes") return Buffer.from(String(value), "base64");
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
  return rows.map((row) => ({
    key: String(row["parent key"] ?? ""),
    row: Object.fromEntries(columns.map(({ name, as }) => [as, out(row[name])])),
  }));
}

/** PostgreSQL takes this many parameters in a statement. */
const MOST_PARAMETERS = 60_000;

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
  const size = Math.max(1, Math.floor(MOST_PARAMETERS / names.length));
  for (let start = 0; start < rows.length; start += size) {
    const values = rows
      .slice(start, start + size)
      .map((row, index) => [
        ...columns.map(({ as, type }) => sql.val(into(row[as], type))),
        ...Object.values(extra[start + index] ?? {}).map((value) => sql.val(value)),
        sql.val(firmId),
      ]);
    const { rows: done } = await sql<{ id?: string }>`
      insert into ${sql.table(table)} (${sql.join(names.map((name) => sql.ref(name)))})
      values ${sql.join(values.map((row) => sql`(${sql.join(row)})`))}
      on conflict do nothing ${hasId ? sql`returning id` : sql``}`.execute(scope);
    for (const { id } of done) if (id) written.add(id);
  }
  return written;
}
