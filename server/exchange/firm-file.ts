import { createReadStream, createWriteStream } from "node:fs";
import { rename, rm } from "node:fs/promises";
import { createInterface } from "node:readline";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { createGunzip, createGzip } from "node:zlib";
import { sql } from "kysely";
import { asFirm, type Database, type FirmScope } from "../db/connection";
import { MIGRATIONS } from "../db/migrations";

/**
 * A firm with everything that is its own, as a file: to be moved to another instance, and kept when it is erased.
 * Lines of JSON, zipped: what it is, then every row of every table in an order in which they can be put in, then how
 * many there were. What only this instance can use (sessions, files on their way in) is left out.
 */

interface Head {
  pelagon: "firm";
  /** The last migration of the database that it comes from. */
  version: string;
  id: string;
  name: string;
  at: string;
}
interface Row {
  table: string;
  row: Record<string, unknown>;
}
interface End {
  /** Rows by table. */
  counts: Record<string, number>;
}

/** Something that whoever gave the command can mend. */
export class FirmFileFault extends Error {}

const LEFT_OUT = ["session", "import_file", "import_chunk"];
/** Rows that are held at a time; of photos, each of which may have megabytes, fewer. */
const AT_A_TIME = 500;
const PHOTOS_AT_A_TIME = 10;
/** A batch that goes in is sent once it holds so much text. */
const BATCH_BYTES = 4_000_000;

export const VERSION = Object.keys(MIGRATIONS).at(-1) ?? "";

interface Tables {
  /** Every table of firms, each after those that it points to. */
  order: string[];
  /** Of tables that point to themselves: the column that does. */
  own: Map<string, string>;
}

async function tablesOf(scope: FirmScope): Promise<Tables> {
  const { rows: tables } = await sql<{ name: string }>`
    select relname as name from pg_class join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id'
    where relkind = 'r' and relnamespace = 'public'::regnamespace and not attisdropped order by 1`.execute(
    scope,
  );
  const { rows: links } = await sql<{ from: string; to: string; columns: string[] }>`
    select conrelid::regclass::text as "from", confrelid::regclass::text as "to",
      array(select attname::text from pg_attribute where attrelid = conrelid and attnum = any(conkey)
        and attname <> 'firm_id') as columns
    from pg_constraint where contype = 'f' and connamespace = 'public'::regnamespace`.execute(scope);
  const waiting = new Set(tables.map(({ name }) => name));
  const order = ["firm"];
  const own = new Map(
    links.flatMap(({ from, to, columns }) =>
      from === to && columns[0] ? [[from, columns[0]] as const] : [],
    ),
  );
  while (waiting.size > 0) {
    const free = [...waiting].filter((name) =>
      links.every(({ from, to }) => from !== name || to === name || !waiting.has(to)),
    );
    if (free.length === 0) throw new Error(`these tables hold each other: ${[...waiting].join(", ")}`);
    for (const name of free) {
      waiting.delete(name);
      order.push(name);
    }
  }
  return { order, own };
}

const keyOf = (table: string) => sql.ref(table === "firm" ? "id" : "firm_id");

async function countsOf(scope: FirmScope, firmId: string, order: readonly string[]): Promise<End["counts"]> {
  const counts: End["counts"] = {};
  for (const table of order) {
    const { rows } = await sql<{ count: number }>`
      select count(*) as count from ${sql.table(table)} where ${keyOf(table)} = ${firmId}`.execute(scope);
    counts[table] = Number(rows[0]?.count ?? 0);
  }
  return counts;
}

/** The lines of a firm's file, from one moment of its book. */
async function* linesOf(scope: FirmScope, firmId: string, now: Date): AsyncGenerator<string> {
  const { name } = await scope.selectFrom("firm").select("name").executeTakeFirstOrThrow();
  const head: Head = { pelagon: "firm", version: VERSION, id: firmId, name, at: now.toISOString() };
  yield `${JSON.stringify(head)}\n`;
  const { order } = await tablesOf(scope);
  const counts: End["counts"] = {};
  for (const table of order.filter((one) => !LEFT_OUT.includes(one))) {
    counts[table] = 0;
    const many = sql.lit(table === "photo" ? PHOTOS_AT_A_TIME : AT_A_TIME);
    await sql`declare lines cursor for select to_jsonb(t)::text as row from ${sql.table(table)} t
      where ${keyOf(table)} = ${sql.lit(firmId)}`.execute(scope);
    for (;;) {
      const { rows } = await sql<{ row: string }>`fetch ${many} from lines`.execute(scope);
      if (rows.length === 0) break;
      counts[table] += rows.length;
      for (const { row } of rows) yield `{"table":"${table}","row":${row}}\n`;
    }
    await sql`close lines`.execute(scope);
  }
  const end: End = { counts };
  yield `${JSON.stringify(end)}\n`;
}

/** Writes a firm's file; it has its name once it is whole. @returns rows by table */
export async function exportFirm(
  db: Database,
  firmId: string,
  path: string,
  now: Date,
): Promise<End["counts"]> {
  const half = `${path}.part`;
  try {
    await asFirm(db, firmId, async (scope) => {
      await sql`set transaction isolation level repeatable read, read only`.execute(scope);
      if (!(await scope.selectFrom("firm").select("id").executeTakeFirst()))
        throw new FirmFileFault(`There is no firm ${firmId}.`);
      await pipeline(
        Readable.from(linesOf(scope, firmId, now)),
        createGzip(),
        createWriteStream(half, { mode: 0o600 }),
      );
    });
    const counts = await readFirmFile(half);
    await rename(half, path);
    return counts;
  } catch (fault) {
    await rm(half, { force: true });
    throw fault;
  }
}

