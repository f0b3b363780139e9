import { type Kysely, sql } from "kysely";

/**
 * Kits on one truck may have a method of the same name: a count's name says whose it is. And whether a save would go
 * through is tried with a row that takes as much room as one.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table drop_count drop constraint drop_count_method_id_check,
      add constraint drop_count_method_id_check check (length(method_id) <= 100)`.execute(db);
  await sql`alter table readiness add column ballast bytea`.execute(db);
}
