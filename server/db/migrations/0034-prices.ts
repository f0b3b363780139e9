import { type Kysely, sql } from "kysely";

/** What each customer pays, where that is not what everybody does. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table site add column prices jsonb check (jsonb_typeof(prices) = 'object')`.execute(db);
  await sql`comment on column site.prices is 'money for a visit (perVisit), and for a kilogram of a product by its id; null as everybody pays'`.execute(
    db,
  );
}
