import { type Kysely, sql } from "kysely";
import { behindTheWall } from "./0023-whole-call";

/** What gauges and displays beside a basin showed at a visit. */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { rows } = await sql<{ there: boolean }>`
    select to_regclass('public.plant_reading') is not null as there`.execute(db);
  // For some commits the migration before made it.
  if (rows[0]?.there) return;
  await sql`
    create table plant_reading (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      visit_id uuid not null,
      member_id uuid not null,
      kind text not null check (length(kind) between 1 and 40),
      value double precision not null,
      changed boolean not null,
      at timestamptz not null,
      superseded_at timestamptz,
      foreign key (firm_id, visit_id) references visit (firm_id, id) on delete cascade,
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on table plant_reading is 'what gauges and displays showed: kPa, L/min, °C, mg/L, mV, m³'`.execute(
    db,
  );
  await sql`comment on column plant_reading.changed is 'the first of another meter'`.execute(db);
  await sql`create index plant_of_visit on plant_reading (visit_id, firm_id)`.execute(db);
  await behindTheWall(db, "plant_reading");
}
