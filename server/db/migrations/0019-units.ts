import { type Kysely, sql } from "kysely";

/**
 * Imperial gallons beside US and metric units, and the smallest step that the scale on a truck shows: a dose that it
 * cannot weigh is measured with something else. A server of the version before goes on beside it: it tells a firm
 * that counts in imperial gallons US units.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  for (const table of ["firm", "member"]) {
    const name = sql.ref(`${table}_unit_system_check`);
    await sql`alter table ${sql.table(table)} drop constraint ${name}`.execute(db);
    await sql`
      alter table ${sql.table(table)} add constraint ${name}
        check (unit_system in ('us', 'metric', 'imperial'))`.execute(db);
  }
  await sql`
    alter table firm add column scale_step double precision check (scale_step between 0.01 and 100)`.execute(
    db,
  );
  await sql`comment on column firm.scale_step is 'smallest step that a truck''s scale shows, g; null where nobody said'`.execute(
    db,
  );
}
