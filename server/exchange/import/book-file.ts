import { createReadStream, type ReadStream } from "node:fs";
import type { Readable } from "node:stream";
import { sql } from "kysely";
import Chain from "stream-chain";
import Parser from "stream-json";
import Ignore from "stream-json/filters/Ignore.js";
import Pick from "stream-json/filters/Pick.js";
import StreamArray from "stream-json/streamers/StreamArray.js";
import StreamObject from "stream-json/streamers/StreamObject.js";
import { v5 as uuidFrom } from "uuid";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import type { FirmScope } from "../../db/connection";
import { notHere, writeRows } from "../../db/exchange-rows";
import { addressesOf, takeInMember } from "../../db/members";
import {
  FORMAT,
  HEAD,
  HEAD_NAMES,
  LATER,
  OF_PART,
  OF_VISIT,
  PART_NAMES,
  type Row,
  rowSchema,
  type Shape,
  SUBPART_NAMES,
  VERSION,
  VISIT,
  type VisitRow,
  visitSchema,
} from "../shape";
import { countVisits } from "./count";
import { faultAt, othersFault, type RowFault } from "./fault";
import type { Importing } from "./importing";
import { SPACE } from "./visit-in";

/** Our own JSON on its way back in: read twice from the disk, never whole in memory. */

/** Visits that are written at a time. */
const BATCH = 250;

// These packages are older than ES modules: their functions hang on what they export.
const { chain } = Chain;
const { parser } = Parser;
const { ignore } = Ignore;
const { pick } = Pick;
const { streamArray } = StreamArray;
const { streamObject } = StreamObject;

const options = { packValues: true, streamValues: false } as const;

/** The deepest place of the book is a range inside a set inside a row: nobody nests by accident. */
const DEEPEST = 40;

/** Lets tokens by, down to a depth; what is deeper is no book, and would be put together token by token. */
function shallow(): (token: { name: string }) => { name: string } {
  let depth = 0;
  return (token) => {
    if (token.name === "startObject" || token.name === "startArray") depth++;
    if (token.name === "endObject" || token.name === "endArray") depth--;
    if (depth > DEEPEST) throw new InputFault("too-high", "nesting", depth, DEEPEST);
    return token;
  };
}

/** What the stages make of a file; when whoever reads stops, the file is closed too. */
function flowing(source: ReadStream, ...stages: unknown[]): Readable {
  const flow = chain([source, parser(options), shallow(), ...stages] as Parameters<typeof chain>[0]);
  flow.on("close", () => source.destroy());
  return flow as unknown as Readable;
}

/** Checks the whole file and, unless it is a dry run, writes it. Faults are handed to `importing`. */
export async function importBookFile(scope: FirmScope, importing: Importing, path: string): Promise<void> {
  const people = await importHead(scope, importing, path);
  await importVisits(scope, importing, path, people);
}

async function importHead(
  scope: FirmScope,
  importing: Importing,
  path: string,
): Promise<Map<string, string>> {
  const head = flowing(createReadStream(path), ignore({ filter: /^visits\b/ }), streamObject());
  const found: Record<string, unknown> = {};
  for await (const { key, value } of read<{ key: string; value: unknown }>(head, importing))
    found[key] = value;
  if (found.format !== FORMAT) throw new InputFault("unknown", "format", found.format, [FORMAT]);
  if (found.version !== VERSION) throw new InputFault("unknown", "version", found.version, [VERSION]);
  let people = new Map<string, string>();
  const { dry } = importing.report;
  // A try writes the head too, to see what it meets, and takes all of it back.
  if (dry) await sql`savepoint head`.execute(scope);
  for (const name of HEAD_NAMES) {
    const rows = found[name] ?? (LATER.includes(name) ? [] : undefined);
    if (!Array.isArray(rows)) throw new InputFault("missing", name, undefined);
    const good = checkedRows(rows, HEAD[name], name, importing);
    // What hangs on a row that is wrong would be told as wrong itself.
    if (importing.faultCount > 0) continue;
    if (name === "members") people = await importPeople(scope, importing, good);
    else await writeHead(scope, importing, name, renamed(good, HEAD[name], people));
  }
  if (dry) await sql`rollback to savepoint head`.execute(scope);
  return people;
}

/** Puts rows in; what is here already stays, and what is another firm's on this server is told. */
async function writeHead(
  scope: FirmScope,
  importing: Importing,
  name: (typeof HEAD_NAMES)[number],
  rows: Row[],
): Promise<void> {
  const shape = HEAD[name];
  await writeRows(scope, shape, importing.firmId, rows);
  if (!shape.columns.some((column) => column.name === "id")) return;
  const others = await notHere(
    scope,
    shape,
    rows.map(({ id }) => String(id)),
  );
  if (others > 0) importing.fault(othersFault(name, others));
}

