import { type Kysely, sql } from "kysely";

/** Where a visit began and ended, by the device of whoever made it and allows that. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table visit add column places jsonb`.execute(db);
  await sql`comment on column visit.places is 'where it began and ended, where whoever made it allows that'`.execute(
    db,
  );
}
