import { type Kysely, sql } from "kysely";

/**
 * The firm at work: its team with readers who see their own sites, links that open one thing, the
 * round of a day, cadence and events, equipment, trucks and prices over time, and who changed what.
 *
 * A reader's queries run as `pelagon_reader`: it can only read, and only what stands under the sites
 * named for the member in the setting `pelagon.member`.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    do $$ begin
      if not exists (select from pg_roles where rolname = 'pelagon_reader') then
        create role pelagon_reader nologin nosuperuser nobypassrls noinherit;
      end if;
      execute format('grant pelagon_reader to %I', current_user);
    end $$`.execute(db);
  await sql`
    create function current_member() returns uuid language sql stable
      return nullif(current_setting('pelagon.member', true), '')::uuid`.execute(db);

  await sql`alter table member drop constraint member_role_check`.execute(db);
  await sql`
    alter table member add constraint member_role_check check (role in ('owner', 'technician', 'reader'))`.execute(
    db,
  );
  await sql`
    create table member_site (
      firm_id uuid not null,
      member_id uuid not null,
      site_id uuid not null,
      primary key (firm_id, member_id, site_id),
      foreign key (firm_id, member_id) references member (firm_id, id),
      foreign key (firm_id, site_id) references site (firm_id, id)
    )`.execute(db);
  await sql`comment on table member_site is 'what a reader sees'`.execute(db);

  await sql`
    create table invite (
      id uuid primary key,
      firm_id uuid not null,
      token_hash bytea not null unique check (length(token_hash) = 32),
      role text not null check (role in ('owner', 'technician', 'reader')),
      name text not null check (length(name) between 1 and 120),
      site_ids uuid[] not null default '{}',
      made_by uuid not null,
      made_at timestamptz not null,
      expires_at timestamptz not null,
      accepted_at timestamptz,
      withdrawn_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, made_by) references member (firm_id, id)
    )`.execute(db);
  await sql`
    create table share (
      id uuid primary key,
      firm_id uuid not null,
      token_hash bytea not null unique check (length(token_hash) = 32),
      visit_id uuid not null,
      made_by uuid not null,
      made_at timestamptz not null,
      expires_at timestamptz not null,
      withdrawn_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, visit_id) references visit (firm_id, id),
      foreign key (firm_id, made_by) references member (firm_id, id)
    )`.execute(db);
  await sql`create index share_of_visit on share (firm_id, visit_id)`.execute(db);
  await sql`
    create table feed (
      id uuid primary key,
      firm_id uuid not null,
      token_hash bytea not null unique check (length(token_hash) = 32),
      member_id uuid not null,
      mine boolean not null,
      made_at timestamptz not null,
      withdrawn_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column feed.mine is 'only the calls of the member who made it'`.execute(db);

  await sql`
    create table audit (
      id uuid primary key,
      firm_id uuid not null references firm,
      member_id uuid,
      at timestamptz not null,
      deed text not null check (length(deed) between 1 and 60),
      subject_id uuid,
      detail jsonb not null default '{}' check (jsonb_typeof(detail) = 'object'),
      unique (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column audit.member_id is 'who did it; null for a job of the night'`.execute(db);
  await sql`create index audit_lately on audit (firm_id, at desc, id desc)`.execute(db);
  await sql`create index audit_of on audit (firm_id, subject_id, at desc) where subject_id is not null`.execute(
    db,
  );

  await sql`
    alter table basin
      add column every_weeks smallint not null default 1 check (every_weeks between 1 and 26),
      add column weeks_from date not null default '2024-01-01',
      add column season_from text check (season_from ~ '^(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$'),
      add column season_to text check (season_to ~ '^(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$'),
      add column caller_id uuid,
      add column cadence jsonb check (jsonb_typeof(cadence) = 'object'),
      add column equipment jsonb check (jsonb_typeof(equipment) = 'object'),
      add constraint basin_season check ((season_from is null) = (season_to is null)),
      add foreign key (firm_id, caller_id) references member (firm_id, id)`.execute(db);
  await sql`comment on column basin.weeks_from is 'a day in a week with a call, when it is not every week'`.execute(
    db,
  );
  await sql`comment on column basin.caller_id is 'who calls, unless a round says otherwise'`.execute(db);
  await sql`alter table firm add column cadence jsonb check (jsonb_typeof(cadence) = 'object')`.execute(db);
  await sql`alter table visit add column weather jsonb check (jsonb_typeof(weather) = 'object')`.execute(db);

  await sql`
    create table round_day (
      firm_id uuid not null references firm,
      day date not null,
      version integer not null check (version >= 1),
      primary key (firm_id, day)
    )`.execute(db);
  await sql`
    create table round_call (
      firm_id uuid not null,
      day date not null,
      basin_id uuid not null,
      position integer,
      member_id uuid,
      skipped_at timestamptz,
      skipped_by uuid,
      why text not null default '' check (length(why) <= 400),
      primary key (firm_id, day, basin_id),
      check (skipped_at is null or length(why) > 0),
      foreign key (firm_id, basin_id) references basin (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id),
      foreign key (firm_id, skipped_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table round_call is 'what a day does otherwise than the basins say'`.execute(db);
  await sql`
    create table basin_event (
      id uuid primary key,
      firm_id uuid not null,
      basin_id uuid not null,
      day date not null,
      name text not null check (length(name) between 1 and 120),
      made_by uuid not null,
      removed_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, basin_id) references basin (firm_id, id),
      foreign key (firm_id, made_by) references member (firm_id, id)
    )`.execute(db);
  await sql`create index event_ahead on basin_event (firm_id, day) where removed_at is null`.execute(db);
  await sql`
    create table task_done (
      id uuid primary key,
      firm_id uuid not null,
      basin_id uuid not null,
      member_id uuid not null,
      task text not null check (length(task) <= 40),
      done_at timestamptz not null,
      unique (firm_id, id),
      foreign key (firm_id, basin_id) references basin (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`create index task_done_lately on task_done (firm_id, basin_id, task, done_at desc)`.execute(db);
  await sql`
    create table reminder (
      firm_id uuid not null references firm,
      day date not null,
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      made_at timestamptz not null,
      primary key (firm_id, day)
    )`.execute(db);
  await sql`comment on table reminder is 'the due list of a day, made in the night before'`.execute(db);

  // All of a visit's, corrected ones too: what goes out with the book.
  await sql`create index reading_of_visit on reading (firm_id, visit_id)`.execute(db);
  await sql`create index dose_of_visit on dose (firm_id, visit_id)`.execute(db);

  await sql`
    alter table photo
      alter column visit_id drop not null,
      add column basin_id uuid,
      add constraint photo_of_one check (num_nonnulls(visit_id, basin_id) = 1),
      add foreign key (firm_id, basin_id) references basin (firm_id, id)`.execute(db);
  await sql`create index photo_of_basin on photo (firm_id, basin_id) where basin_id is not null`.execute(db);

  await sql`
    create table truck (
      id uuid primary key,
      firm_id uuid not null references firm,
      name text not null check (length(name) between 1 and 120),
      member_id uuid,
      retired_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column truck.member_id is 'who drives it: doses of theirs come out of it'`.execute(db);
  await sql`create unique index truck_of_member on truck (firm_id, member_id) where retired_at is null`.execute(
    db,
  );
  await sql`
    create table truck_stock (
      firm_id uuid not null,
      truck_id uuid not null,
      product_id uuid not null,
      grams double precision not null check (grams >= 0 and grams < 1e9),
      counted_at timestamptz not null,
      primary key (firm_id, truck_id, product_id),
      foreign key (firm_id, truck_id) references truck (firm_id, id),
      foreign key (firm_id, product_id) references product (firm_id, id)
    )`.execute(db);
  await sql`
    alter table dose add column truck_id uuid, add foreign key (firm_id, truck_id) references truck (firm_id, id)`.execute(
    db,
  );
  await sql`comment on column dose.truck_id is 'out of this truck; null out of the shelf'`.execute(db);
  await sql`
    alter table product add column reorder_grams double precision check (reorder_grams >= 0 and reorder_grams < 1e9)`.execute(
    db,
  );
  await sql`
    create table product_price (
      firm_id uuid not null,
      product_id uuid not null,
      price_per_kg double precision check (price_per_kg >= 0),
      known_from timestamptz not null,
      primary key (firm_id, product_id, known_from),
      foreign key (firm_id, product_id) references product (firm_id, id)
    )`.execute(db);
  await sql`alter table product no force row level security`.execute(db);
  await sql`
    insert into product_price (firm_id, product_id, price_per_kg, known_from)
    select firm_id, id, price_per_kg, '-infinity' from product where price_per_kg is not null`.execute(db);
  await sql`alter table product force row level security`.execute(db);

  for (const table of OF_A_FIRM) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert on ${name} to pelagon_app`.execute(db);
    if (table !== "audit") await sql`grant update on ${name} to pelagon_app`.execute(db);
  }
  await sql`grant delete on member_site, round_call to pelagon_app`.execute(db);

  // Whoever holds a link has no session: the gate finds out which firm's thing it opens.
  for (const table of ["invite", "share", "feed"]) {
    await sql`create policy gate on ${sql.table(table)} to pelagon_gate using (true) with check (false)`.execute(
      db,
    );
    await sql`grant select on ${sql.table(table)} to pelagon_gate`.execute(db);
  }

  await readers(db);
}

const OF_A_FIRM = [
  "member_site",
  "invite",
  "share",
  "feed",
  "audit",
  "round_day",
  "round_call",
  "basin_event",
  "task_done",
  "reminder",
  "truck",
  "truck_stock",
  "product_price",
];

/** What a reader may read: rows under their sites, and of the firm only what those rows are told by. */
async function readers(db: Kysely<unknown>): Promise<void> {
  const own = {
    member_site: sql`member_id = current_member()`,
    site: sql`id in (select site_id from member_site)`,
    basin: sql`site_id in (select site_id from member_site)`,
    visit: sql`finished_at is not null and basin_id in (select id from basin)`,
    basin_volume: sql`basin_id in (select id from basin)`,
    reading: sql`visit_id in (select id from visit)`,
    finding: sql`visit_id in (select id from visit)`,
    dose: sql`visit_id in (select id from visit)`,
    photo: sql`visit_id in (select id from visit) or basin_id in (select id from basin)`,
    plan: sql`visit_id in (select id from visit)`,
    plan_outcome: sql`plan_id in (select id from plan)`,
    kit: sql`true`,
    range_set: sql`true`,
    product: sql`true`,
    member: sql`true`,
    firm: sql`true`,
  };
  for (const [table, rows] of Object.entries(own)) {
    const key = sql.ref(table === "firm" ? "id" : "firm_id");
    await sql`
      create policy reader_wall on ${sql.table(table)} for select to pelagon_reader
        using (${key} = current_firm() and (${rows}))`.execute(db);
    const columns = {
      // What the firm pays, and how people sign in, is not a customer's.
      product: sql`(id, firm_id, compound, name, strength, density, position, retired_at)`,
      member: sql`(id, firm_id, name, role, disabled_at)`,
    }[table];
    await sql`grant select ${columns ?? sql``} on ${sql.table(table)} to pelagon_reader`.execute(db);
  }
}
