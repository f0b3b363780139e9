import type { PostgresPool, PostgresPoolClient } from "kysely";
import type pg from "pg";

/**
 * Reading statements are prepared: a page asks the same dozen each time, and the walls between firms
 * make them dearer to plan than to run. PostgreSQL itself plans one anew where its values matter.
 */

/** Texts that are kept prepared at most; lists of many lengths make many texts of one statement. */
const MOST = 300;
const names = new Map<string, string>();

/** The name under which every connection prepares this text; undefined where it goes unprepared. */
export function statementName(text: string): string | undefined {
  if (!/^\s*(select|with)\b/i.test(text)) return undefined;
  const known = names.get(text);
  if (known || names.size >= MOST) return known;
  const name = `pelagon_${names.size + 1}`;
  names.set(text, name);
  return name;
}

/** The pool as the query builder wants it, with its reading statements prepared. */
export function preparing(pool: pg.Pool): PostgresPool {
  // The query builder knows a connection again by its object.
  const wrapped = new WeakMap<pg.PoolClient, PostgresPoolClient>();
  return {
    end: () => pool.end(),
    async connect() {
      const client = await pool.connect();
      const known = wrapped.get(client);
      if (known) return known;
      const made = {
        query: (text: string, values: unknown[]) => client.query({ name: statementName(text), text, values }),
        release: () => client.release(),
      } as unknown as PostgresPoolClient;
      wrapped.set(client, made);
      return made;
    },
  };
}
