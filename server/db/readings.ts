import { type RawBuilder, sql } from "kysely";
import {
  type Doubt,
  isQuantity,
  type Measurement,
  type Observation,
  QUANTITIES,
  QUANTITY_NAMES,
  type Quantity,
  type VisitReading,
} from "#core";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

const COLUMNS = [
  "reading.id",
  "reading.visit_id",
  "reading.quantity",
  "reading.value",
  "reading.low",
  "reading.high",
  "reading.bound",
  "reading.kit_id",
  "reading.method_id",
  "reading.observation",
  "reading.doubts",
  "reading.taken_at",
  "reading.used",
  "reading.round",
  "reading.scatter",
] as const;

export const readingColumns = sql.join(COLUMNS.map((column) => sql.ref(column)));

/** A row of the table, as it comes out of it or as JSON. */
export interface ReadingRow {
  id: string;
  visit_id: string;
  quantity: string;
  value: number;
  low: number | null;
  high: number | null;
  bound: string;
  kit_id: string;
  method_id: string;
  observation: unknown;
  doubts: unknown;
  taken_at: Date | string;
  used: boolean;
  round: number;
  scatter: number | null;
  late?: boolean;
  by?: string;
}

export function readingFrom(row: ReadingRow): VisitReading[] {
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
      kitId: row.kit_id,
      methodId: row.method_id,
      observation: row.observation as Observation,
      doubts: row.doubts as Doubt[],
      takenAt: new Date(row.taken_at),
      used: row.used,
      round: row.round,
      ...(row.scatter === null ? {} : { scatter: row.scatter }),
      ...(row.late ? { late: true } : {}),
      ...(row.by === undefined ? {} : { by: row.by }),
    },
  ];
}

const inOrder = (readings: VisitReading[]): VisitReading[] =>
  readings.sort((a, b) => QUANTITY_NAMES.indexOf(a.quantity) - QUANTITY_NAMES.indexOf(b.quantity));

/** The readings that stand, of these visits, in the order in which they are always told; used and not. */
export async function readingsOfVisits(scope: FirmScope, visitIds: string[]): Promise<VisitReading[]> {
  if (visitIds.length === 0) return [];
  const rows = await scope
    .selectFrom("reading")
    .select(COLUMNS)
    .where("visit_id", "=", anyOf(visitIds))
    .where("superseded_at", "is", null)
    .execute();
  return inOrder(rows.flatMap(readingFrom));
}

export const newestColumns = sql.join(COLUMNS.map((column) => sql.ref(`newest.${column.split(".")[1]}`)));

/** The newest standing reading of each quantity at a basin, from finished visits before `before`. */
export async function lastReadings(scope: FirmScope, basinId: string, before: Date): Promise<VisitReading[]> {
  const { rows } = await newestQuery<ReadingRow>(newestColumns, sql.val([basinId]), sql.val(before)).execute(
    scope,
  );
  return rows.flatMap(readingFrom);
}

export interface LastValue {
  basinId: string;
  quantity: Quantity;
  value: number;
  takenAt: Date;
}

/** As `lastReadings`, of many basins at once and no more than what they came to. */
export async function lastValues(scope: FirmScope, basinIds: string[], before: Date): Promise<LastValue[]> {
  const columns = sql`newest.basin_id as "basinId", newest.quantity, newest.value, newest.taken_at as "takenAt"`;
  const { rows } = await newestQuery<LastValue & { quantity: string }>(
    columns,
    sql.val(basinIds),
    sql.val(before),
  ).execute(scope);
  return rows.flatMap((row) => (isQuantity(row.quantity) ? [{ ...row, quantity: row.quantity }] : []));
}

/**
 * Each quantity of each basin is one look into an index; whether a visit counts is asked of it row by row,
 * so that no plan can begin with the firm's visits, whatever firm it was made for.
 */
export const newestQuery = <T>(
  columns: RawBuilder<unknown>,
  basinIds: RawBuilder<unknown>,
  before: RawBuilder<unknown>,
): RawBuilder<T> => sql<T>`
    select ${columns}
    from unnest(${basinIds}::uuid[]) as of(basin_id)
    cross join (select ${before}::timestamptz as moment) as until
    cross join unnest(${sql.val(QUANTITY_NAMES)}::text[]) as wanted(quantity)
    cross join lateral (
      select * from (
        select reading.* from reading
        where reading.firm_id = current_firm() and reading.basin_id = of.basin_id
          and reading.quantity = wanted.quantity and reading.superseded_at is null and reading.used
        order by reading.taken_at desc offset 0
      ) as late
      where (select visit.finished_at is not null and visit.started_at < until.moment from visit
        where visit.firm_id = late.firm_id and visit.id = late.visit_id)
      limit 1
    ) as newest`;

/** Only what changes slowly can give a bottle away. An index holds just these. */
export const SLOW_QUANTITIES = [
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
] as const satisfies readonly Quantity[];

/**
 * For each slow quantity and each basin: the newest reading of the last 14 days, and what the 60 days
 * before it came to on average; null where there is none.
 */
export const changesQuery = (now: Date) => sql<{
  quantity: string;
  before: number | null;
  now: number | null;
}>`
    select quantity, avg(value) filter (where taken_at <= ${now}::timestamptz - interval '14 days') as before,
      (array_agg(value order by taken_at desc)
        filter (where taken_at > ${now}::timestamptz - interval '14 days'))[1] as now
    from (
      select basin_id, quantity, value, taken_at from reading
      where quantity in (${sql.join(SLOW_QUANTITIES.map((quantity) => sql.lit(quantity)))})
        and taken_at > ${now}::timestamptz - interval '74 days' and taken_at <= ${now}
        and superseded_at is null and used and bound = 'within'
    ) as recent group by basin_id, quantity`;
