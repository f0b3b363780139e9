import { type Kysely, sql } from "kysely";

/** How long a device keeps what it took along without hearing from here; and the audit's usual word for what was done. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table firm add column forget_days integer check (forget_days between 1 and 365)`.execute(
    db,
  );
  await sql`comment on column firm.forget_days is 'without contact after which a device forgets its bundle; null for never'`.execute(
    db,
  );
  await sql`alter table audit rename column deed to action`.execute(db);
}
