import { Kysely, Migrator, PostgresDialect, sql, type Transaction } from "kysely";
import pg from "pg";
import { MIGRATIONS } from "./migrations";
import { preparing } from "./prepared";
import type { DB } from "./schema";

export type Database = Kysely<DB>;
/** A transaction that sees one firm's rows and no others. */
export type FirmScope = Transaction<DB>;

// Dates stay Date, bigints that fit become numbers; nothing here counts past 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** Opens a pool. Every use goes through `asFirm` or `asGate`; bare queries meet closed policies. */
export function openDatabase(url: string, size = 8): Database {
  const pool = new pg.Pool({ connectionString: url, max: size, connectionTimeoutMillis: 10_000 });
  // An idle connection that the server drops must not take the process down; the next query reports it.
  pool.on("error", () => {});
  return new Kysely<DB>({ dialect: new PostgresDialect({ pool: preparing(pool) }) });
}

/** Runs `work` in a transaction that sees the rows of `firmId` only. */
export function asFirm<T>(db: Database, firmId: string, work: (scope: FirmScope) => Promise<T>): Promise<T> {
  return db.transaction().execute(async (scope) => {
    await sql`select set_config('role', 'pelagon_app', true), set_config('pelagon.firm', ${firmId}, true)`.execute(
      scope,
    );
    return work(scope);
  });
}

/** Runs `work` in a transaction that can only read, and sees what stands under the sites of a reader. */
export function asReader<T>(
  db: Database,
  firmId: string,
  memberId: string,
  work: (scope: FirmScope) => Promise<T>,
): Promise<T> {
  return db.transaction().execute(async (scope) => {
    await sql`select set_config('role', 'pelagon_reader', true), set_config('pelagon.firm', ${firmId}, true),
      set_config('pelagon.member', ${memberId}, true)`.execute(scope);
    return work(scope);
  });
}

/** Runs `work` as the gate: members, sessions and links of every firm, for letting in and nothing else. */
export function asGate<T>(db: Database, work: (scope: Transaction<DB>) => Promise<T>): Promise<T> {
  return db.transaction().execute(async (scope) => {
    await sql`set local role pelagon_gate`.execute(scope);
    return work(scope);
  });
}

/** Brings the schema up to date; returns the names of the migrations that ran. */
export async function migrate(db: Database): Promise<string[]> {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => MIGRATIONS } });
  const { error, results } = await migrator.migrateToLatest();
  if (error) throw error;
  return (results ?? [])
    .filter((result) => result.status === "Success")
    .map((result) => result.migrationName);
}
