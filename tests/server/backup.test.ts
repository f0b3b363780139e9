import { spawnSync } from "node:child_process";
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, openDatabase } from "#server/db/connection";
import { migrate } from "#server/db/migrate";
import { openCluster } from "../../scripts/lib/cluster.mjs";
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

beforeAll(async () => {
  const cluster = await openCluster(here, { throwAway: true });
  const db = openDatabase(cluster.ownerUrl, 2);
  await migrate(db);
  await newFirm(db, "kept");
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
    const restore = script("restore", there, file);
    expect(restore.status, restore.stderr + restore.stdout).toBe(0);
    const target = await openCluster(there, { throwAway: true });
    expect(await everything(target.superuserUrl())).toEqual(before);
    // The application works on it, and still sees one firm at a time.
    const db = openDatabase(target.ownerUrl, 2);
    expect(await migrate(db)).toEqual([]);
    const strangers = await asFirm(db, "00000000-0000-7000-8000-000000000000", (scope) =>
      scope.selectFrom("basin").select("id").execute(),
    );
    expect(strangers).toEqual([]);
    await db.destroy();
  }, 180_000);

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
