import { createHash } from "node:crypto";
import { CompiledQuery } from "kysely";
import { RateLimiterPostgres } from "rate-limiter-flexible";
import { type Brake, QUARTER_HOUR } from "../auth/limits";
import { asGate, type Database } from "./connection";

/** Counts of tries, in the database: every web server brakes by the same ones. */

/** A brake of a name. @param points tries in a quarter of an hour */
export const databaseBrakes =
  (db: Database) =>
  (name: string, points: number): Brake => {
    const limiter = new RateLimiterPostgres({
      storeClient: throughTheGate(db),
      storeType: "client",
      tableName: "brake",
      tableCreated: true,
      // The night does it, once for all servers.
      clearExpiredByTimeout: false,
      keyPrefix: name,
      points,
      duration: QUARTER_HOUR,
    });
    // Whose account was tried, and from where, is nobody's to read.
    const key = (who: string) => createHash("sha256").update(who).digest("base64url");
    return {
      consume: (who) => limiter.consume(key(who)),
      delete: (who) => limiter.delete(key(who)),
      reward: (who) => limiter.reward(key(who)),
    };
  };

/** A client as the limiter knows one. */
const throughTheGate = (db: Database) => ({
  async query({ text, values }: { text: string; values: unknown[] }) {
    const { rows, numAffectedRows } = await asGate(db, (scope) =>
      scope.executeQuery(CompiledQuery.raw(text, values)),
    );
    return { rows, rowCount: Number(numAffectedRows ?? rows.length) };
  },
});

/** Forgets counts whose time is over. */
export async function clearBrakes(db: Database, now: Date): Promise<void> {
  await asGate(db, (scope) => scope.deleteFrom("brake").where("expire", "<", `${now.getTime()}`).execute());
}
