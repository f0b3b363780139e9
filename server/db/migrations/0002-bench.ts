import { type Kysely, sql } from "kysely";

/**
 * The bench: several readings of one quantity in a visit, of which one is used; what spoke against
 * them; the look round and the sample; who holds a count; reagent bottles and what was taken out.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table firm add column season_start text not null default '04-01'
      check (season_start ~ '^(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$')`.execute(db);
  await sql`
    alter table basin add column sanitiser text not null default 'chlorine'
      check (sanitiser in ('chlorine', 'salt-cell', 'bromine'))`.execute(db);

  await sql`
    alter table visit
      add column look jsonb check (jsonb_typeof(look) = 'object'),
      add column sampling jsonb check (jsonb_typeof(sampling) = 'object')`.execute(db);

  await sql`
    alter table drop_count
      add column ahead integer not null default 0 check (ahead between 0 and 500),
      add column idle integer not null default 0 check (idle between 0 and 500),
      add column holder text not null default '' check (length(holder) <= 60),
      add column term integer not null default 0 check (term between 0 and 1000000)`.execute(db);
  await sql`comment on column drop_count.holder is 'the screen that counts'`.execute(db);

  await sql`alter table reading add column kit_id uuid`.execute(db);
  await sql`alter table reading no force row level security`.execute(db);
  await sql`alter table visit no force row level security`.execute(db);
  await sql`
    update reading set kit_id = visit.kit_id from visit
    where visit.firm_id = reading.firm_id and visit.id = reading.visit_id`.execute(db);
  await sql`alter table reading force row level security`.execute(db);
  await sql`alter table visit force row level security`.execute(db);
  await sql`
    alter table reading
      alter column kit_id set not null,
      add foreign key (firm_id, kit_id) references kit (firm_id, id),
      add column used boolean not null default true,
      add column doubts jsonb not null default '[]' check (jsonb_typeof(doubts) = 'array')`.execute(db);
  await sql`comment on column reading.kit_id is 'the version of the kit whose method made it'`.execute(db);
  await sql`comment on column reading.used is 'the best of the visit for its quantity'`.execute(db);
  await sql`drop index reading_current`.execute(db);
  await sql`
    create unique index reading_current on reading (firm_id, visit_id, quantity)
      where superseded_at is null and used`.execute(db);
  await sql`
    create unique index reading_by_method on reading (firm_id, visit_id, quantity, kit_id, method_id)
      where superseded_at is null`.execute(db);

  await sql`
    create index reading_lately on reading (firm_id, quantity, taken_at) where superseded_at is null and used`.execute(
    db,
  );
  await sql`alter table kit add column member_id uuid, add foreign key (firm_id, member_id) references member (firm_id, id)`.execute(
    db,
  );
  await sql`comment on column kit.member_id is 'who made this version; null for what shipped'`.execute(db);

  await sql`alter table reading drop constraint reading_value`.execute(db);
  await sql`
    alter table reading add constraint reading_value check (
      case quantity
        when 'freeChlorine' then value between 0 and 200
        when 'combinedChlorine' then value between 0 and 100
        when 'totalChlorine' then value between 0 and 200
        when 'bromine' then value between 0 and 450
        when 'ph' then value between 4 and 11
        when 'totalAlkalinity' then value between 0 and 2000
        when 'calciumHardness' then value between 0 and 5000
        when 'totalHardness' then value between 0 and 5000
        when 'cyanuricAcid' then value between 0 and 1000
        when 'salt' then value between 0 and 40000
        when 'totalDissolvedSolids' then value between 0 and 40000
        when 'temperature' then value between 0 and 45
        when 'acidDemand' then value between 0 and 50
        when 'baseDemand' then value between 0 and 50
        else false
      end)`.execute(db);

  await sql`
    create table photo (
      id uuid primary key,
      firm_id uuid not null,
      visit_id uuid not null,
      member_id uuid not null,
      kind text not null check (kind in ('image/jpeg', 'image/png', 'image/webp')),
      bytes bytea not null check (length(bytes) between 1 and 900000),
      taken_at timestamptz not null,
      removed_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, visit_id) references visit (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`create index photo_of_visit on photo (firm_id, visit_id)`.execute(db);

  await sql`
    create table bottle (
      id uuid primary key,
      firm_id uuid not null references firm,
      reagent text not null check (length(reagent) between 1 and 80),
      measure text not null check (measure in ('drops', 'scoops', 'tablets', 'mL', 'strips')),
      "full" integer not null check ("full" between 1 and 100000),
      lot text not null default '' check (length(lot) <= 60),
      opened_on date,
      expires_on date,
      added_at timestamptz not null,
      emptied_at timestamptz,
      unique (firm_id, id)
    )`.execute(db);
  await sql`comment on column bottle.full is 'drops, scoops, tablets, mL or strips when it was full'`.execute(
    db,
  );

  await sql`
    create table reagent_use (
      firm_id uuid not null,
      reading_id uuid not null,
      reagent text not null check (length(reagent) between 1 and 80),
      bottle_id uuid,
      amount double precision not null check (amount > 0 and amount < 10000),
      primary key (firm_id, reading_id, reagent),
      foreign key (firm_id, reading_id) references reading (firm_id, id),
      foreign key (firm_id, bottle_id) references bottle (firm_id, id)
    )`.execute(db);
  await sql`create index reagent_use_of_bottle on reagent_use (firm_id, bottle_id)`.execute(db);

  for (const table of ["photo", "bottle", "reagent_use"]) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
  }
}
