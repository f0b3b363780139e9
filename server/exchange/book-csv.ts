import { QUANTITIES } from "#core";
import { type BookFilter, type BookRow, bookPage } from "../db/book";
import type { FirmScope } from "../db/connection";
import { dosesOfVisits, findingsOfVisits } from "../db/doses";
import { productNames } from "../db/products";
import { readingsOfVisits } from "../db/readings";
import { grouped } from "../grouped";
import { pagesAhead } from "./ahead";

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
export const exportedVisits = (
  work: <T>(read: (scope: FirmScope) => Promise<T>) => Promise<T>,
  filter: BookFilter,
  timeZone: string,
) =>
  pagesAhead((after) =>
    work(async (scope) => {
      const page = await bookPage(scope, filter, after, PAGE, timeZone);
      return { rows: await filled(scope, page), next: page.length === PAGE ? (page.at(-1) ?? null) : null };
    }),
  );

async function filled(scope: FirmScope, rows: BookRow[]): Promise<ExportedVisit[]> {
  const ids = rows.map((row) => row.id);
  const readings = grouped(await readingsOfVisits(scope, ids), (one) => one.visitId);
  const findings = grouped(await findingsOfVisits(scope, ids), (one) => one.visitId);
  const doses = grouped(await dosesOfVisits(scope, ids), (one) => one.visitId);
  const products = new Map((await productNames(scope)).map((one) => [one.id, one]));
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

type Cell = string | number | boolean | null;

interface Line {
  record: "reading" | "finding" | "dose" | "note";
  what?: string;
  value?: number;
  unit?: string;
  low?: number | null;
  high?: number | null;
  bound?: string;
  round?: number;
  used?: boolean;
  methodId?: string;
  planned?: number;
  at?: string;
  note?: string;
}

/** A line's cells in the order of `CSV_COLUMNS`. Half a million go out: as records with those names they took twice as long. */
const cells = (visit: ExportedVisit, line: Line): Cell[] => [
  visit.id,
  visit.startedAt,
  visit.site,
  visit.basin,
  visit.member,
  line.record,
  line.what ?? null,
  line.value ?? null,
  line.unit ?? null,
  line.low ?? null,
  line.high ?? null,
  line.bound ?? null,
  line.round ?? null,
  line.used ?? null,
  line.methodId ?? null,
  line.planned ?? null,
  line.at ?? null,
  line.note ?? null,
];

/** The rows of a visit. */
export const csvRows = (visit: ExportedVisit): Cell[][] => [
  ...visit.readings.map(({ quantity, value, unit, low, high, bound, round, used, methodId, takenAt }) =>
    cells(visit, {
      record: "reading",
      what: quantity,
      value,
      unit,
      low,
      high,
      bound,
      round,
      used,
      methodId,
      at: takenAt,
    }),
  ),
  ...visit.findings.map(({ code, value, limit, settled }) =>
    cells(visit, {
      record: "finding",
      what: code,
      value,
      low: code.endsWith(".low") ? limit : null,
      high: code.endsWith(".high") ? limit : null,
      bound: settled ? "settled" : "",
    }),
  ),
  ...visit.doses.map(({ product, plannedGrams, givenGrams, givenAt }) =>
    cells(visit, {
      record: "dose",
      what: product,
      value: givenGrams,
      unit: "g",
      planned: plannedGrams,
      at: givenAt,
    }),
  ),
  ...(visit.note ? [cells(visit, { record: "note", note: visit.note })] : []),
];
