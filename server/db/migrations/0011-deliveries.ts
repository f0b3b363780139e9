import { type Kysely, sql } from "kysely";

/** Deliveries of products: what came together is as strong, and a log can tell that it is not as its label says. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table delivery (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      product_id uuid not null,
      lot text not null check (length(lot) <= 60),
      used_from date not null,
      added_at timestamptz not null,
      removed_at timestamptz,
      foreign key (firm_id, product_id) references product (firm_id, id)
    )`.execute(db);
  await sql`comment on column delivery.used_from is 'the first day on which it is poured from'`.execute(db);
  await sql`create index delivery_of_product on delivery (firm_id, product_id)`.execute(db);
  await sql`alter table delivery enable row level security`.execute(db);
  await sql`alter table delivery force row level security`.execute(db);
  await sql`
    create policy firm_wall on delivery to pelagon_app
      using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
  await sql`grant select, insert, update on delivery to pelagon_app`.execute(db);
}
