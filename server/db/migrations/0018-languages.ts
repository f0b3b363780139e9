import { type Kysely, sql } from "kysely";

/**
 * Languages: a member's own, and a site's for what its customer reads. Null where nobody chose: a member then
 * reads what their browser asks for, a customer what the link's browser asks for. And units: a member's own, or
 * where they chose none the firm's.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  for (const [table, says] of [
    ["member", "folder of app/messages that this member reads; null as the browser asks"],
    ["site", "folder of app/messages that the customer here reads; null as the browser asks"],
  ] as const) {
    await sql`
      alter table ${sql.table(table)} add column language text
        check (language ~ '^[a-z]{2,3}(-[A-Z]{2})?$')`.execute(db);
    await sql`comment on column ${sql.ref(`${table}.language`)} is ${sql.lit(says)}`.execute(db);
  }
  await sql`
    alter table member add column unit_system text check (unit_system in ('us', 'metric'))`.execute(db);
  await sql`comment on column member.unit_system is 'in what this member reads amounts; null as the firm has it'`.execute(
    db,
  );
  // A function's columns cannot be changed; who may call it is granted anew with every start.
  await sql`drop function session_behind`.execute(db);
  await sql`
    create function session_behind(hash bytea, at timestamptz)
      returns table (member_id uuid, firm_id uuid, name text, role text, language text,
        unit_system text, seen_at timestamptz)
      language sql stable security definer set search_path = public, pg_temp as $$
        select member.id, member.firm_id, member.name, member.role, member.language,
          member.unit_system, session.seen_at
        from session join member on member.firm_id = session.firm_id and member.id = session.member_id
        where session.token_hash = hash and session.revoked_at is null and session.expires_at > at
          and member.disabled_at is null
      $$`.execute(db);
  await sql`revoke execute on function session_behind from public`.execute(db);
  await sql`grant create on schema public to pelagon_gate`.execute(db);
  await sql`alter function session_behind owner to pelagon_gate`.execute(db);
  await sql`revoke create on schema public from pelagon_gate`.execute(db);
}
