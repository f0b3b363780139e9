import type { PostgresPool, PostgresPoolClient } from "kysely";
import pg from "pg";
import { statements } from "../metrics";
import { isBroken } from "./away";
import { isAsking, noteColumns, statementName } from "./prepared";

/** Connections to the database, which may die or fall silent at any moment without taking anybody along. */

// Dates stay Date, bigints that fit become numbers; nothing here counts past 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** A request waits this long for a connection. Milliseconds */
const CONNECT_MS = 5000;
/** A statement that gives no answer for longer than the database itself allows: nobody is there. Milliseconds */
const SILENT_MS = 20_000;

const ignore = () => {};

/**
 * A pool as the query builder wants it: reading statements prepared, broken connections thrown away.
 * @param opened hears of the pool, to watch it
 * @param patient waits for a statement as long as it takes: a migration of a large book has hours
 */
export function openPool(
  url: string,
  size: number,
  patient: boolean,
  opened: (pool: pg.Pool) => void = ignore,
): PostgresPool {
  const pool = new pg.Pool({
    connectionString: url,
    max: size,
    connectionTimeoutMillis: CONNECT_MS,
    ...(patient ? {} : { query_timeout: SILENT_MS }),
    keepAlive: true,
  });
  // A connection that the server drops must not take the process down, idle or in use; its query reports it.
  pool.on("error", ignore);
  pool.on("connect", (client) => client.on("error", ignore));
  opened(pool);
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

/**
 * A connection as the query builder knows it. `begin` waits for the statement after it, which says for whom
 * the transaction is and carries no parameters: the two travel together.
 */
function connectionOf(client: pg.PoolClient): PostgresPoolClient {
  let broken: Error | null = null;
  let toBegin = false;
  const send = async (text: string, values: readonly unknown[]) => {
    statements.inc();
    if (values.length === 0 && !isAsking(text)) return client.query(text);
    const answer = await client.query({ name: statementName(text), text, values: values as unknown[] });
    if (isAsking(text)) noteColumns(text, answer.fields);
    return answer;
  };
  const begun = (text: string) => {
    statements.inc();
    return client.query(text);
  };
  const ask = async (text: string, values: readonly unknown[]) => {
    if (text === "begin") {
      toBegin = true;
      return NOTHING;
    }
    if (!toBegin) return send(text, values);
    toBegin = false;
    // Nothing was begun: there is nothing to end.
    if (text === "commit" || text === "rollback") return NOTHING;
    if (values.length === 0 && /^set local /.test(text)) {
      const answers = (await begun(`begin; ${text}`)) as unknown as pg.QueryResult[];
      return answers.at(-1) ?? NOTHING;
    }
    await begun("begin");
    return send(text, values);
  };
  const connection = {
    async query(text: string, values: readonly unknown[]) {
      // A rollback on a connection that fell silent would only be silent once more.
      if (broken) throw broken;
      try {
        return await ask(text, values);
      } catch (fault) {
        if (isBroken(fault)) broken = fault as Error;
        throw fault;
      }
    },
    release() {
      toBegin = false;
      client.release(broken ?? undefined);
    },
  };
  return connection as unknown as PostgresPoolClient;
}

const NOTHING = { command: "", rowCount: 0, rows: [] } as const;
