import { type Kysely, sql } from "kysely";

/** Kits on one truck may have a method of the same name: a count's name says whose it is. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table drop_count drop constraint drop_count_method_id_check,
      add constraint drop_count_method_id_check check (length(method_id) <= 100)`.execute(db);
}
