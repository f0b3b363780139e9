import { randomBytes } from "node:crypto";
import { asGate, type Database } from "./connection";

/** Whether a save would go through just now. */

/** A small row finds room on a full disk for long, where what people save does not: so often a larger one is tried. */
const LARGE_EVERY_MS = 30_000;
const LARGE_BYTES = 16_384;
/** A disk that was full a moment ago is taken to be full still. */
const FULL_FOR_MS = 60_000;
/** disk_full */
const DISK_FULL = "53100";

let full: { fault: unknown; at: number } | null = null;
let largeAt = Number.NEGATIVE_INFINITY;

/** Remembers that a statement found the disk full; the remembered one, told again, is no news. */
export function noteFull(fault: unknown, now: Date): void {
  if ((fault as { code?: unknown } | null)?.code !== DISK_FULL || fault === full?.fault) return;
  full = { fault, at: now.getTime() };
  // The next that is tried has to find room for a large row.
  largeAt = Number.NEGATIVE_INFINITY;
}

/** Writes a row, as every save does; throws what keeps it from being written, or kept others a moment ago. */
export async function writable(db: Database, now: Date): Promise<void> {
  if (full && now.getTime() - full.at < FULL_FOR_MS) throw full.fault;
  const isLarge = now.getTime() - largeAt >= LARGE_EVERY_MS;
  // What cannot be made smaller, so that it takes as much room as it says.
  const ballast = isLarge ? { ballast: randomBytes(LARGE_BYTES) } : {};
  await asGate(db, (scope) =>
    scope
      .updateTable("readiness")
      .set({ at: now, ...ballast })
      .execute(),
  );
  if (isLarge) largeAt = now.getTime();
}
