import { spawn, spawnSync } from "node:child_process";
import { chmodSync, mkdtempSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, openDatabase } from "#server/db/connection";
import { migrate } from "#server/db/migrate";
import { openSession } from "#server/db/sessions";
import { closeAfter, openCluster } from "../../scripts/lib/cluster.mjs";
import { newFirm } from "../firm";

/** Everything in one file, and back from it into an empty place. */
const base = process.getuid?.() === 0 ? "/var/tmp" : tmpdir();
const folder = () => {
  const made = mkdtempSync(join(base, "pelagon-backup-"));
  chmodSync(made, 0o755);
  return made;
};
const here = folder();
const there = folder();
const file = join(here, "all.backup");
const script = (name: string, data: string, ...args: string[]) =>
  spawnSync(process.execPath, [`scripts/${name}.mjs`, ...args], {
    encoding: "utf8",
    env: { ...process.env, PELAGON_DATA: data, DATABASE_URL: "", INIT_CWD: process.cwd() },
  });

/** Every row of every table as canonical JSON, past the walls. */
async function everything(url: string): Promise<string[]> {
  const db = openDatabase(url, 1);
  const { rows: tables } = await sql<{ name: string }>`
    select relname as name from pg_class
    where relnamespace = 'public'::regnamespace and relkind = 'r' order by 1`.execute(db);
  const all: string[] = [];
  for (const { name } of tables) {
    const { rows } = await sql<{ row: string }>`
      select to_jsonb(t)::text as row from ${sql.table(name)} t order by 1`.execute(db);
    all.push(...rows.map(({ row }) => `${name} ${row}`));
  }
  await db.destroy();
  return all;
}

/** Another process that holds the folder, named as the script whose part it plays. */
async function holdAs(name: string): Promise<() => void> {
  const held = join(here, name);
  writeFileSync(held, "setInterval(() => {}, 1000)");
  const other = spawn(process.execPath, [held]);
  writeFileSync(join(here, "holder"), `${other.pid}\n`);
  return () => {
    other.kill("SIGKILL");
    rmSync(join(here, "holder"), { force: true });
  };
}

beforeAll(async () => {
  const cluster = await openCluster(here, { throwAway: true });
  const db = openDatabase(cluster.ownerUrl, 2);
  await migrate(db);
  const firm = await newFirm(db, "kept");
  await openSession(db, { firmId: firm.id, memberId: firm.memberId }, "test", new Date());
  await db.destroy();
  // Empty, and running as Pelagon leaves it after a crash.
  await openCluster(there, { throwAway: true });
}, 120_000);
afterAll(async () => {
  for (const data of [here, there]) {
    const cluster = await openCluster(data, { throwAway: true });
    await cluster.stop({ atOnce: true });
    rmSync(data, { recursive: true, force: true });
  }
}, 120_000);

describe("a backup", () => {
  it("comes back row for row in an empty place, walls and all", async () => {
    const source = await openCluster(here, { throwAway: true });
    const before = await everything(source.superuserUrl());
    expect(before.length).toBeGreaterThan(20);
    const backup = script("backup", here, file);
    expect(backup.status, backup.stderr + backup.stdout).toBe(0);
    expect(statSync(file).mode & 0o777).toBe(0o600);
    const restore = script("restore", there, file);
    expect(restore.status, restore.stderr + restore.stdout).toBe(0);
    const target = await openCluster(there, { throwAway: true });
    // Row for row, but for sessions: whoever was signed in then signs in anew.
    const after = await everything(target.superuserUrl());
    const open = (rows: string[]) => rows.filter((row) => /^session .*"revoked_at": null/.test(row));
    expect(open(before)).toHaveLength(1);
    expect(open(after)).toEqual([]);
    const rest = (rows: string[]) => rows.filter((row) => !row.startsWith("session "));
    expect(rest(after)).toEqual(rest(before));
    // The application works on it, and still sees one firm at a time.
    const db = openDatabase(target.ownerUrl, 2);
    expect(await migrate(db)).toEqual([]);
    const strangers = await asFirm(db, "00000000-0000-7000-8000-000000000000", (scope) =>
      scope.selectFrom("basin").select("id").execute(),
    );
    expect(strangers).toEqual([]);
    await db.destroy();
  }, 180_000);

  it("can be taken back: what was there before a restore is put in its place again", async () => {
    const kept = /npm run restore -- --back (pelagon_before_\d+)/.exec(
      script("restore", there, file).stdout,
    )?.[1];
    expect(kept).toBeDefined();
    const target = await openCluster(there, { throwAway: true });
    const firms = async () => Number(await target.psql("select count(*) from firm", "pelagon"));
    expect(await firms()).toBe(1);
    await target.psql("update firm set name = 'Since then'", "pelagon");
    const back = script("restore", there, "--back", String(kept));
    expect(back.status, back.stderr + back.stdout).toBe(0);
    expect(await target.psql("select name from firm", "pelagon")).toBe("kept");
    const unknown = script("restore", there, "--back", "pelagon");
    expect(unknown.status).toBe(1);
    expect(unknown.stderr).toMatch(/Kept are pelagon_before_/);
  }, 120_000);

  it("of something else is refused before anything is touched", async () => {
    const target = await openCluster(there, { throwAway: true });
    const other = join(here, "other.backup");
    const dumped = await target.program("pg_dump", ["--format=custom", `--file=${other}`], {
      database: "postgres",
    });
    expect(dumped.code, dumped.out).toBe(0);
    const databases = () => target.psql("select count(*) from pg_database");
    const before = await databases();
    const refused = script("restore", there, other);
    expect(refused.status).toBe(1);
    expect(refused.stderr).toMatch(/backup of something else: it has no table firm/);
    expect(await databases()).toBe(before);
  }, 120_000);

  it("that ends after Pelagon has started leaves it its database", async () => {
    const cluster = await openCluster(here, { throwAway: true });
    await cluster.stop();
    // As a backup does: it starts what does not run, and closes what it started.
    const own = await openCluster(here, { throwAway: true });
    expect(own.found).toBe(false);
    const letGo = await holdAs("start.mjs");
    await closeAfter(here, own);
    expect(own.running()).toBe(true);
    letGo();
    await closeAfter(here, own);
    expect(own.running()).toBe(false);
  }, 120_000);

  it("overwrites nothing, and says what is wrong with a file", () => {
    const again = script("backup", here, file);
    expect(again.status).not.toBe(0);
    expect(again.stderr + again.stdout).toMatch(/nothing is overwritten/);
    const missing = script("restore", there, join(here, "none.backup"));
    expect(missing.stderr + missing.stdout).toMatch(/There is no file/);
    const bad = join(here, "bad.backup");
    writeFileSync(bad, "not a backup");
    const refused = script("restore", there, bad);
    expect(refused.status).not.toBe(0);
    expect(refused.stderr + refused.stdout).toMatch(/nothing was changed/);
  }, 120_000);
});
