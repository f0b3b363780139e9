import { type Kysely, sql } from "kysely";
import { behindTheWall } from "./0023-whole-call";

/** What is broken at a basin, from when it was seen until it is mended, and what mending it is offered for. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table defect (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      basin_id uuid not null,
      visit_id uuid not null,
      member_id uuid not null,
      title text not null check (length(title) between 1 and 200),
      photo_id uuid,
      seen_at timestamptz not null,
      mended_at timestamptz,
      mended_visit uuid,
      dropped_at timestamptz,
      why text not null default '' check (length(why) <= 400),
      unique (firm_id, id),
      foreign key (firm_id, basin_id) references basin (firm_id, id) on delete cascade,
      foreign key (firm_id, visit_id) references visit (firm_id, id) on delete cascade,
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column defect.why is 'why it is left as it is, where it was dropped'`.execute(db);
  await sql`create index defect_of_basin on defect (basin_id, firm_id)`.execute(db);
  await sql`
    create table quote (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      defect_id uuid not null,
      version integer not null check (version > 0),
      amount double precision not null check (amount between 0 and 1000000),
      text text not null check (length(text) <= 2000),
      made_at timestamptz not null,
      made_by uuid not null,
      approved_at timestamptz,
      approved_by text check (length(approved_by) between 1 and 120),
      unique (defect_id, version, firm_id),
      foreign key (firm_id, defect_id) references defect (firm_id, id) on delete cascade,
      foreign key (firm_id, made_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table quote is 'versions are added, never changed: what was approved is what stood there'`.execute(
    db,
  );
  for (const table of ["defect", "quote"]) {
    await behindTheWall(db, table);
    await sql`grant select on ${sql.table(table)} to pelagon_reader`.execute(db);
  }
  // A customer reads what is broken at their water, and what it would cost.
  await sql`
    create policy reader_wall on defect for select to pelagon_reader
      using (firm_id = current_firm() and basin_id in (select id from basin))`.execute(db);
  await sql`
    create policy reader_wall on quote for select to pelagon_reader
      using (firm_id = current_firm() and defect_id in (select id from defect))`.execute(db);
}
