import { type Kysely, sql } from "kysely";

/** Jobs of more than one call, in the visits that began and ended them. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table visit add column jobs jsonb check (jsonb_typeof(jobs) = 'array')`.execute(db);
  await sql`comment on column visit.jobs is 'jobs of several calls that were begun or ended here; null where none was'`.execute(
    db,
  );
  await sql`create index visit_jobs on visit (firm_id, basin_id) where jobs is not null`.execute(db);
}
