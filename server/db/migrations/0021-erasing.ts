import { type Kysely, sql } from "kysely";

/**
 * A role that takes a firm's rows away, one firm at a time, for the tables' owner to take on: nobody who serves pages
 * may. What is not to be lost is in a file before.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    do $$ begin
      if not exists (select from pg_roles where rolname = 'pelagon_eraser') then
        create role pelagon_eraser nologin nosuperuser nobypassrls noinherit;
      end if;
      execute format('grant pelagon_eraser to %I', current_user);
    end $$`.execute(db);
  await sql`grant execute on function current_firm to pelagon_eraser`.execute(db);
  const { rows } = await sql<{ name: string }>`
    select pg_class.relname as name from pg_class
    join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id' and not attisdropped
    where relkind = 'r' and relnamespace = 'public'::regnamespace`.execute(db);
  for (const { name } of [{ name: "firm" }, ...rows]) {
    const key = sql.ref(name === "firm" ? "id" : "firm_id");
    await sql`
      create policy eraser on ${sql.table(name)} to pelagon_eraser
        using (${key} = current_firm()) with check (false)`.execute(db);
    await sql`grant select, delete on ${sql.table(name)} to pelagon_eraser`.execute(db);
  }
}
