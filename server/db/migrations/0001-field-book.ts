import { type Kysely, sql } from "kysely";

/**
 * The field book: firms, people, places, what they test with, and what was found and given.
 *
 * Two roles stand between the pages and the rows. `pelagon_app` sees the rows of the firm named in
 * the setting `pelagon.firm`, nothing else. `pelagon_gate` sees members and sessions of every firm
 * and is used for signing in only. The owner of the tables is held by the policies too (FORCE), so
 * a query that forgets to take a role finds nothing.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    do $$ begin
      if not exists (select from pg_roles where rolname = 'pelagon_app') then
        create role pelagon_app nologin nosuperuser nobypassrls noinherit;
      end if;
      if not exists (select from pg_roles where rolname = 'pelagon_gate') then
        create role pelagon_gate nologin nosuperuser nobypassrls noinherit;
      end if;
      execute format('grant pelagon_app, pelagon_gate to %I', current_user);
    end $$`.execute(db);

  await sql`
    create function current_firm() returns uuid language sql stable
      return nullif(current_setting('pelagon.firm', true), '')::uuid`.execute(db);

  await sql`
    create table firm (
      id uuid primary key,
      name text not null check (length(name) between 1 and 120),
      unit_system text not null default 'us' check (unit_system in ('us', 'metric')),
      time_zone text not null default 'UTC',
      demo boolean not null default false,
      created_at timestamptz not null default now()
    )`.execute(db);

  await sql`
    create table member (
      id uuid primary key,
      firm_id uuid not null references firm,
      email text not null check (email = lower(email) and length(email) between 3 and 254),
      name text not null check (length(name) between 1 and 120),
      role text not null check (role in ('owner', 'technician')),
      password_hash text not null,
      created_at timestamptz not null default now(),
      disabled_at timestamptz,
      unique (email),
      unique (firm_id, id)
    )`.execute(db);

  await sql`
    create table session (
      token_hash bytea primary key check (length(token_hash) = 32),
      firm_id uuid not null,
      member_id uuid not null,
      created_at timestamptz not null default now(),
      seen_at timestamptz not null default now(),
      expires_at timestamptz not null,
      revoked_at timestamptz,
      user_agent text not null default '' check (length(user_agent) <= 300),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`create index session_member on session (firm_id, member_id)`.execute(db);

  await sql`
    create table site (
      id uuid primary key,
      firm_id uuid not null references firm,
      name text not null check (length(name) between 1 and 120),
      street text not null default '',
      district text not null default '',
      contact text not null default '',
      fill_alkalinity double precision check (fill_alkalinity between 0 and 2000),
      fill_hardness double precision check (fill_hardness between 0 and 5000),
      note text not null default '' check (length(note) <= 4000),
      unique (firm_id, id)
    )`.execute(db);

  await sql`
    create table kit (
      id uuid primary key,
      firm_id uuid not null references firm,
      version integer not null check (version >= 1),
      line uuid not null,
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      created_at timestamptz not null default now(),
      unique (firm_id, id),
      unique (firm_id, line, version)
    )`.execute(db);
  await sql`comment on column kit.line is 'the kit that this is a version of; id names the version'`.execute(
    db,
  );

  await sql`
    create table range_set (
      id uuid primary key,
      firm_id uuid not null references firm,
      version integer not null check (version >= 1),
      line uuid not null,
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      created_at timestamptz not null default now(),
      unique (firm_id, id),
      unique (firm_id, line, version)
    )`.execute(db);

  await sql`
    create table product (
      id uuid primary key,
      firm_id uuid not null references firm,
      compound text not null,
      name text not null check (length(name) between 1 and 120),
      strength double precision not null check (strength > 0 and strength <= 1.2),
      density double precision check (density > 0 and density < 20),
      price_per_kg double precision check (price_per_kg >= 0),
      position integer not null default 0,
      retired_at timestamptz,
      unique (firm_id, id)
    )`.execute(db);

  await sql`
    create table basin (
      id uuid primary key,
      firm_id uuid not null,
      site_id uuid not null,
      name text not null check (length(name) between 1 and 120),
      kind text not null check (kind in ('pool', 'spa', 'plunge', 'teaching', 'exercise', 'splash-pad')),
      surface text not null check (surface in ('plaster', 'vinyl', 'fibreglass', 'acrylic', 'tile', 'concrete')),
      litres double precision not null check (litres between 20 and 15000000),
      indoors boolean not null default false,
      kit_id uuid not null,
      range_set_id uuid not null,
      call_days smallint[] not null default '{}' check (call_days <@ array[1, 2, 3, 4, 5, 6, 7]::smallint[]),
      position integer not null default 0,
      note text not null default '' check (length(note) <= 4000),
      unique (firm_id, id),
      foreign key (firm_id, site_id) references site (firm_id, id),
      foreign key (firm_id, kit_id) references kit (firm_id, id),
      foreign key (firm_id, range_set_id) references range_set (firm_id, id)
    )`.execute(db);
  await sql`comment on column basin.call_days is 'ISO days of the week on which it is called at'`.execute(db);

  await sql`
    create table visit (
      id uuid primary key,
      firm_id uuid not null,
      basin_id uuid not null,
      member_id uuid not null,
      kit_id uuid not null,
      range_set_id uuid not null,
      litres double precision not null check (litres between 20 and 15000000),
      started_at timestamptz not null,
      finished_at timestamptz check (finished_at >= started_at),
      note text not null default '' check (length(note) <= 4000),
      unique (firm_id, id),
      foreign key (firm_id, basin_id) references basin (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id),
      foreign key (firm_id, kit_id) references kit (firm_id, id),
      foreign key (firm_id, range_set_id) references range_set (firm_id, id)
    )`.execute(db);
  await sql`comment on column visit.litres is 'volume of the basin as it was known then'`.execute(db);
  await sql`create index visit_of_basin on visit (firm_id, basin_id, started_at desc)`.execute(db);
  await sql`create unique index visit_open on visit (firm_id, basin_id) where finished_at is null`.execute(
    db,
  );

  await sql`
    create table drop_count (
      firm_id uuid not null,
      visit_id uuid not null,
      method_id text not null check (length(method_id) <= 60),
      drops integer not null check (drops between 0 and 500),
      sample double precision not null check (sample > 0 and sample <= 1000),
      sequence integer not null check (sequence between 0 and 1000000),
      updated_at timestamptz not null default now(),
      primary key (firm_id, visit_id, method_id),
      foreign key (firm_id, visit_id) references visit (firm_id, id)
    )`.execute(db);
  await sql`comment on table drop_count is 'counts under way; the later sequence wins'`.execute(db);

  await sql`
    create table reading (
      id uuid primary key,
      firm_id uuid not null,
      visit_id uuid not null,
      member_id uuid not null,
      quantity text not null,
      value double precision not null,
      low double precision,
      high double precision,
      bound text not null check (bound in ('within', 'at-least', 'at-most')),
      method_id text not null check (length(method_id) <= 60),
      observation jsonb not null check (jsonb_typeof(observation) = 'object'),
      taken_at timestamptz not null,
      supersedes uuid,
      superseded_at timestamptz,
      unique (firm_id, id),
      unique (firm_id, supersedes),
      foreign key (firm_id, visit_id) references visit (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id),
      foreign key (firm_id, supersedes) references reading (firm_id, id),
      constraint reading_value check (
        case quantity
          when 'freeChlorine' then value between 0 and 200
          when 'combinedChlorine' then value between 0 and 100
          when 'totalChlorine' then value between 0 and 200
          when 'bromine' then value between 0 and 450
          when 'ph' then value between 4 and 11
          when 'totalAlkalinity' then value between 0 and 2000
          when 'calciumHardness' then value between 0 and 5000
          when 'cyanuricAcid' then value between 0 and 1000
          when 'salt' then value between 0 and 40000
          when 'totalDissolvedSolids' then value between 0 and 40000
          when 'temperature' then value between 0 and 45
          else false
        end),
      constraint reading_bracket check (
        case bound
          when 'within' then low <= value and value <= high
          when 'at-least' then low is not null and high is null
          else low is null and high is not null
        end)
    )`.execute(db);
  await sql`
    create unique index reading_current on reading (firm_id, visit_id, quantity) where superseded_at is null`.execute(
    db,
  );

  await sql`
    create table finding (
      id uuid primary key,
      firm_id uuid not null,
      visit_id uuid not null,
      position integer not null,
      code text not null check (length(code) <= 80),
      detail jsonb not null check (jsonb_typeof(detail) = 'object'),
      unique (firm_id, visit_id, code),
      foreign key (firm_id, visit_id) references visit (firm_id, id)
    )`.execute(db);

  await sql`
    create table dose (
      id uuid primary key,
      firm_id uuid not null,
      visit_id uuid not null,
      member_id uuid not null,
      product_id uuid not null,
      code text not null check (length(code) <= 80),
      planned_grams double precision not null check (planned_grams >= 0 and planned_grams < 1e8),
      given_grams double precision not null check (given_grams >= 0 and given_grams < 1e8),
      given_at timestamptz not null,
      supersedes uuid,
      superseded_at timestamptz,
      unique (firm_id, id),
      unique (firm_id, supersedes),
      foreign key (firm_id, visit_id) references visit (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id),
      foreign key (firm_id, product_id) references product (firm_id, id),
      foreign key (firm_id, supersedes) references dose (firm_id, id)
    )`.execute(db);
  await sql`comment on column dose.code is 'the finding that it answers'`.execute(db);
  await sql`
    create unique index dose_current on dose (firm_id, visit_id, code) where superseded_at is null`.execute(
    db,
  );

  for (const table of OF_A_FIRM) {
    const name = sql.table(table);
    const key = sql.ref(table === "firm" ? "id" : "firm_id");
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (${key} = current_firm()) with check (${key} = current_firm())`.execute(db);
    await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
  }
  for (const table of ["firm", "member", "session"]) {
    await sql`create policy gate on ${sql.table(table)} to pelagon_gate using (true) with check (true)`.execute(
      db,
    );
  }
  await sql`grant select on firm, member to pelagon_gate`.execute(db);
  await sql`grant select, insert, update on session to pelagon_gate`.execute(db);
  await sql`grant delete on finding to pelagon_app`.execute(db);
}

const OF_A_FIRM = [
  "firm",
  "member",
  "session",
  "site",
  "kit",
  "range_set",
  "product",
  "basin",
  "visit",
  "drop_count",
  "reading",
  "finding",
  "dose",
];
