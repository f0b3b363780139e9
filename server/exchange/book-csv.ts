import { QUANTITIES } from "#core";
import { type BookFilter, type BookPlace, type BookRow, bookPage } from "../db/book";
import type { FirmScope } from "../db/connection";
import { dosesOfVisits, findingsOfVisits } from "../db/doses";
import { readingsOfVisits } from "../db/readings";
import { grouped } from "../grouped";

/** The book on its way out: visit by visit, never more than a page of them in memory. */

/** Visits that are read at a time. */
const PAGE = 250;

/** A visit with everything that was read, found and given; units are in the names. */
export interface ExportedVisit {
  id: string;
  startedAt: string;
  site: string;
  basin: string;
  member: string;
  note: string;
  readings: {
    quantity: string;
    value: number;
    unit: string;
    low: number | null;
    high: number | null;
    bound: string;
    /** Plans begun in the visit before it was read. */
    round: number;
    used: boolean;
    methodId: string;
    observation: unknown;
    takenAt: string;
  }[];
  findings: { code: string; value: number; limit: number; settled: boolean }[];
  doses: { product: string; compound: string; plannedGrams: number; givenGrams: number; givenAt: string }[];
}

/**
 * Every visit that a filter lets through, the newest first, a page at a time. `work` runs on the firm's rows, a page at a
 * time, so that no transaction stays open while somebody downloads.
 */
export async function* exportedVisits(
  work: <T>(read: (scope: FirmScope) => Promise<T>) => Promise<T>,
  filter: BookFilter,
  timeZone: string,
): AsyncGenerator<ExportedVisit[]> {
  let after: BookPlace | null = null;
  for (;;) {
    const place: BookPlace | null = after;
    const page: ExportedVisit[] = await work(async (scope) =>
      filled(scope, await bookPage(scope, filter, place, PAGE, timeZone)),
    );
    if (page.length > 0) yield page;
    const last = page.at(-1);
    if (!last || page.length < PAGE) return;
    after = { startedAt: new Date(last.startedAt), id: last.id };
  }
}

async function filled(scope: FirmScope, rows: BookRow[]): Promise<ExportedVisit[]> {
  const ids = rows.map((row) => row.id);
  const readings = grouped(await readingsOfVisits(scope, ids), (one) => one.visitId);
  const findings = grouped(await findingsOfVisits(scope, ids), (one) => one.visitId);
  const doses = grouped(await dosesOfVisits(scope, ids), (one) => one.visitId);
  const products = new Map(
    (await scope.selectFrom("product").select(["id", "name", "compound"]).execute()).map((one) => [
      one.id,
      one,
    ]),
  );
  return rows.map((row) => ({
    id: row.id,
    startedAt: row.startedAt.toISOString(),
    site: row.siteName,
    basin: row.basinName,
    member: row.memberName,
    note: row.note,
    readings: (readings.get(row.id) ?? []).map((one) => ({
      quantity: one.quantity,
      value: one.value,
      unit: QUANTITIES[one.quantity].unit,
      low: one.low,
      high: one.high,
      bound: one.bound,
      round: one.round,
      used: one.used,
      methodId: one.methodId,
      observation: one.observation,
      takenAt: one.takenAt.toISOString(),
    })),
    findings: (findings.get(row.id) ?? []).map(({ finding }) => ({
      code: finding.code,
      value: finding.value,
      limit: finding.limit,
      settled: finding.settled ?? false,
    })),
    doses: (doses.get(row.id) ?? [])
      .filter((dose) => dose.givenGrams > 0)
      .map((dose) => ({
        product: products.get(dose.productId)?.name ?? "",
        compound: products.get(dose.productId)?.compound ?? "",
        plannedGrams: dose.plannedGrams,
        givenGrams: dose.givenGrams,
        givenAt: dose.givenAt.toISOString(),
      })),
  }));
}

/** Columns of the CSV: a row for every reading, finding, dose and note of a visit. */
export const CSV_COLUMNS = [
  "visit_id",
  "visit_started_at_utc",
  "site",
  "basin",
  "member",
  "record",
  "what",
  "value",
  "unit",
  "low",
  "high",
  "bound",
  "round",
  "used",
  "method_id",
  "planned",
  "at_utc",
  "note",
] as const;

type CsvRow = Partial<Record<(typeof CSV_COLUMNS)[number], string | number | boolean | null>>;

export function csvRows(visit: ExportedVisit): CsvRow[] {
  const head: CsvRow = {
    visit_id: visit.id,
    visit_started_at_utc: visit.startedAt,
    site: visit.site,
    basin: visit.basin,
    member: visit.member,
  };
  return [
    ...visit.readings.map(
      (one): CsvRow => ({
        ...head,
        record: "reading",
        what: one.quantity,
        value: one.value,
        unit: one.unit,
        low: one.low,
        high: one.high,
        bound: one.bound,
        round: one.round,
        used: one.used,
        method_id: one.methodId,
        at_utc: one.takenAt,
      }),
    ),
    ...visit.findings.map(
      (one): CsvRow => ({
        ...head,
        record: "finding",
        what: one.code,
        value: one.value,
        low: one.code.endsWith(".low") ? one.limit : null,
        high: one.code.endsWith(".high") ? one.limit : null,
        bound: one.settled ? "settled" : "",
      }),
    ),
    ...visit.doses.map(
      (one): CsvRow => ({
        ...head,
        record: "dose",
        what: one.product,
        value: one.givenGrams,
        unit: "g",
        planned: one.plannedGrams,
        at_utc: one.givenAt,
      }),
    ),
    ...(visit.note ? [{ ...head, record: "note", note: visit.note }] : []),
  ];
}
