import { type Kysely, sql } from "kysely";

/**
 * What one web server kept to itself is kept here, where every one of them finds it: brakes on guessing, the code that
 * sets a fresh instance up, files on their way in, and which server does which job.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await brakes(db);
  await setUpOnce(db);
  await filesOnTheirWayIn(db);
  await leases(db);
}

/** In the columns and types of the limiter that reads and writes it; unlogged, for a crash or another leader may forgive. */
async function brakes(db: Kysely<unknown>): Promise<void> {
  await sql`
    create unlogged table brake (
      key varchar(255) primary key,
      points integer not null default 0,
      expire bigint
    )`.execute(db);
  await sql`comment on column brake.key is 'digest of who is braked for what'`.execute(db);
  await sql`comment on column brake.expire is 'milliseconds since 1970'`.execute(db);
  await behindTheGate(db, "brake");
}

async function setUpOnce(db: Kysely<unknown>): Promise<void> {
  await sql`alter table instance add column setup_code text`.execute(db);
  await sql`comment on column instance.setup_code is 'opens /setup until a firm is there'`.execute(db);
  await sql`create policy gate_writes on instance for update to pelagon_gate using (true) with check (true)`.execute(
    db,
  );
  await sql`grant update (setup_code) on instance to pelagon_gate`.execute(db);
  // Asked in the transaction that makes the firm: whoever comes second waits for it, and then finds it there.
  await sql`
    create function may_set_up() returns boolean
      language plpgsql volatile security definer set search_path = public, pg_temp as $$
      begin
        perform pg_advisory_xact_lock(hashtext('pelagon: set up once'));
        return not exists (select from firm where not demo);
      end $$`.execute(db);
  await sql`revoke execute on function may_set_up from public`.execute(db);
  await sql`grant execute on function may_set_up to pelagon_app`.execute(db);
  // Only who may make things in a schema may be given one in it.
  await sql`grant create on schema public to pelagon_gate`.execute(db);
  await sql`alter function may_set_up owner to pelagon_gate`.execute(db);
  await sql`revoke create on schema public from pelagon_gate`.execute(db);
}

/** What a file holds is told as it stands there, NUL and all: as JSON that is kept as text. */
async function filesOnTheirWayIn(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table import_file (
      firm_id uuid not null references firm (id),
      id uuid not null,
      member_id uuid not null,
      name text not null,
      bytes bigint,
      form json,
      sent_at timestamptz not null,
      state text check (state in ('running', 'done', 'refused', 'cancelled', 'failed')),
      dry boolean,
      mapping json,
      begun_at timestamptz,
      claim uuid,
      beat_at timestamptz,
      stop_asked boolean not null default false,
      report json,
      primary key (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  for (const [column, says] of [
    ["bytes", "null until all of it has come"],
    ["form", "what its beginning looks like; null for JSON of our own"],
    ["state", "of the last run; null before the first"],
    ["claim", "made by whichever server does the run: another one that thinks that it does, stops"],
    ["beat_at", "when the server that does the run last said how far it is"],
  ] as const)
    await sql`comment on column ${sql.ref(`import_file.${column}`)} is ${sql.lit(says)}`.execute(db);
  // One of a firm at a time, whichever server is asked.
  await sql`create unique index import_running on import_file (firm_id) where state = 'running'`.execute(db);
  await sql`
    create table import_chunk (
      firm_id uuid not null,
      file_id uuid not null,
      position integer not null,
      content bytea not null,
      primary key (firm_id, file_id, position),
      foreign key (firm_id, file_id) references import_file (firm_id, id) on delete cascade
    )`.execute(db);
  // It was made as small as it gets, or is text that goes in once and is read once.
  await sql`alter table import_chunk alter column content set storage external`.execute(db);
  for (const table of ["import_file", "import_chunk"]) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert, update, delete on ${name} to pelagon_app`.execute(db);
    await sql`
      create policy broom on ${name} to pelagon_broom
        using (firm_id in (select id from firm where demo)) with check (false)`.execute(db);
    await sql`grant select, delete on ${name} to pelagon_broom`.execute(db);
  }
}

async function leases(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table job_lease (
      job_id uuid primary key,
      queue text not null,
      server_id uuid not null,
      beat_at timestamptz not null
    )`.execute(db);
  // Logged: it has to be there where another node takes over.
  await sql`comment on table job_lease is 'jobs under way, and when the server that does them last lived'`.execute(
    db,
  );
  await behindTheGate(db, "job_lease");
}

/** Rows of no firm, for the gate alone. */
async function behindTheGate(db: Kysely<unknown>, table: string): Promise<void> {
  const name = sql.table(table);
  await sql`alter table ${name} enable row level security`.execute(db);
  await sql`alter table ${name} force row level security`.execute(db);
  await sql`create policy gate on ${name} to pelagon_gate using (true) with check (true)`.execute(db);
  await sql`grant select, insert, update, delete on ${name} to pelagon_gate`.execute(db);
}
