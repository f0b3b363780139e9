import { sql } from "kysely";
import type { FirmScope } from "../db/connection";

/** A year of rows is more than a page's statement may take. */
const PATIENCE = "60s";

/**
 * Takes the firm of this scope away with all that is its own, if it is a demo.
 * @returns whether it was one
 */
export async function throwDemoAway(scope: FirmScope, now: Date): Promise<boolean> {
  await sql`set local statement_timeout = ${sql.lit(PATIENCE)}`.execute(scope);
  const { rows } = await sql<{ done: boolean }>`select throw_away_demo(${now}) as done`.execute(scope);
  return rows[0]?.done ?? false;
}
