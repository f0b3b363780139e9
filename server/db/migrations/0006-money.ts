import { type Kysely, sql } from "kysely";

/**
 * What a firm's prices are in; and chlorine that brings stabiliser, which no plan chooses any more unless
 * the firm says so at the product.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table firm
      add column currency text not null default 'USD' check (currency ~ '^[A-Z]{3}$')`.execute(db);
  await sql`comment on column firm.currency is 'of its prices, ISO 4217'`.execute(db);
  await sql`update product set planned = false where compound in ('dichlor', 'trichlor')`.execute(db);
}
