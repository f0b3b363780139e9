import { randomBytes } from "node:crypto";
import pg from "pg";
import { inject } from "vitest";
import { type Database, openDatabase } from "#server/db/connection";
import { prepareDatabase } from "#server/db/migrate";
import type { Addresses } from "../scripts/lib/world.mjs";

export interface TestDatabase {
  /** As the owner of the tables: past nothing, but it may change them. */
  db: Database;
  /** The owner's address. */
  url: string;
  /** What a web server on it is told. */
  addresses: Addresses;
  close: () => Promise<void>;
}

/** Runs statements beside all databases of the test cluster. */
async function onCluster<T>(work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: inject("database").ownerUrl });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

function addressesOf(name: string): Addresses {
  const named = (address: string) => Object.assign(new URL(address), { pathname: `/${name}` }).href;
  return { url: named(inject("database").url), ownerUrl: named(inject("database").ownerUrl) };
}

async function opened(name: string): Promise<TestDatabase> {
  const addresses = addressesOf(name);
  await prepareDatabase(addresses.ownerUrl, addresses.url);
  const db = openDatabase(addresses.ownerUrl, 6);
  return { db, url: addresses.ownerUrl, addresses, close: () => db.destroy() };
}

const newName = () => `try_${randomBytes(6).toString("hex")}`;

/** A new database with nothing in it, as a fresh instance finds it. */
export async function emptyDatabase(): Promise<Addresses> {
  const name = newName();
  await onCluster((client) => client.query(`create database ${name}`));
  return addressesOf(name);
}

/** A new, migrated database in the test cluster. */
export const newDatabase = (): Promise<TestDatabase> => copiedDatabase("migrated", async () => {});

/**
 * A new database with what `load` puts into one: it is loaded once under `source`, and copied from
 * there. For test files that follow one another.
 */
export async function copiedDatabase(
  source: string,
  load: (db: Database) => Promise<unknown>,
): Promise<TestDatabase> {
  const there = await onCluster((client) =>
    client.query("select from pg_database where datname = $1", [source]),
  );
  if (there.rowCount === 0) {
    // Under another name until it is whole.
    const half = newName();
    await onCluster((client) => client.query(`create database ${half}`));
    const { db, close } = await opened(half);
    await load(db);
    await close();
    await onCluster((client) => client.query(`alter database ${half} rename to ${source}`));
  }
  const name = newName();
  await onCluster((client) => client.query(`create database ${name} template ${source}`));
  return opened(name);
}
