import { type Kysely, sql } from "kysely";

/** A volume may be taken over from what the basin's own log taught. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table basin_volume drop constraint basin_volume_how_check`.execute(db);
  await sql`
    alter table basin_volume add constraint basin_volume_how_check
      check (how in ('entered', 'shape', 'meter', 'dose', 'log'))`.execute(db);
}
