import { asGate, type Database, type FirmScope } from "./connection";

/** What is past its day opens nothing already; here it is closed for good. */

export const endExpiredSessions = (db: Database, before: Date, now: Date): Promise<unknown> =>
  asGate(db, (scope) =>
    scope
      .updateTable("session")
      .set({ revoked_at: now })
      .where("revoked_at", "is", null)
      .where("expires_at", "<=", before)
      .execute(),
  );

/** Links to sheets, invitations and links that set a password. */
export async function withdrawExpired(scope: FirmScope, before: Date, now: Date): Promise<void> {
  for (const table of ["share", "invite", "password_reset"] as const)
    await scope
      .updateTable(table)
      .set({ withdrawn_at: now })
      .where("withdrawn_at", "is", null)
      .where("expires_at", "<=", before)
      .execute();
}
