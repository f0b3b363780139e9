import { Kysely, PostgresDialect, sql, type Transaction } from "kysely";
import type pg from "pg";
import { requestId } from "../request-id";
import { openPool } from "./pool";
import type { DB } from "./schema";

export type Database = Kysely<DB>;
/** A transaction that sees one firm's rows and no others. */
export type FirmScope = Transaction<DB>;
/** A transaction that sees members, sessions and links of every firm, and nothing else. */
export type GateScope = Transaction<DB>;

/** Opens a pool. Every use goes through `asFirm`, `asReader` or `asGate`; bare queries meet closed policies. */
export const openDatabase = (
  url: string,
  size = 10,
  { patient = false, opened }: { patient?: boolean; opened?: (pool: pg.Pool) => void } = {},
): Database =>
  new Kysely<DB>({ dialect: new PostgresDialect({ pool: openPool(url, size, patient, opened) }) });

/** Runs `work` in a transaction that sees the rows of `firmId` only. */
export function asFirm<T>(db: Database, firmId: string, work: (scope: FirmScope) => Promise<T>): Promise<T> {
  return db.transaction().execute(async (scope) => {
    await enter(scope, "pelagon_app", { "pelagon.firm": firmId });
    return work(scope);
  });
}

/** Runs `work` on the rows of a firm for somebody who holds a link: it can read them and nothing else. */
export function asHolder<T>(
  db: Database,
  firmId: string,
  work: (scope: FirmScope) => Promise<T>,
): Promise<T> {
  return asFirm(db, firmId, async (scope) => {
    await sql`set transaction read only`.execute(scope);
    return work(scope);
  });
}

/** Runs `work` for somebody who holds a card's link: that card, its basin's name, and what is said of it. */
export function asCardHolder<T>(
  db: Database,
  { firmId, cardId }: { firmId: string; cardId: string },
  work: (scope: FirmScope) => Promise<T>,
): Promise<T> {
  return db.transaction().execute(async (scope) => {
    await enter(scope, "pelagon_card", { "pelagon.firm": firmId, "pelagon.card": cardId });
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
    await enter(scope, "pelagon_reader", { "pelagon.firm": firmId, "pelagon.member": memberId });
    return work(scope);
  });
}

/** Runs `work` as the gate: members, sessions and links of every firm, for letting in and nothing else. */
export function asGate<T>(db: Database, work: (scope: GateScope) => Promise<T>): Promise<T> {
  return db.transaction().execute(async (scope) => {
    await enter(scope, "pelagon_gate", {});
    return work(scope);
  });
}

/**
 * Takes a role for the rest of the transaction, and says for whom. It carries no parameters, so that it
 * travels with the `begin` before it, see the pool.
 */
async function enter(
  scope: Transaction<DB>,
  role: "pelagon_app" | "pelagon_reader" | "pelagon_gate" | "pelagon_card",
  settings: Record<string, string>,
): Promise<void> {
  const id = requestId();
  const named = id ? { ...settings, application_name: `pelagon ${id}` } : settings;
  const said = Object.entries(named).map(
    ([name, value]) => sql`; set local ${sql.raw(name)} = ${sql.lit(value)}`,
  );
  await sql`set local role ${sql.raw(role)}${sql.join(said, sql``)}`.execute(scope);
}
