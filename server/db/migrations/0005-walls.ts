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
  await indexes(db);

  // Who stands behind a session is asked with every request: in one statement, by a function that sees what
  // the gate sees and gives out one row of it.
  await sql`
    create function session_behind(hash bytea, at timestamptz)
      returns table (member_id uuid, firm_id uuid, name text, role text, seen_at timestamptz)
      language sql stable security definer set search_path = public, pg_temp as $$
        select member.id, member.firm_id, member.name, member.role, session.seen_at
        from session join member on member.firm_id = session.firm_id and member.id = session.member_id
        where session.token_hash = hash and session.revoked_at is null and session.expires_at > at
          and member.disabled_at is null
      $$`.execute(db);
  await sql`revoke execute on function session_behind from public`.execute(db);
  // Only who may make things in a schema may be given one in it.
  await sql`grant create on schema public to pelagon_gate`.execute(db);
  await sql`alter function session_behind owner to pelagon_gate`.execute(db);
  await sql`revoke create on schema public from pelagon_gate`.execute(db);

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

/**
 * Indexes whose first column is what is asked for, and the firm second. The walls put `firm_id = …` into
 * every statement, so an index that begins with the firm could be read for any of them, a whole firm at a
 * time; while tables are small, or nothing is known of them, that costs the same, and a plan made then is
 * kept. One that holds both is the cheapest at any size.
 */
async function indexes(db: Kysely<unknown>): Promise<void> {
  for (const [table, constraint] of [
    ["reading", "reading_firm_id_supersedes_key"],
    ["dose", "dose_firm_id_supersedes_key"],
    ["finding", "finding_firm_id_visit_id_code_key"],
    ["plan", "plan_firm_id_visit_id_round_key"],
    ["plan_outcome", "plan_outcome_pkey"],
    ["drop_count", "drop_count_pkey"],
    ["reagent_use", "reagent_use_pkey"],
  ] as const)
    await sql`alter table ${sql.table(table)} drop constraint ${sql.ref(constraint)}`.execute(db);
  for (const name of [
    "visit_of_basin",
    "visit_open",
    "reading_of_visit",
    "reading_current",
    "reading_by_method",
    "reading_lately",
    "dose_of_visit",
    "dose_current",
    "dose_of_product",
    "plan_under_way",
    "plan_step_current",
    "photo_of_visit",
    "photo_of_basin",
    "share_of_visit",
    "task_done_lately",
    "audit_of",
    "session_member",
    "reagent_use_of_bottle",
  ])
    await sql`drop index ${sql.ref(name)}`.execute(db);

  // By firm: what is asked of all its basins at once.
  await sql`create index finding_by_code on finding (firm_id, code)`.execute(db);
  await sql`
    create index reading_changes on reading (firm_id, taken_at)
      where superseded_at is null and used and bound = 'within'
        and quantity in ('totalAlkalinity', 'calciumHardness', 'cyanuricAcid')`.execute(db);

  await sql`alter table drop_count add primary key (visit_id, firm_id, method_id)`.execute(db);
  await sql`alter table reagent_use add primary key (reading_id, firm_id, reagent)`.execute(db);
  await sql`alter table plan_outcome add primary key (plan_id, firm_id, quantity)`.execute(db);
  for (const text of [
    "index visit_of_basin on visit (basin_id, firm_id, started_at desc)",
    "unique index visit_open on visit (basin_id, firm_id) where finished_at is null",
    "unique index reading_by_method on reading (visit_id, firm_id, quantity, round, kit_id, method_id) where superseded_at is null",
    "unique index reading_current on reading (visit_id, firm_id, quantity, round) where superseded_at is null and used",
    "index reading_of_basin on reading (basin_id, firm_id, quantity, taken_at desc) where superseded_at is null and used",
    "index reading_of_visit on reading (visit_id, firm_id)",
    "unique index reading_superseded on reading (supersedes)",
    "unique index dose_current on dose (visit_id, firm_id, code) where superseded_at is null",
    "index dose_of_product on dose (product_id, firm_id, given_at) where superseded_at is null",
    "index dose_of_visit on dose (visit_id, firm_id)",
    "unique index dose_superseded on dose (supersedes)",
    "unique index finding_of_visit on finding (visit_id, firm_id, code)",
    "unique index plan_of_visit on plan (visit_id, firm_id, round)",
    "unique index plan_under_way on plan (visit_id, firm_id) where ended_at is null",
    "unique index plan_step_current on plan_step (plan_id, firm_id, position) where superseded_at is null",
    "index photo_of_basin on photo (basin_id, firm_id) where basin_id is not null",
    "index photo_of_visit on photo (visit_id, firm_id)",
    "index share_of_visit on share (visit_id, firm_id)",
    "index task_done_lately on task_done (basin_id, firm_id, task, done_at desc)",
    "index audit_of on audit (subject_id, firm_id, at desc) where subject_id is not null",
    "index session_of_member on session (member_id, firm_id)",
    "index reagent_use_of_bottle on reagent_use (bottle_id, firm_id)",
  ])
    await sql`create ${sql.raw(text)}`.execute(db);
}
