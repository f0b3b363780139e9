import { type Kysely, sql } from "kysely";
import { behindTheWall } from "./0023-whole-call";

/** Keys with which programs of others come to a firm's book. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table api_token (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      member_id uuid not null,
      name text not null check (length(name) between 1 and 120),
      scopes text[] not null check (cardinality(scopes) > 0),
      token_hash bytea not null unique check (length(token_hash) = 32),
      made_at timestamptz not null,
      used_at timestamptz,
      withdrawn_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column api_token.member_id is 'who made it, and in whose name it writes'`.execute(db);
  await sql`create index api_token_of_member on api_token (firm_id, member_id)`.execute(db);
  await behindTheWall(db, "api_token");
  await sql`create policy gate on api_token to pelagon_gate using (true) with check (true)`.execute(db);
  await sql`grant select, update (used_at) on api_token to pelagon_gate`.execute(db);
}
