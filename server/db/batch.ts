import {
  CompiledQuery,
  type DatabaseConnection,
  type Dialect,
  Kysely,
  PostgresAdapter,
  PostgresIntrospector,
  PostgresQueryCompiler,
  type QueryResult,
} from "kysely";
import pg from "pg";
import type { FirmScope } from "./connection";
import { type Column, columnsOf, isAsking } from "./prepared";
import type { DB } from "./schema";

/** Reads that do not wait for one another, sent to the database as one statement. */

const open = new WeakSet<FirmScope>();

/**
 * Runs `work` on a scope for reading, in the same transaction. What is asked of it at the same time, as with
 * `Promise.all`, goes as one statement and comes back as if each had been asked alone. Nothing is written through it,
 * and nothing reaches the database once `work` has ended.
 * @example await reading(scope, (reads) => Promise.all([firmOf(reads), membersOf(reads)])); // one statement
 */
export async function reading<T>(scope: FirmScope, work: (reads: FirmScope) => Promise<T>): Promise<T> {
  if (open.has(scope)) return work(scope);
  const batch = new Batch(scope);
  // All that the modules of tables use of a scope is the builder of statements.
  const reads = new Kysely<DB>({ dialect: dialectOver(batch) }) as FirmScope;
  open.add(reads);
  try {
    return await work(reads);
  } finally {
    await batch.end();
  }
}

const nothing = async () => {};
const refused = async () => {
  throw new Error("a scope for reading begins no transaction");
};

const dialectOver = (batch: Batch): Dialect => ({
  createAdapter: () => new PostgresAdapter(),
  createQueryCompiler: () => new PostgresQueryCompiler(),
  createIntrospector: (db) => new PostgresIntrospector(db),
  createDriver: () => ({
    init: nothing,
    acquireConnection: async () => batch,
    releaseConnection: nothing,
    beginTransaction: refused,
    commitTransaction: refused,
    rollbackTransaction: refused,
    destroy: nothing,
  }),
});

interface Asked {
  query: CompiledQuery;
  resolve: (result: QueryResult<never>) => void;
  reject: (fault: unknown) => void;
}

class Batch implements DatabaseConnection {
  #waiting: Asked[] = [];
  #sending: Promise<void> = Promise.resolve();
  #fault: unknown = null;
  readonly #scope: FirmScope;

  constructor(scope: FirmScope) {
    this.#scope = scope;
  }

  executeQuery<R>(query: CompiledQuery): Promise<QueryResult<R>> {
    if (this.#fault) return Promise.reject(this.#fault);
    if (!isRead(query.sql)) return Promise.reject(new Error(`no read: ${query.sql.slice(0, 80)}`));
    return new Promise((resolve, reject) => {
      // After all that is asked in one go has come to here.
      if (this.#waiting.length === 0)
        setImmediate(() => {
          this.#sending = this.#sending.then(() => this.#send());
        });
      this.#waiting.push({ query, resolve, reject });
    });
  }

  // biome-ignore lint/correctness/useYield: nothing is streamed out of a batch.
  async *streamQuery<R>(): AsyncIterableIterator<QueryResult<R>> {
    throw new Error("a batch does not stream");
  }

  /** Nothing is sent after this: the connection is soon somebody else's. */
  end(): Promise<void> {
    this.#fail(new Error("asked of a scope for reading whose work has ended"));
    return this.#sending;
  }

  #fail(fault: unknown): void {
    this.#fault ??= fault;
    for (const { reject } of this.#waiting.splice(0)) reject(fault);
  }

  async #send(): Promise<void> {
    const asked = this.#waiting.splice(0);
    // What a statement answers with is known once it was asked alone.
    const known = asked.filter(({ query }) => columnsOf(query.sql));
    const isOne = known.length < 2;
    const parts = isOne
      ? asked.map((one) => [one])
      : [known, ...asked.filter((one) => !known.includes(one)).map((one) => [one])];
    for (const [at, part] of parts.entries())
      try {
        const results = await this.#answers(part.map(({ query }) => query));
        part.forEach(({ resolve }, place) => void resolve(results[place] as QueryResult<never>));
      } catch (fault) {
        for (const { reject } of parts.slice(at).flat()) reject(fault);
        this.#fail(fault);
        return;
      }
  }

  async #answers(queries: CompiledQuery[]): Promise<QueryResult<unknown>[]> {
    const [first, ...others] = queries;
    if (first && others.length === 0) return [await this.#scope.executeQuery(first)];
    const { rows } = await this.#scope.executeQuery<Answers>(merged(queries));
    return queries.map(({ sql }, place) => {
      const columns = columnsOf(sql) ?? [];
      return { rows: (rows[0]?.[`a${place}`] ?? []).map((values) => rowOf(columns, values)) };
    });
  }
}

/** Each row of each statement, as its columns' texts. */
type Answers = Record<string, (string | null)[][] | null>;

/** Neither writes nor locks; what people typed is never in a statement's text. */
const isRead = (text: string): boolean =>
  isAsking(text) && !/\b(insert into|update|delete from|merge into|share)\b/i.test(text);

/** Statements whose columns are known as one: each becomes a list of lists of texts, in the order of its rows. */
function merged(queries: readonly CompiledQuery[]): CompiledQuery {
  const parameters: unknown[] = [];
  const lists = queries.map((query, place) => {
    const before = parameters.length;
    parameters.push(...query.parameters);
    const text = query.sql.replace(/\$(\d+)/g, (_, number: string) => `$${before + Number(number)}`);
    const names = (columnsOf(query.sql) ?? []).map((_, index) => `c${index}`);
    const texts = names.map((name) => `${name}::text`).join(", ");
    return `(select json_agg(json_build_array(${texts})) from (${text}) as q(${names.join(", ")})) as a${place}`;
  });
  return CompiledQuery.raw(`select ${lists.join(",\n")}`, parameters);
}

/** A row as the driver would have made it of the same texts. */
function rowOf(columns: readonly Column[], values: readonly (string | null)[]): Record<string, unknown> {
  const row: Record<string, unknown> = {};
  columns.forEach(({ name, type }, index) => {
    const value = values[index] ?? null;
    row[name] = value === null ? null : pg.types.getTypeParser(type)(value);
  });
  return row;
}