/**
 * People who are here already keep their ids; others are put in as people who cannot sign in: without a
 * password their address is a word in the book, whoever else may have it.
 */
async function importPeople(
  scope: FirmScope,
  { firmId, now }: Importing,
  rows: Row[],
): Promise<Map<string, string>> {
  const here = await addressesOf(scope);
  const people = new Map<string, string>();
  for (const row of rows) {
    const id = String(row.id);
    const email = String(row.email).toLowerCase();
    const known = here.find((member) => member.id === id) ?? here.find((member) => member.email === email);
    people.set(id, known?.id ?? id);
    if (known) continue;
    const person = { id, name: String(row.name), email };
    if (await takeInMember(scope, firmId, person, now)) continue;
    // Somebody elsewhere has this id: ours is made of it, and nobody is told.
    const own = uuidFrom(`${firmId} ${id}`, SPACE);
    await takeInMember(scope, firmId, { ...person, id: own }, now);
    people.set(id, own);
  }
  return people;
}

async function importVisits(
  scope: FirmScope,
  importing: Importing,
  path: string,
  people: Map<string, string>,
): Promise<void> {
  const source = createReadStream(path);
  const visits = flowing(source, pick({ filter: "visits" }), streamArray());
  let batch: VisitRow[] = [];
  const write = async () => {
    importing.reached(source.bytesRead);
    await importing.breathe();
    if (importing.report.dry)
      await countVisits(
        scope,
        importing,
        batch.map((visit) => String(visit.id)),
      );
    else if (importing.faultCount === 0) await writeVisits(scope, importing, batch, people);
    batch = [];
  };
  for await (const { key, value } of read<{ key: number; value: unknown }>(visits, importing)) {
    try {
      batch.push(checked(visitSchema, value));
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
      importing.fault(faultAt(null, `visits[${key}].${fault.field}`, fault));
    }
    if (batch.length >= BATCH) await write();
  }
  await write();
}

/** Visits whose key is here already stay as they are, with all that hangs on them. */
async function writeVisits(
  scope: FirmScope,
  importing: Importing,
  visits: VisitRow[],
  people: Map<string, string>,
): Promise<void> {
  const { firmId } = importing;
  const fresh = await writeRows(scope, VISIT, firmId, renamed(visits, VISIT, people));
  const others = await notHere(
    scope,
    VISIT,
    visits.map(({ id }) => String(id)),
  );
  if (others > 0) return importing.fault(othersFault("visits", others));
  importing.counted(fresh.size, visits.length - fresh.size);
  const added = visits.filter((visit) => fresh.has(String(visit.id)));
  for (const name of PART_NAMES) {
    const rows = added.flatMap((visit) => visit[name]);
    const extra = added.flatMap((visit) => visit[name].map(() => ({ visit_id: visit.id })));
    await writeRows(scope, OF_VISIT[name], firmId, renamed(rows, OF_VISIT[name], people), extra);
  }
  for (const name of SUBPART_NAMES)
    await writeRows(
      scope,
      OF_PART[name],
      firmId,
      renamed(
        added.flatMap((visit) => visit[name]),
        OF_PART[name],
        people,
      ),
    );
}

/** People by the ids that they have here. */
function renamed(rows: Row[], { columns }: Shape, people: Map<string, string>): Row[] {
  const named = columns.filter((column) => column.type === "member").map((column) => column.as);
  if (named.length === 0) return rows;
  return rows.map((row) => ({
    ...row,
    ...Object.fromEntries(
      named.map((name) => [name, row[name] === null ? null : (people.get(String(row[name])) ?? row[name])]),
    ),
  }));
}

function checkedRows(rows: unknown[], shape: Shape, name: string, importing: Importing): Row[] {
  const schema = rowSchema(shape);
  return rows.flatMap((row, index) => {
    try {
      return [checked(schema, row)];
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
      importing.fault(faultAt(null, `${name}[${index}].${fault.field}`, fault));
      return [];
    }
  });
}

/** What a stream gives; text that is no JSON is a fault and not a crash. */
async function* read<T>(stream: Readable, importing: Importing): AsyncGenerator<T> {
  try {
    for await (const one of stream) yield one as T;
  } catch (fault) {
    if (
      fault instanceof InputFault ||
      !(fault instanceof Error) ||
      !/Parser|JSON|object/i.test(fault.message)
    )
      throw fault;
    importing.fault({
      row: null,
      column: "file",
      code: "malformed",
      value: fault.message.slice(0, 80),
      limit: "JSON",
    } satisfies RowFault);
  } finally {
    stream.destroy();
  }
}
