import { type Kysely, sql } from "kysely";

/**
 * What would hold a water: worked out by the log of each basin; what a feeder was left at, as a fact of a visit;
 * and the card by the water, on which the people there read a dose between the calls and say that they gave it.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table firm add column call_price double precision not null default 30
      check (call_price between 0 and 10000)`.execute(db);
  await sql`comment on column firm.call_price is 'money for a call beside what is poured'`.execute(db);
  await sql`
    alter table firm add column layman_products text[] not null
      default '{sodium-hypochlorite,calcium-hypochlorite,dichlor}'`.execute(db);
  await sql`comment on column firm.layman_products is 'compounds that the people at a basin may be asked to dose'`.execute(
    db,
  );
  await sql`alter table learned add column hold jsonb check (jsonb_typeof(hold) = 'object')`.execute(db);
  await sql`comment on column learned.hold is 'how much of the time its chlorine and pH are right, and by what other means; null where that is not told'`.execute(
    db,
  );
  await sql`
    alter table visit add column feeder_setting double precision check (feeder_setting between 0 and 100)`.execute(
    db,
  );
  await sql`comment on column visit.feeder_setting is 'what the feeder was left to give, mg/L of chlorine a day; null where nobody wrote it down'`.execute(
    db,
  );
  await sql`
    create table card (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      basin_id uuid not null,
      token_hash bytea unique check (length(token_hash) = 32),
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      made_by uuid not null,
      made_at timestamptz not null,
      withdrawn_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, basin_id) references basin (firm_id, id) on delete cascade,
      foreign key (firm_id, made_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table card is 'a dose between the calls, for the people at a basin'`.execute(db);
  await sql`comment on column card.token_hash is 'of the secret in its link; null of a card that came with a file'`.execute(
    db,
  );
  await sql`create unique index card_of_basin on card (basin_id, firm_id) where withdrawn_at is null`.execute(
    db,
  );
  await sql`
    create table card_entry (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      card_id uuid not null,
      kind text not null check (kind in ('given', 'strip')),
      slot text not null check (length(slot) between 1 and 40),
      at timestamptz not null,
      content jsonb not null check (jsonb_typeof(content) = 'object'),
      withdrawn_at timestamptz,
      foreign key (firm_id, card_id) references card (firm_id, id) on delete cascade
    )`.execute(db);
  await sql`comment on table card_entry is 'what the people there say they gave, and what their strip says'`.execute(
    db,
  );
  await sql`comment on column card_entry.slot is 'the dose or the day that it is said of: told twice it is one'`.execute(
    db,
  );
  await sql`
    create unique index card_entry_once on card_entry (card_id, kind, slot, firm_id) where withdrawn_at is null`.execute(
    db,
  );
  for (const table of ["card", "card_entry"]) {
    const name = sql.table(table);
    await sql`alter table ${name} enable row level security`.execute(db);
    await sql`alter table ${name} force row level security`.execute(db);
    await sql`
      create policy firm_wall on ${name} to pelagon_app
        using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
    await sql`grant select, insert, update on ${name} to pelagon_app`.execute(db);
    // Of a demo firm that is thrown away, too.
    await sql`
      create policy broom on ${name} to pelagon_broom
        using (firm_id in (select id from firm where demo)) with check (false)`.execute(db);
    await sql`grant select, delete on ${name} to pelagon_broom`.execute(db);
  }
  await holders(db);
  // Whoever has a link is not signed in: the gate finds whose it is, as for a sheet.
  await sql`create policy gate on card to pelagon_gate using (true) with check (false)`.execute(db);
  await sql`grant select on card to pelagon_gate`.execute(db);
}

/**
 * Whoever holds a card's link comes as `pelagon_card`: it sees that card, the name of its basin and its firm, and
 * the days of its calls, and writes what is said of the card. Nothing else.
 */
async function holders(db: Kysely<unknown>): Promise<void> {
  await sql`
    do $$ begin
      if not exists (select from pg_roles where rolname = 'pelagon_card') then
        create role pelagon_card nologin nosuperuser nobypassrls noinherit;
      end if;
      execute format('grant pelagon_card to %I', current_user);
    end $$`.execute(db);
  await sql`
    create function current_card() returns uuid language sql stable
      return nullif(current_setting('pelagon.card', true), '')::uuid`.execute(db);
  const isOwn = sql`firm_id = current_firm() and id = current_card() and withdrawn_at is null`;
  await sql`create policy holder_wall on card for select to pelagon_card using (${isOwn})`.execute(db);
  await sql`grant select on card to pelagon_card`.execute(db);
  const isOfCard = sql`firm_id = current_firm() and card_id in (select id from card)`;
  await sql`
    create policy holder_wall on card_entry to pelagon_card using (${isOfCard}) with check (${isOfCard})`.execute(
    db,
  );
  await sql`grant select, insert on card_entry to pelagon_card`.execute(db);
  await sql`grant update (withdrawn_at) on card_entry to pelagon_card`.execute(db);
  const seen: [table: string, columns: string[], where: ReturnType<typeof sql>][] = [
    ["firm", ["id", "name", "unit_system", "time_zone"], sql`id = current_firm()`],
    [
      "basin",
      ["id", "firm_id", "name", "kind", "litres"],
      sql`firm_id = current_firm() and id in (select basin_id from card)`,
    ],
    [
      "visit",
      ["id", "firm_id", "basin_id", "started_at", "finished_at"],
      sql`firm_id = current_firm() and basin_id in (select basin_id from card)`,
    ],
  ];
  for (const [table, columns, where] of seen) {
    await sql`create policy holder_wall on ${sql.table(table)} for select to pelagon_card using (${where})`.execute(
      db,
    );
    await sql`grant select (${sql.join(columns.map((column) => sql.ref(column)))}) on ${sql.table(table)} to pelagon_card`.execute(
      db,
    );
  }
}
