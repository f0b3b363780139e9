import type { PostgresPool, PostgresPoolClient } from "kysely";
import pg from "pg";
import { isBroken } from "./away";
import { statementName } from "./prepared";

/** Connections to the database, which may die or fall silent at any moment without taking anybody along. */

// Dates stay Date, bigints that fit become numbers; nothing here counts past 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** A request waits this long for a connection. Milliseconds */
const CONNECT_MS = 5000;
/** A statement that gives no answer for longer than the database itself allows: nobody is there. Milliseconds */
const SILENT_MS = 20_000;

const ignore = () => {};

/** A pool as the query builder wants it: reading statements prepared, broken connections thrown away. */
export function openPool(url: string, size: number): PostgresPool {
  const pool = new pg.Pool({
    connectionString: url,
    max: size,
    connectionTimeoutMillis: CONNECT_MS,
    query_timeout: SILENT_MS,
    keepAlive: true,
  });
  // A connection that the server drops must not take the process down, idle or in use; its query reports it.
  pool.on("error", ignore);
  pool.on("connect", (client) => client.on("error", ignore));
  // The query builder knows a connection again by its object.
  const wrapped = new WeakMap<pg.PoolClient, PostgresPoolClient>();
  return {
    end: () => pool.end(),
    async connect() {
      const client = await pool.connect();
      const known = wrapped.get(client) ?? connectionOf(client);
      wrapped.set(client, known);
      return known;
    },
  };
}

function connectionOf(client: pg.PoolClient): PostgresPoolClient {
  let broken: Error | null = null;
  const connection = {
    async query(text: string, values: unknown[]) {
      // A rollback on a connection that fell silent would only be silent once more.
      if (broken) throw broken;
      try {
        return await client.query({ name: statementName(text), text, values });
      } catch (fault) {
        if (isBroken(fault)) broken = fault as Error;
        throw fault;
      }
    },
    release: () => client.release(broken ?? undefined),
  };
  return connection as unknown as PostgresPoolClient;
}
