import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gunzipSync, gzipSync } from "node:zlib";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, type Database } from "#server/db/connection";
import { eraseFirm, exportFirm, importFirm } from "#server/exchange/firm-file";
import { newDatabase, type TestDatabase } from "../database";
import { fillFirm } from "../filled";
import { type Firm, newFirm } from "../firm";

/** A firm as a file: out of one instance, into another, and erased here. */
let here: TestDatabase;
let there: TestDatabase;
let ours: Firm;
let theirs: Firm;
const folder = mkdtempSync(join(tmpdir(), "pelagon-firm-"));
const file = join(folder, "ours.gz");
const NOW = new Date("2026-11-24T12:00:00Z");

beforeAll(async () => {
  [here, there] = [await newDatabase(), await newDatabase()];
  ours = await newFirm(here.db, "ours");
  theirs = await newFirm(here.db, "theirs");
  for (const firm of [ours, theirs]) await fillFirm(here.db, firm);
  // A reading that was corrected twice: each points to the one before, and the keys tell nothing of their order.
  await asFirm(here.db, ours.id, async (scope) => {
    let { id: before } = await scope.selectFrom("reading").select("id").executeTakeFirstOrThrow();
    for (const id of ["ffffffff-ffff-4fff-8fff-ffffffffffff", "00000000-0000-4000-8000-000000000000"]) {
      await sql`
        insert into reading select (jsonb_populate_record(reading, ${JSON.stringify({ id, supersedes: before, superseded_at: NOW })}::jsonb)).*
        from reading where id = ${before}`.execute(scope);
      before = id;
    }
  });
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await here?.close();
  await there?.close();
});

const NOT_MOVED = ["session", "import_file", "import_chunk"];
/** Every row of a firm, by table, as the database tells it. */
async function rowsOf(db: Database, firmId: string): Promise<Record<string, string[]>> {
  const { rows: tables } = await sql<{ name: string }>`
    select relname as name from pg_class join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id'
    where relkind = 'r' and relnamespace = 'public'::regnamespace`.execute(db);
  return asFirm(db, firmId, async (scope) => {
    const all: Record<string, string[]> = {};
    for (const { name } of [{ name: "firm" }, ...tables]) {
      const { rows } = await sql<{ row: string }>`
        select to_jsonb(t)::text as row from ${sql.table(name)} t order by 1`.execute(scope);
      all[name] = rows.map(({ row }) => row);
    }
    return all;
  });
}
const moved = (rows: Record<string, string[]>) =>
  Object.fromEntries(Object.entries(rows).filter(([name]) => !NOT_MOVED.includes(name)));

describe("a firm's file", () => {
  it("holds all that is the firm's, and goes into another instance to the last digit", async () => {
    const before = await rowsOf(here.db, ours.id);
    const counts = await exportFirm(here.db, ours.id, file, NOW);
    for (const [name, rows] of Object.entries(moved(before))) expect(counts[name], name).toBe(rows.length);
    expect(Object.values(counts).filter((count) => count > 0).length).toBeGreaterThan(30);
    const text = gunzipSync(readFileSync(file)).toString();
    expect(text).not.toContain(theirs.id);
    expect(await importFirm(there.db, file)).toMatchObject({ id: ours.id });
    expect(moved(await rowsOf(there.db, ours.id))).toEqual(moved(before));
  });

  it("goes in once, and not where somebody signs in by the same address", async () => {
    await expect(importFirm(there.db, file)).rejects.toThrow(/is here already/);
    const other = await newDatabase();
    try {
      const twin = await newFirm(other.db, "twin");
      await asFirm(other.db, twin.id, (scope) =>
        scope.updateTable("member").set({ email: ours.email }).where("id", "=", twin.memberId).execute(),
      );
      await expect(importFirm(other.db, file)).rejects.toThrow(/signs in here already/);
      expect((await rowsOf(other.db, ours.id)).firm).toEqual([]);
    } finally {
      await other.close();
    }
  });

  it.each([
    ["is cut short", (whole: Buffer) => whole.subarray(0, whole.length - 200), /cut short/],
    ["lost a row", (whole: Buffer) => edited(whole, (lines) => lines.toSpliced(5, 1)), /holds \d+ rows of/],
    ["lost its end", (whole: Buffer) => edited(whole, (lines) => lines.slice(0, -1)), /its end is missing/],
    ["is none", () => Buffer.from("date,fc\n"), /is no firm's file/],
    [
      "is of another version",
      (whole: Buffer) =>
        edited(whole, ([head = "", ...more]) => [head.replace(/"00\d\d-[\w-]+"/, '"0001-x"'), ...more]),
      /0001-x|same version/,
    ],
  ])("that %s is refused in words, and nothing of it goes in", async (_, change, says) => {
    const broken = join(folder, `${uuid()}.gz`);
    writeFileSync(broken, change(readFileSync(file)));
    const empty = await newDatabase();
    try {
      await expect(importFirm(empty.db, broken)).rejects.toThrow(says);
      expect((await rowsOf(empty.db, ours.id)).firm).toEqual([]);
    } finally {
      await empty.close();
    }
  });
});

const edited = (whole: Buffer, change: (lines: string[]) => string[]): Buffer =>
  gzipSync(`${change(gunzipSync(whole).toString().trim().split("\n")).join("\n")}\n`);

describe("a firm that is erased", () => {
  it("leaves nothing here, takes nothing of another, and comes back whole from its file", async () => {
    const [own, other] = [await rowsOf(here.db, ours.id), await rowsOf(here.db, theirs.id)];
    const kept = join(folder, "kept.gz");
    await eraseFirm(here.db, ours.id, kept, NOW);
    for (const [name, rows] of Object.entries(await rowsOf(here.db, ours.id))) expect(rows, name).toEqual([]);
    expect(await rowsOf(here.db, theirs.id)).toEqual(other);
    await importFirm(here.db, kept);
    expect(moved(await rowsOf(here.db, ours.id))).toEqual(moved(own));
  });

  it("stays where its file cannot be written", async () => {
    await expect(eraseFirm(here.db, ours.id, join(folder, "no", "such", "place"), NOW)).rejects.toThrow(
      /ENOENT/,
    );
    expect((await rowsOf(here.db, ours.id)).firm).toHaveLength(1);
  });

  it("is taken away by nobody who serves pages", async () => {
    await expect(asFirm(here.db, ours.id, (scope) => scope.deleteFrom("visit").execute())).rejects.toThrow(
      /permission denied/,
    );
  });
});
