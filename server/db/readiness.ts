import { asGate, type Database } from "./connection";

/** Writes one row, as every save does; throws what keeps it from being written. */
export async function writable(db: Database, now: Date): Promise<void> {
  await asGate(db, (scope) => scope.updateTable("readiness").set({ at: now }).execute());
}
