import { type Kysely, sql } from "kysely";

/** How long a firm's calls take, and the ways between its sites, by its book; worked out with the rest of the night. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table firm add column pace jsonb`.execute(db);
  await sql`comment on column firm.pace is 'minutes of calls by basin, of ways by pair of sites, and what is usual'`.execute(
    db,
  );
}
