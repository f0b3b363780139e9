import { type Kysely, sql } from "kysely";

/**
 * What logs taught: of each basin, and of the firm's bottles, deliveries and volumes. It can be worked out
 * again at any time; what it rests on and by which version of the learner stands beside it.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table visit add column replaced double precision check (replaced between 0 and 1)`.execute(
    db,
  );
  await sql`comment on column visit.replaced is 'share of the water, where somebody wrote it down; a plan has its own'`.execute(
    db,
  );
  await sql`
    create table learned (
      firm_id uuid not null references firm (id),
      basin_id uuid not null,
      learned_at timestamptz not null,
      version integer not null,
      visits integer not null,
      content jsonb not null,
      primary key (basin_id),
      foreign key (firm_id, basin_id) references basin (firm_id, id) on delete cascade
    )`.execute(db);
  await sql`comment on table learned is 'habits of a basin, by its own log'`.execute(db);
  await sql`comment on column learned.version is 'of the learner'`.execute(db);
  await sql`comment on column learned.visits is 'that it rests on'`.execute(db);
  await sql`
    create table suspicion_list (
      firm_id uuid primary key references firm (id),
      learned_at timestamptz not null,
      version integer not null,
      content jsonb not null
    )`.execute(db);
  await sql`comment on table suspicion_list is 'what in the book the logs speak against'`.execute(db);
  for (const table of ["learned", "suspicion_list"]) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
  }
}
