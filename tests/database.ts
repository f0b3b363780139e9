import { randomBytes } from "node:crypto";
import pg from "pg";
import { inject } from "vitest";
import { type Database, migrate, openDatabase } from "#server/db/connection";

/** A new, migrated database in the test cluster. */
export async function newDatabase(): Promise<{ db: Database; url: string; close: () => Promise<void> }> {
  const name = `try_${randomBytes(6).toString("hex")}`;
  const url = new URL(inject("databaseUrl"));
  const client = new pg.Client({ connectionString: url.href });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  url.pathname = `/${name}`;
  const db = openDatabase(url.href, 6);
  await migrate(db);
  return { db, url: url.href, close: () => db.destroy() };
}
