import { type Kysely, sql } from "kysely";

/** How long hands are at a basin: a plan of what is poured fits into it. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    alter table firm add column call_minutes integer not null default 40
      check (call_minutes between 5 and 480)`.execute(db);
  await sql`
    alter table basin add column call_minutes integer check (call_minutes between 5 and 480)`.execute(db);
  await sql`comment on column firm.call_minutes is 'for pouring at a call, with every separation'`.execute(
    db,
  );
  await sql`comment on column basin.call_minutes is 'here, where it is not as in the whole firm'`.execute(db);
}
