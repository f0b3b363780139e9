import { basinById } from "../db/basins";
import { type BookFilter, type BookPlace, bookPage } from "../db/book";
import type { FirmScope } from "../db/connection";
import { membersNamed, readRows } from "../db/exchange-rows";
import { grouped } from "../grouped";
import { type Page, pagesAhead } from "./ahead";
import {
  FORMAT,
  HEAD,
  HEAD_NAMES,
  type HeadName,
  OF_PART,
  OF_VISIT,
  PARENT,
  PART_NAMES,
  type PartName,
  type Row,
  type Shape,
  SUBPART_NAMES,
  VERSION,
  VISIT,
  type VisitRow,
} from "./shape";

/** The book on its way out as JSON, a page of visits in memory at a time. The same book gives the same bytes. */

/** Visits that are read at a time. */
const PAGE = 250;

/** In which order each part stands; ids break ties. */
const ORDER: Record<string, string> = {
  members: "id",
  kits: "line, version",
  rangeSets: "line, version",
  products: "position, id",
  deliveries: "delivery.used_from, id",
  prices: "product_id, product_price.known_from",
  sites: "name, id",
  basins: "position, id",
  volumes: "basin_id, known_from, id",
  events: "basin_event.day, id",
  bottles: "added_at, id",
  tasks: "done_at, id",
  calls: "round_call.day, basin_id",
  readings: "taken_at, id",
  findings: "position, id",
  doses: "given_at, id",
  plans: "round, id",
  work: "at, id",
  plant: "at, id",
  photos: "taken_at, id",
  reagents: "reading_id, reagent",
  steps: "plan_id, position, at, superseded_at nulls last",
  outcomes: "plan_id, quantity",
  defects: "seen_at, id",
  quotes: "defect_id, version",
};

type Work = <T>(read: (scope: FirmScope) => Promise<T>) => Promise<T>;

/**
 * The file piece by piece. `work` runs on the firm's rows, so that no transaction stays open while
 * somebody downloads.
 */
export async function* bookJson(
  work: Work,
  filter: BookFilter,
  timeZone: string,
): AsyncGenerator<string, void> {
  yield `{"format":${JSON.stringify(FORMAT)},"version":${VERSION}`;
  const head = await work((scope) => headOf(scope, filter.basinId));
  for (const name of HEAD_NAMES) yield `,\n"${name}":[${lines(head[name])}]`;
  yield ',\n"visits":[';
  let first = true;
  for await (const visits of pages(work, filter, timeZone)) {
    yield `${first ? "" : ","}${lines(visits)}`;
    first = false;
  }
  yield "]}\n";
}

const lines = (rows: Row[]): string => rows.map((row) => `\n${JSON.stringify(row)}`).join(",");

async function headOf(scope: FirmScope, basinId: string | null): Promise<Record<HeadName, Row[]>> {
  const named = await membersNamed(scope);
  const site = basinId ? ((await basinById(scope, basinId))?.site.id ?? null) : null;
  const only: Partial<Record<HeadName, { column: string; keys: string[] }>> = {
    members: { column: "id", keys: named },
    ...(basinId
      ? {
          sites: { column: "id", keys: site ? [site] : [] },
          basins: { column: "id", keys: [basinId] },
          volumes: { column: "basin_id", keys: [basinId] },
          events: { column: "basin_id", keys: [basinId] },
          tasks: { column: "basin_id", keys: [basinId] },
          calls: { column: "basin_id", keys: [basinId] },
        }
      : {}),
  };
  const head: Partial<Record<HeadName, Row[]>> = {};
  for (const name of HEAD_NAMES)
    head[name] = (await readRows(scope, HEAD[name], only[name] ?? null, ORDER[name] ?? "id")).map(
      ({ row }) => row,
    );
  return head as Record<HeadName, Row[]>;
}

/** Pages of finished visits that a filter lets through, the newest first, each with all that hangs on it. */
const pages = (work: Work, filter: BookFilter, timeZone: string) =>
  pagesAhead((after) => work((scope) => visitsPage(scope, filter, { after, limit: PAGE, timeZone })));

/** A page of finished visits, the newest first, each with all that hangs on it, and where the next one begins. */
export async function visitsPage(
  scope: FirmScope,
  filter: BookFilter,
  { after, limit, timeZone }: { after: BookPlace | null; limit: number; timeZone: string },
  parts: VisitParts = OF_VISIT,
): Promise<Page<VisitRow>> {
  const page = await bookPage(scope, filter, after, limit, timeZone);
  const ids = page.map((row) => row.id);
  return {
    rows: await visitRows(scope, ids, parts),
    next: page.length === limit ? (page.at(-1) ?? null) : null,
  };
}

/** What of a visit's parts is told. */
export type VisitParts = Record<PartName, Shape>;

/** Visits by their ids, finished or not, each with all that hangs on it. */
export async function visitRows(
  scope: FirmScope,
  ids: string[],
  shapes: VisitParts = OF_VISIT,
): Promise<VisitRow[]> {
  if (ids.length === 0) return [];
  const visits = await readRows(scope, VISIT, { column: "id", keys: ids }, "started_at desc, id desc");
  const parts: Record<string, Map<string, { key: string; row: Row }[]>> = {};
  for (const name of PART_NAMES)
    parts[name] = grouped(
      await readRows(scope, shapes[name], { column: "visit_id", keys: ids }, ORDER[name] ?? "id"),
      ({ key }) => key,
    );
  const owner = new Map<string, string>();
  for (const name of new Set(Object.values(PARENT).map(({ part }) => part)))
    for (const [visit, rows] of parts[name] ?? [])
      for (const { row } of rows) owner.set(String(row.id), visit);
  const keysOf = (name: string) => [...(parts[name]?.values() ?? [])].flat().map(({ row }) => String(row.id));
  for (const name of SUBPART_NAMES) {
    const { part, column } = PARENT[name];
    const keys = keysOf(part);
    const rows =
      keys.length > 0 ? await readRows(scope, OF_PART[name], { column, keys }, ORDER[name] ?? "id") : [];
    parts[name] = grouped(rows, ({ key }) => owner.get(key) ?? "");
  }
  return visits.map(({ row }) => ({
    ...row,
    ...(Object.fromEntries(
      [...PART_NAMES, ...SUBPART_NAMES].map((name) => [
        name,
        (parts[name]?.get(String(row.id)) ?? []).map((part) => part.row),
      ]),
    ) as Pick<VisitRow, (typeof PART_NAMES)[number] | (typeof SUBPART_NAMES)[number]>),
  }));
}
