import { type Kysely, sql } from "kysely";

/**
 * A call is more than its water: what is done there and how often, by lists in versions; calls at which nobody
 * tested; and how one gets in, which nobody but those who work there may know.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table visit add column untested text
      check (untested in ('repair', 'filter', 'delivery', 'no-entry', 'other'))`.execute(db);
  await sql`comment on column visit.untested is 'why nobody tested the water; null where somebody did'`.execute(
    db,
  );
  await sql`
    create table work_list (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      kind text not null check (length(kind) between 1 and 40),
      version integer not null check (version > 0),
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      member_id uuid not null,
      created_at timestamptz not null,
      unique (firm_id, kind, version),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table work_list is 'what is done at a kind of basin besides the water; a kind without a list has the usual one'`.execute(
    db,
  );
  await sql`
    create table visit_work (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      visit_id uuid not null,
      member_id uuid not null,
      key text not null check (length(key) between 1 and 50),
      name text not null check (length(name) <= 80),
      state text not null check (state in ('done', 'skipped')),
      why text not null check (length(why) <= 400),
      at timestamptz not null,
      superseded_at timestamptz,
      foreign key (firm_id, visit_id) references visit (firm_id, id) on delete cascade,
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column visit_work.name is 'as the firm called it then; empty of what ships'`.execute(
    db,
  );
  await sql`create index work_of_visit on visit_work (visit_id, firm_id)`.execute(db);
  await sql`
    create table site_access (
      firm_id uuid not null references firm (id),
      site_id uuid not null,
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      changed_at timestamptz not null,
      changed_by uuid not null,
      primary key (site_id, firm_id),
      foreign key (firm_id, site_id) references site (firm_id, id) on delete cascade,
      foreign key (firm_id, changed_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table site_access is 'codes, keys, dogs: for those who work there, and in no file that leaves'`.execute(
    db,
  );
  for (const table of ["work_list", "visit_work", "site_access"]) await behindTheWall(db, table);
  await sql`grant delete on site_access to pelagon_app`.execute(db);
  // A customer reads what was done at their water.
  await sql`
    create policy reader_wall on visit_work for select to pelagon_reader
      using (firm_id = current_firm() and visit_id in (select id from visit))`.execute(db);
  await sql`grant select on visit_work to pelagon_reader`.execute(db);
}

/** A table of firms: each sees its own, the demo can be thrown away, and a firm erased. */
export async function behindTheWall(db: Kysely<unknown>, table: string): Promise<void> {
  const name = sql.table(table);
  await sql`alter table ${name} enable row level security`.execute(db);
  await sql`alter table ${name} force row level security`.execute(db);
  await sql`
    create policy firm_wall on ${name} to pelagon_app
      using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
  await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
  await sql`
    create policy broom on ${name} to pelagon_broom
      using (firm_id in (select id from firm where demo)) with check (false)`.execute(db);
  await sql`
    create policy eraser on ${name} to pelagon_eraser
      using (firm_id = current_firm()) with check (false)`.execute(db);
  for (const role of ["pelagon_broom", "pelagon_eraser"])
    await sql`grant select, delete on ${name} to ${sql.raw(role)}`.execute(db);
}
