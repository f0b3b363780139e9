import { type Kysely, sql } from "kysely";

/** What the label of a product says of its dose; how often algaecide and sequestrant come round stands there from now on. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table product
      add column label_grams double precision check (label_grams > 0),
      add column label_days integer check (label_days between 1 and 365),
      add column label_apart_hours integer check (label_apart_hours between 0 and 168)`.execute(db);
  await sql`comment on column product.label_grams is 'a dose by the label, g as sold for each cubic metre'`.execute(
    db,
  );
  await sql`comment on column product.label_days is 'from one dose to the next; null where it is given when asked for'`.execute(
    db,
  );
  await sql`comment on column product.label_apart_hours is 'that it keeps from a shock'`.execute(db);
  for (const table of ["firm", "basin"])
    await sql`
      update ${sql.table(table)} set cadence = cadence #- '{tasks,algaecide}' #- '{tasks,sequestrant}'
      where cadence is not null`.execute(db);
}