async function* parsed(path: string): AsyncGenerator<Partial<Head & Row & End>> {
  // What was cut short or is no such file ends the reading with the fault of whichever part noticed.
  const text = createReadStream(path)
    .on("error", () => {})
    .pipe(createGunzip());
  let number = 0;
  try {
    for await (const line of createInterface({ input: text, crlfDelay: Number.POSITIVE_INFINITY })) {
      number++;
      yield JSON.parse(line);
    }
  } catch (fault) {
    if (fault instanceof FirmFileFault) throw fault;
    throw new FirmFileFault(
      `${path} is no firm's file, or was cut short after line ${number} (${fault instanceof Error ? fault.message : fault}).`,
    );
  }
}

const headOf = (line: Partial<Head> | undefined): Head | null =>
  line?.pelagon === "firm" && typeof line.version === "string" ? (line as Head) : null;

/** Reads a file to its end without putting anything in. @returns rows by table, as counted here and as it says */
export async function readFirmFile(path: string): Promise<End["counts"]> {
  const counted: End["counts"] = {};
  let end: End["counts"] | null = null;
  let first = true;
  for await (const line of parsed(path)) {
    if (first && !headOf(line)) throw new FirmFileFault(`${path} is no firm's file.`);
    first = false;
    if (line.table) counted[line.table] = (counted[line.table] ?? 0) + 1;
    if (line.counts) end = line.counts;
  }
  if (!end) throw new FirmFileFault(`${path} was cut short: its end is missing.`);
  for (const [table, count] of Object.entries(end))
    if ((counted[table] ?? 0) !== count)
      throw new FirmFileFault(`${path} holds ${counted[table] ?? 0} rows of ${table}, and says ${count}.`);
  return end;
}

/** Puts a firm in from its file, all of it or nothing. @returns its id and name */
export async function importFirm(db: Database, path: string): Promise<Pick<Head, "id" | "name">> {
  await readFirmFile(path);
  const lines = parsed(path);
  const head = headOf((await lines.next()).value);
  if (!head) throw new FirmFileFault(`${path} is no firm's file.`);
  if (head.version !== VERSION)
    throw new FirmFileFault(
      `${path} comes from a database at ${head.version}, and this one is at ${VERSION}. Bring both to the same version first.`,
    );
  try {
    await asFirm(db, head.id, (scope) => putIn(scope, lines));
  } catch (fault) {
    throw whyNot(fault, head);
  }
  return head;
}

async function putIn(scope: FirmScope, lines: AsyncGenerator<Partial<Head & Row & End>>): Promise<void> {
  const { own } = await tablesOf(scope);
  let table = "";
  let batch: string[] = [];
  let bytes = 0;
  /** Rows that point to rows of their own table: after all that do not. */
  let later: Row["row"][] = [];
  const put = async (rows: readonly string[]) => {
    if (rows.length > 0)
      await sql`insert into ${sql.table(table)}
        select * from jsonb_populate_recordset(null::${sql.table(table)}, ${`[${rows.join(",")}]`}::jsonb)`.execute(
        scope,
      );
  };
  const flush = async () => {
    await put(batch);
    [batch, bytes] = [[], 0];
  };
  const finish = async () => {
    await flush();
    const column = own.get(table);
    // Each after the one that it points to: rounds, until none is left.
    while (column && later.length > 0) {
      const ids = new Set(later.map(({ id }) => id));
      const free = later.filter((row) => !ids.has(row[column]));
      if (free.length === 0) throw new FirmFileFault(`Rows of ${table} point to each other in a ring.`);
      await put(free.map((row) => JSON.stringify(row)));
      later = later.filter((row) => !free.includes(row));
    }
  };
  for await (const line of lines) {
    if (!line.table || !line.row) continue;
    if (line.table !== table) {
      await finish();
      table = line.table;
    }
    const column = own.get(table);
    if (column && line.row[column] !== null) {
      later.push(line.row);
      continue;
    }
    const text = JSON.stringify(line.row);
    batch.push(text);
    bytes += text.length;
    if (bytes > BATCH_BYTES || batch.length >= AT_A_TIME) await flush();
  }
  await finish();
}

function whyNot(fault: unknown, { id, name }: Head): unknown {
  const { constraint, code } = fault as { constraint?: string; code?: string };
  if (constraint === "firm_pkey") return new FirmFileFault(`${name} (${id}) is here already.`);
  if (constraint === "member_sign_in")
    return new FirmFileFault(
      `Somebody of ${name} signs in here already by the same address, with another firm.`,
    );
  if (code === "23505") return new FirmFileFault(`Some of ${name} is here already (${constraint}).`);
  return fault;
}

/**
 * Takes a firm away, all of it or nothing, once its file is written and whole.
 * @throws FirmFileFault where somebody wrote between the file and this
 */
export async function eraseFirm(
  owner: Database,
  firmId: string,
  keep: string,
  now: Date,
): Promise<End["counts"]> {
  const kept = await exportFirm(owner, firmId, keep, now);
  await owner.transaction().execute(async (scope) => {
    await sql`set local role pelagon_eraser`.execute(scope);
    await sql`select set_config('pelagon.firm', ${firmId}, true)`.execute(scope);
    // Whoever writes waits, and then finds nobody there.
    await sql`select from firm where id = ${firmId}`.execute(scope);
    const { order } = await tablesOf(scope);
    const counts = await countsOf(scope, firmId, order);
    for (const [table, count] of Object.entries(kept))
      if (counts[table] !== count)
        throw new FirmFileFault(
          `Somebody wrote meanwhile (${table}). Nothing was erased; give the command again.`,
        );
    for (const table of [...order].reverse())
      await sql`delete from ${sql.table(table)} where ${keyOf(table)} = ${firmId}`.execute(scope);
  });
  return kept;
}
