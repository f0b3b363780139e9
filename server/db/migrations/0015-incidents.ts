import { type Kysely, sql } from "kysely";

/**
 * What happened at a basin beside its water: it closes the basin until it is over, over visits too. And who
 * bathes in a basin: what strangers bathe in has a code to keep.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table visit add column incidents jsonb check (jsonb_typeof(incidents) = 'array')`.execute(db);
  await sql`comment on column visit.incidents is 'what happened there, and what of visits before was declared over here; null where nothing did'`.execute(
    db,
  );
  await sql`
    alter table visit add column bathing jsonb check (jsonb_typeof(bathing) = 'object')`.execute(db);
  await sql`comment on column visit.bathing is 'whether the water might be used as the visit left it, and why not; null where nobody worked it out'`.execute(
    db,
  );
  await sql`alter table basin add column is_public boolean`.execute(db);
  await sql`comment on column basin.is_public is 'whether others than one household bathe there; null where nobody said'`.execute(
    db,
  );
  await sql`create index visit_incidents on visit (firm_id, basin_id) where incidents is not null`.execute(
    db,
  );
}
