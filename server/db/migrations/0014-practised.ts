import { type Kysely, sql } from "kysely";

/**
 * What people practised, where they say so to their firm, and the scatter of their own that stands in their
 * readings; and the one way in which rows are taken away: a demo firm, whole, by its owner.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table practised (
      firm_id uuid not null references firm (id),
      member_id uuid not null,
      method_id text not null check (length(method_id) between 1 and 60),
      runs integer not null check (runs between 1 and 100000),
      traps_seen integer not null check (traps_seen between 0 and 100000),
      traps_missed integer not null check (traps_missed between 0 and 100000),
      last_on date not null,
      bias double precision check (bias between -1 and 1),
      scatter double precision check (scatter between 0 and 1),
      used boolean not null,
      told_at timestamptz not null,
      primary key (member_id, firm_id, method_id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column practised.scatter is 'relative standard deviation; null after too few runs'`.execute(
    db,
  );
  await sql`comment on column practised.used is 'stands in for the default in readings of this member, who said so'`.execute(
    db,
  );
  await sql`alter table practised enable row level security`.execute(db);
  await sql`alter table practised force row level security`.execute(db);
  await sql`
    create policy firm_wall on practised to pelagon_app
      using (firm_id = current_firm()) with check (firm_id = current_firm())`.execute(db);
  // It is no part of the book, and whoever told it may take it back.
  await sql`grant select, insert, delete on practised to pelagon_app`.execute(db);

  await sql`alter table reading add column scatter double precision check (scatter between 0 and 1)`.execute(
    db,
  );
  await sql`comment on column reading.scatter is 'of whoever made it, where they said that theirs stands in for the default'`.execute(
    db,
  );

  await sql`
    create table instance (
      one boolean primary key default true check (one),
      demo_thrown_away_at timestamptz
    )`.execute(db);
  await sql`comment on table instance is 'what is to be known of this installation whatever firms are in it'`.execute(
    db,
  );
  await sql`insert into instance default values`.execute(db);
  await sql`alter table instance enable row level security`.execute(db);
  await sql`alter table instance force row level security`.execute(db);
  await sql`create policy gate on instance to pelagon_gate using (true) with check (false)`.execute(db);
  await sql`grant select on instance to pelagon_gate`.execute(db);
  await throwingAway(db);
}

/** A role that sees the rows of demo firms and nothing else, and a function that it owns. */
async function throwingAway(db: Kysely<unknown>): Promise<void> {
  await sql`
    do $$ begin
      if not exists (select from pg_roles where rolname = 'pelagon_broom') then
        create role pelagon_broom nologin nosuperuser nobypassrls noinherit;
      end if;
      execute format('grant pelagon_broom to %I', current_user);
    end $$`.execute(db);
  const { rows } = await sql<{ name: string }>`
    select pg_class.relname as name from pg_class
    join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id' and not attisdropped
    where relkind = 'r' and relnamespace = 'public'::regnamespace`.execute(db);
  await sql`create policy broom on firm to pelagon_broom using (demo) with check (false)`.execute(db);
  for (const { name } of rows)
    await sql`
      create policy broom on ${sql.table(name)} to pelagon_broom
        using (firm_id in (select id from firm where demo)) with check (false)`.execute(db);
  for (const name of ["firm", ...rows.map((row) => row.name)])
    await sql`grant select, delete on ${sql.table(name)} to pelagon_broom`.execute(db);
  await sql`create policy broom on instance to pelagon_broom using (true) with check (true)`.execute(db);
  await sql`grant select, update on instance to pelagon_broom`.execute(db);

  // Tables wait for those that point to them; each round frees some.
  await sql`
    create function throw_away_demo(at timestamptz) returns boolean
      language plpgsql security definer set search_path = public, pg_temp as $$
    declare
      gone uuid;
      waiting text[];
      stuck text[];
      name text;
    begin
      select id into gone from firm where id = current_firm() and demo;
      if gone is null then return false; end if;
      select array_agg(relname) into waiting from pg_class
        join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id' and not attisdropped
        where relkind = 'r' and relnamespace = 'public'::regnamespace;
      loop
        stuck := '{}';
        foreach name in array waiting loop
          begin
            execute format('delete from %I where firm_id = $1', name) using gone;
          exception when foreign_key_violation then
            stuck := stuck || name;
          end;
        end loop;
        exit when cardinality(stuck) = 0;
        if cardinality(stuck) = cardinality(waiting) then
          raise exception 'these tables hold each other: %', stuck;
        end if;
        waiting := stuck;
      end loop;
      delete from firm where id = gone;
      update instance set demo_thrown_away_at = at;
      return true;
    end $$`.execute(db);
  await sql`revoke execute on function throw_away_demo from public`.execute(db);
  await sql`grant execute on function throw_away_demo to pelagon_app`.execute(db);
  await sql`grant create on schema public to pelagon_broom`.execute(db);
  await sql`alter function throw_away_demo owner to pelagon_broom`.execute(db);
  await sql`revoke create on schema public from pelagon_broom`.execute(db);
}
