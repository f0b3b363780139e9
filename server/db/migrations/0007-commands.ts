import { type Kysely, sql } from "kysely";

/**
 * Writes by name, with the device that gave them and its own clock; a visit counts the commands that it
 * took. Two devices that tested the same water apart from one another both stand in the book, so a method
 * may stand more than once in a round; what came in after the close is marked.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table write_key rename to command`.execute(db);
  await sql`alter table command rename column key to id`.execute(db);
  await sql`alter table command rename column made_at to received_at`.execute(db);
  await sql`
    alter table command
      add column name text not null default '',
      add column device text,
      add column sequence integer,
      add column given_at timestamptz`.execute(db);
  await sql`comment on table command is 'writes that were done, by the id that the device made'`.execute(db);
  await sql`comment on column command.sequence is 'of its device'`.execute(db);
  await sql`comment on column command.given_at is 'by the clock of its device'`.execute(db);
  await sql`alter table visit add column version integer not null default 0`.execute(db);
  await sql`comment on column visit.version is 'commands taken since it was begun'`.execute(db);
  for (const table of ["reading", "dose"] as const) {
    await sql`alter table ${sql.table(table)} add column late boolean not null default false`.execute(db);
    await sql`comment on column ${sql.ref(`${table}.late`)} is 'came in after its visit was closed elsewhere'`.execute(
      db,
    );
  }
  await sql`drop index reading_by_method`.execute(db);
}
