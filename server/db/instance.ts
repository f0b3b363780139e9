import { sql } from "kysely";
import { newCode } from "../auth/setup-code";
import { asGate, type Database, type FirmScope } from "./connection";

/** What is to be known of this installation, whatever firms are in it, and whichever of its servers asks. */

/** The code with which a fresh instance is set up, one for all its servers: made by the first that asks. */
export async function setupCode(db: Database): Promise<string> {
  const { code } = await asGate(db, (scope) =>
    scope
      .updateTable("instance")
      .set({ setup_code: sql`coalesce(setup_code, ${newCode()})` })
      .returning(sql<string>`setup_code`.as("code"))
      .executeTakeFirstOrThrow(),
  );
  return code;
}

const hasFirm = async (db: Database, demo: boolean): Promise<boolean> => {
  const row = await asGate(db, (scope) =>
    scope.selectFrom("firm").select("id").where("demo", "=", demo).executeTakeFirst(),
  );
  return row !== undefined;
};

/** Whether somebody's own firm is there; the demo's is none. */
export const hasOwnFirm = (db: Database): Promise<boolean> => hasFirm(db, false);

/** Whether the demo firm is there. */
export const demoLoaded = (db: Database): Promise<boolean> => hasFirm(db, true);

/** Whether nobody's own firm is there; until the transaction ends nobody else is told so. */
export async function maySetUp(scope: FirmScope): Promise<boolean> {
  const { rows } = await sql<{ may: boolean }>`select may_set_up() as may`.execute(scope);
  return rows[0]?.may ?? false;
}

/** Whether somebody threw the demo away: it does not come back by itself. */
export async function demoThrownAway(db: Database): Promise<boolean> {
  const row = await asGate(db, (scope) =>
    scope.selectFrom("instance").select("demo_thrown_away_at").executeTakeFirst(),
  );
  return row?.demo_thrown_away_at != null;
}
