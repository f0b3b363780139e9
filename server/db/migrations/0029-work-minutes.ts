import { type Kysely, sql } from "kysely";

/** What the taps of a firm's hands say of how long each piece of work takes; worked out with the rest of the night. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table firm add column work_minutes jsonb`.execute(db);
  await sql`comment on column firm.work_minutes is 'by key of the work: minutes, and how often it was timed'`.execute(
    db,
  );
}
