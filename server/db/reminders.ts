import { sql } from "kysely";
import type { FirmScope } from "./connection";

/** What a firm is reminded of on a day. */
export interface Reminder {
  calls: number;
  tests: number;
  tasks: number;
  events: { basin: string; name: string; day: string }[];
  /** Reagents past their day, or at it within two weeks. */
  expiring: { reagent: string; day: string }[];
  /** Products at or under the point of ordering again. */
  reorder: string[];
}

/** Keeps a day's reminder in place of the one that was there. */
export async function saveReminder(
  scope: FirmScope,
  firmId: string,
  day: string,
  reminder: Reminder,
  now: Date,
): Promise<void> {
  const content = JSON.stringify(reminder);
  await scope
    .insertInto("reminder")
    .values({ firm_id: firmId, day: sql<Date>`${day}::date`, content, made_at: now })
    .onConflict((conflict) => conflict.columns(["firm_id", "day"]).doUpdateSet({ content, made_at: now }))
    .execute();
}

/** The reminder of a day, or null before the night has made it. */
export async function reminderOn(scope: FirmScope, day: string): Promise<Reminder | null> {
  const row = await scope
    .selectFrom("reminder")
    .select("content")
    .where("day", "=", sql<Date>`${day}::date`)
    .executeTakeFirst();
  return (row?.content as Reminder | undefined) ?? null;
}
