import { sql } from "kysely";
import type { Measurement, Observation, Quantity } from "#core";
import { QUANTITIES, QUANTITY_NAMES } from "#core";
import type { FirmScope } from "./connection";

/** A saved reading: what it came to, and how it was seen. */
export interface StoredReading extends Measurement {
  id: string;
  visitId: string;
  quantity: Quantity;
  methodId: string;
  observation: Observation;
  takenAt: Date;
}

const isQuantity = (name: string): name is Quantity => QUANTITY_NAMES.some((known) => known === name);

const COLUMNS = [
  "reading.id",
  "reading.visit_id",
  "reading.quantity",
  "reading.value",
  "reading.low",
  "reading.high",
  "reading.bound",
  "reading.method_id",
  "reading.observation",
  "reading.taken_at",
] as const;

interface Row {
  id: string;
  visit_id: string;
  quantity: string;
  value: number;
  low: number | null;
  high: number | null;
  bound: string;
  method_id: string;
  observation: unknown;
  taken_at: Date;
}

function readingFrom(row: Row): StoredReading[] {
  if (!isQuantity(row.quantity)) return [];
  return [
    {
      id: row.id,
      visitId: row.visit_id,
      quantity: row.quantity,
      value: row.value,
      unit: QUANTITIES[row.quantity].unit,
      low: row.low,
      high: row.high,
      bound: row.bound as Measurement["bound"],
      methodId: row.method_id,
      observation: row.observation as Observation,
      takenAt: row.taken_at,
    },
  ];
}

const inOrder = (readings: StoredReading[]): StoredReading[] =>
  readings.sort((a, b) => QUANTITY_NAMES.indexOf(a.quantity) - QUANTITY_NAMES.indexOf(b.quantity));

/** The readings that stand, of these visits, in the order in which they are always told. */
export async function readingsOfVisits(scope: FirmScope, visitIds: string[]): Promise<StoredReading[]> {
  if (visitIds.length === 0) return [];
  const rows = await scope
    .selectFrom("reading")
    .select(COLUMNS)
    .where("visit_id", "in", visitIds)
    .where("superseded_at", "is", null)
    .execute();
  return inOrder(rows.flatMap(readingFrom));
}

/** The newest standing reading of each quantity at a basin, from finished visits before `before`. */
export async function lastReadings(
  scope: FirmScope,
  basinId: string,
  before: Date,
): Promise<StoredReading[]> {
  const rows = await sql<Row>`
    select ${sql.join(COLUMNS.map((column) => sql.ref(`newest.${column.split(".")[1]}`)))}
    from unnest(${sql.val(QUANTITY_NAMES)}::text[]) as wanted(quantity)
    cross join lateral (
      select reading.* from visit join reading on reading.firm_id = visit.firm_id and reading.visit_id = visit.id
      where visit.basin_id = ${basinId} and visit.started_at < ${before} and visit.finished_at is not null
        and reading.quantity = wanted.quantity and reading.superseded_at is null
      order by visit.started_at desc limit 1
    ) as newest`.execute(scope);
  return rows.rows.flatMap(readingFrom);
}

/**
 * Saves a reading under a key that the client made. One that stood for the same quantity in the visit
 * is superseded, not overwritten. The same key again changes nothing.
 *
 * @returns whether it was new
 */
export async function saveReading(
  scope: FirmScope,
  firmId: string,
  memberId: string,
  reading: StoredReading,
): Promise<boolean> {
  const known = await scope
    .selectFrom("reading")
    .select("id")
    .where("id", "=", reading.id)
    .executeTakeFirst();
  if (known) return false;
  const standing = await scope
    .updateTable("reading")
    .set({ superseded_at: reading.takenAt })
    .where("visit_id", "=", reading.visitId)
    .where("quantity", "=", reading.quantity)
    .where("superseded_at", "is", null)
    .returning("id")
    .executeTakeFirst();
  await scope
    .insertInto("reading")
    .values({
      id: reading.id,
      firm_id: firmId,
      visit_id: reading.visitId,
      member_id: memberId,
      quantity: reading.quantity,
      value: reading.value,
      low: reading.low,
      high: reading.high,
      bound: reading.bound,
      method_id: reading.methodId,
      observation: JSON.stringify(reading.observation),
      taken_at: reading.takenAt,
      supersedes: standing?.id ?? null,
    })
    .execute();
  return true;
}
