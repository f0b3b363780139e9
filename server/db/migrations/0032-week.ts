import { type Kysely, sql } from "kysely";

/**
 * A week that is drawn up: calls that moved from one day to another, what a basin's contract and its people wish, when
 * each member works, on which days nobody does, and where a site lies.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table round_call add column gone_at timestamptz, add column gone_by uuid, add column gone_to date`.execute(
    db,
  );
  await sql`
    alter table round_call
      add constraint round_call_gone_by foreign key (firm_id, gone_by) references member (firm_id, id),
      add constraint round_call_gone check (gone_at is not null or (gone_by is null and gone_to is null))`.execute(
    db,
  );
  await sql`comment on column round_call.gone_to is 'the day a call was moved to; null where it was taken out of the week'`.execute(
    db,
  );
  // A basin is read with the days of its calls that are not its plan's.
  await sql`create index round_call_of_basin on round_call (basin_id, day)`.execute(db);
  await sql`
    create policy reader_wall on round_call for select to pelagon_reader
      using (firm_id = current_firm() and basin_id in (select id from basin))`.execute(db);
  await sql`grant select (firm_id, day, basin_id, skipped_at, gone_at) on round_call to pelagon_reader`.execute(
    db,
  );
  await sql`alter table basin add column week jsonb check (jsonb_typeof(week) = 'object')`.execute(db);
  await sql`comment on column basin.week is 'days between its calls by contract, days its customer allows or fixed, who may go there'`.execute(
    db,
  );
  await sql`alter table member add column week jsonb check (jsonb_typeof(week) = 'object')`.execute(db);
  await sql`comment on column member.week is 'minutes of each weekday, and days off; null as everybody'`.execute(
    db,
  );
  await sql`alter table firm add column week jsonb check (jsonb_typeof(week) = 'object')`.execute(db);
  await sql`comment on column firm.week is 'holidays, and what a changed call costs'`.execute(db);
  await sql`alter table site add column place jsonb check (jsonb_typeof(place) = 'object')`.execute(db);
  await sql`comment on column site.place is 'latitude and longitude in degrees; null where nobody said'`.execute(
    db,
  );
  await sql`alter table learned add column worth jsonb`.execute(db);
  await sql`comment on column learned.worth is 'how likely its water is right on each day, without a call and after one'`.execute(
    db,
  );
}
