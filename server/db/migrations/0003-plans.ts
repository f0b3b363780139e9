import { type Kysely, sql } from "kysely";

/**
 * Plans: what was begun at a visit, how each step ended, and what the retest said of its promise. A
 * reading after a plan belongs to the next round of the visit and supersedes nothing. Limits, stock and
 * bans of a basin; volumes with their history.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table reading add column round smallint not null default 0 check (round between 0 and 99)`.execute(
    db,
  );
  await sql`
    alter table reading
      add column why text not null default '' check (length(why) <= 400),
      add column recorded_at timestamptz not null default now()`.execute(db);
  await sql`comment on column reading.why is 'why it was corrected after its visit'`.execute(db);
  await sql`
    create index visit_in_book on visit (firm_id, started_at desc, id desc) where finished_at is not null`.execute(
    db,
  );
  await sql`comment on column reading.round is 'plans begun in the visit before it was read'`.execute(db);
  await sql`drop index reading_current`.execute(db);
  await sql`
    create unique index reading_current on reading (firm_id, visit_id, quantity, round)
      where superseded_at is null and used`.execute(db);
  await sql`drop index reading_by_method`.execute(db);
  await sql`
    create unique index reading_by_method on reading (firm_id, visit_id, quantity, round, kit_id, method_id)
      where superseded_at is null`.execute(db);

  await sql`
    create table plan (
      id uuid primary key,
      firm_id uuid not null,
      visit_id uuid not null,
      member_id uuid not null,
      round smallint not null check (round between 0 and 99),
      origin text not null check (origin in ('alternative', 'recipe', 'what-if')),
      name text not null check (length(name) between 1 and 40),
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      begun_at timestamptz not null,
      ended_at timestamptz,
      why_ended text not null default '' check (length(why_ended) <= 400),
      unique (firm_id, id),
      unique (firm_id, visit_id, round),
      foreign key (firm_id, visit_id) references visit (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`create unique index plan_under_way on plan (firm_id, visit_id) where ended_at is null`.execute(
    db,
  );

  await sql`
    create table plan_step (
      firm_id uuid not null,
      plan_id uuid not null,
      position smallint not null check (position between 0 and 99),
      member_id uuid not null,
      state text not null check (state in ('done', 'skipped')),
      why text not null default '' check (length(why) <= 400),
      at timestamptz not null,
      superseded_at timestamptz,
      check (state = 'done' or length(why) > 0),
      foreign key (firm_id, plan_id) references plan (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);

  await sql`
    create unique index plan_step_current on plan_step (firm_id, plan_id, position)
      where superseded_at is null`.execute(db);

  await sql`
    create table plan_outcome (
      firm_id uuid not null,
      plan_id uuid not null,
      quantity text not null check (length(quantity) <= 40),
      reading_id uuid not null,
      before double precision not null,
      promised double precision not null,
      low double precision not null,
      high double precision not null,
      measured double precision not null,
      ratio double precision,
      verdict text not null check (verdict in ('as-promised', 'fell-short', 'went-beyond')),
      primary key (firm_id, plan_id, quantity),
      foreign key (firm_id, plan_id) references plan (firm_id, id),
      foreign key (firm_id, reading_id) references reading (firm_id, id)
    )`.execute(db);
  await sql`comment on column plan_outcome.ratio is 'change that came over change that was promised'`.execute(
    db,
  );

  await sql`
    alter table product
      add column stock_grams double precision check (stock_grams >= 0 and stock_grams < 1e9),
      add column stock_counted_at timestamptz,
      add column planned boolean not null default true`.execute(db);
  await sql`comment on column product.stock_grams is 'counted; what was given since comes off'`.execute(db);
  await sql`comment on column product.planned is 'whether plans may use it'`.execute(db);
  await sql`create index dose_of_product on dose (firm_id, product_id, given_at) where superseded_at is null`.execute(
    db,
  );

  await sql`
    alter table basin
      add column range_overrides jsonb check (jsonb_typeof(range_overrides) = 'object'),
      add column barred text[] not null default '{}',
      add column most_replaced double precision not null default 0.5 check (most_replaced between 0 and 1),
      add column shape jsonb check (jsonb_typeof(shape) = 'object')`.execute(db);
  await sql`comment on column basin.barred is 'compounds that are not used here'`.execute(db);
  await sql`
    alter table visit
      add column range_overrides jsonb check (jsonb_typeof(range_overrides) = 'object'),
      add column notices jsonb check (jsonb_typeof(notices) = 'array')`.execute(db);
  await sql`comment on column visit.notices is 'what the readings said together when it was closed'`.execute(
    db,
  );

  await sql`
    create table basin_volume (
      id uuid primary key,
      firm_id uuid not null,
      basin_id uuid not null,
      member_id uuid not null,
      litres double precision not null check (litres between 20 and 15000000),
      low double precision,
      high double precision,
      how text not null check (how in ('entered', 'shape', 'meter', 'dose')),
      shape jsonb check (jsonb_typeof(shape) = 'object'),
      known_from timestamptz not null,
      unique (firm_id, id),
      foreign key (firm_id, basin_id) references basin (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`create index basin_volume_of on basin_volume (firm_id, basin_id, known_from desc)`.execute(db);

  await sql`
    alter table range_set add column member_id uuid,
      add foreign key (firm_id, member_id) references member (firm_id, id)`.execute(db);
  await sql`comment on column range_set.member_id is 'who made this version; null for what shipped'`.execute(
    db,
  );
  await sql`
    alter table firm
      add column fill_rate double precision not null default 1500 check (fill_rate between 10 and 1000000),
      add column persulfate_dose double precision not null default 24 check (persulfate_dose between 1 and 500)`.execute(
    db,
  );
  await sql`comment on column firm.fill_rate is 'litres an hour'`.execute(db);
  await sql`comment on column firm.persulfate_dose is 'by the label, grams a cubic metre'`.execute(db);

  for (const table of ["plan", "plan_step", "plan_outcome", "basin_volume"]) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
  }
}
