import { type Kysely, sql } from "kysely";

/**
 * Walls and keys: what each write was called by and came to, so that the same one again is the same
 * answer; links that set a password anew; a row that shows whether the database can be written; and the
 * basin on each reading, so that what is newest there is found by one look into an index, for a firm of
 * any size.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table write_key (
      firm_id uuid not null references firm,
      key uuid not null,
      member_id uuid not null,
      digest bytea not null check (length(digest) = 32),
      answer jsonb,
      made_at timestamptz not null,
      primary key (firm_id, key),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table write_key is 'writes that were done, by the key that the device made'`.execute(
    db,
  );
  await sql`comment on column write_key.digest is 'of what was sent: the same key with other content is refused'`.execute(
    db,
  );

  // An address opens a firm only with a password. People who came in with a file have none: their address
  // is a word in the book, takes none from anybody, and shows nothing of other firms.
  await sql`alter table member drop constraint member_email_key`.execute(db);
  await sql`create unique index member_sign_in on member (email) where password_hash <> ''`.execute(db);

  await sql`
    create table password_reset (
      id uuid primary key,
      firm_id uuid not null,
      token_hash bytea not null unique check (length(token_hash) = 32),
      member_id uuid not null,
      made_by uuid,
      made_at timestamptz not null,
      expires_at timestamptz not null,
      used_at timestamptz,
      withdrawn_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id),
      foreign key (firm_id, made_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column password_reset.made_by is 'the owner who made it; null when it came from the command line'`.execute(
    db,
  );

  await sql`
    create table readiness (
      one boolean primary key default true check (one),
      at timestamptz not null
    )`.execute(db);
  await sql`comment on table readiness is 'written to find out whether anything can be'`.execute(db);
  await sql`insert into readiness (at) values (now())`.execute(db);

  await sql`alter table reading add column basin_id uuid`.execute(db);
  for (const table of ["reading", "visit"])
    await sql`alter table ${sql.table(table)} no force row level security`.execute(db);
  await sql`
    update reading set basin_id = visit.basin_id from visit
    where visit.firm_id = reading.firm_id and visit.id = reading.visit_id`.execute(db);
  for (const table of ["reading", "visit"])
    await sql`alter table ${sql.table(table)} force row level security`.execute(db);
  await sql`
    create function reading_basin() returns trigger language plpgsql as $$
    begin
      select visit.basin_id into new.basin_id from visit
      where visit.firm_id = new.firm_id and visit.id = new.visit_id;
      return new;
    end $$`.execute(db);
  await sql`
    create trigger reading_basin before insert on reading
      for each row execute function reading_basin()`.execute(db);
  await sql`comment on column reading.basin_id is 'of its visit, put in by a trigger'`.execute(db);
  await sql`
    create index reading_of_basin on reading (firm_id, basin_id, quantity, taken_at desc)
      where superseded_at is null and used`.execute(db);

  for (const table of ["write_key", "password_reset", "readiness"]) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
  }
  for (const table of ["write_key", "password_reset"]) {
    const name = sql.table(table);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
  }
  await sql`create policy gate on password_reset to pelagon_gate using (true) with check (false)`.execute(db);
  await sql`create policy gate on readiness to pelagon_gate using (true) with check (true)`.execute(db);
  await sql`grant select on password_reset to pelagon_gate`.execute(db);
  await sql`grant select, update on readiness to pelagon_gate`.execute(db);
}
