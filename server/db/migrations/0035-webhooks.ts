import { type Kysely, sql } from "kysely";
import { behindTheWall } from "./0023-whole-call";

/** Addresses of other programs that are told what happened, what they are told, and how each telling went. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table webhook (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      member_id uuid not null,
      url text not null check (length(url) between 8 and 2000),
      events text[] not null check (cardinality(events) > 0),
      secret bytea not null,
      made_at timestamptz not null,
      withdrawn_at timestamptz,
      failing_since timestamptz,
      off_at timestamptz,
      unique (firm_id, id),
      foreign key (firm_id, member_id) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column webhook.secret is 'with which what is sent is signed; sealed under the key of the environment'`.execute(
    db,
  );
  await sql`comment on column webhook.off_at is 'when it was switched off because it had failed for days'`.execute(
    db,
  );
  await sql`
    create table webhook_event (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      sequence bigint not null generated always as identity,
      key text not null check (length(key) between 1 and 200),
      kind text not null check (length(kind) between 1 and 40),
      content jsonb not null,
      at timestamptz not null,
      unique (firm_id, id),
      unique (firm_id, key)
    )`.execute(db);
  await sql`comment on column webhook_event.key is 'what happened: it is told once'`.execute(db);
  await sql`
    create table webhook_delivery (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      webhook_id uuid not null,
      event_id uuid not null,
      state text not null check (state in ('waiting', 'done', 'failed')),
      tries integer not null default 0 check (tries >= 0),
      not_before timestamptz not null,
      answer integer,
      why text not null default '' check (length(why) <= 200),
      tried_at timestamptz,
      unique (firm_id, id),
      unique (webhook_id, event_id, firm_id),
      foreign key (firm_id, webhook_id) references webhook (firm_id, id) on delete cascade,
      foreign key (firm_id, event_id) references webhook_event (firm_id, id) on delete cascade
    )`.execute(db);
  await sql`create index webhook_waiting on webhook_delivery (not_before) where state = 'waiting'`.execute(
    db,
  );
  await sql`create index webhook_delivery_of on webhook_delivery (webhook_id, firm_id)`.execute(db);
  for (const table of ["webhook", "webhook_event", "webhook_delivery"]) await behindTheWall(db, table);
  // The queue looks for firms in which something waits.
  await sql`create policy gate on webhook_delivery to pelagon_gate using (true) with check (false)`.execute(
    db,
  );
  await sql`grant select on webhook_delivery to pelagon_gate`.execute(db);
}
