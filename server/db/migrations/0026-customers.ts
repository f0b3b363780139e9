import { type Kysely, sql } from "kysely";
import { behindTheWall } from "./0023-whole-call";

/**
 * What a customer is sent: where, by which server, and each letter with how it went. Photos that were chosen for
 * their sheet.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`
    create table site_mail (
      firm_id uuid not null references firm (id),
      site_id uuid not null,
      email text not null check (length(email) between 3 and 254),
      is_on boolean not null,
      token text not null check (length(token) between 20 and 100),
      opted_out_at timestamptz,
      changed_at timestamptz not null,
      changed_by uuid not null,
      primary key (site_id, firm_id),
      unique (token),
      foreign key (firm_id, site_id) references site (firm_id, id) on delete cascade,
      foreign key (firm_id, changed_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column site_mail.token is 'opens the page that stops the mail, and nothing else'`.execute(
    db,
  );
  await sql`
    create table mail_server (
      firm_id uuid primary key references firm (id),
      host text not null check (length(host) between 1 and 255),
      port integer not null check (port between 1 and 65535),
      tls text not null check (tls in ('at-once', 'asked', 'none')),
      username text not null check (length(username) <= 254),
      password bytea,
      sender text not null check (length(sender) between 3 and 254),
      changed_at timestamptz not null,
      changed_by uuid not null,
      foreign key (firm_id, changed_by) references member (firm_id, id)
    )`.execute(db);
  await sql`comment on column mail_server.password is 'sealed by a key that is not in the database'`.execute(
    db,
  );
  await sql`
    create table mail (
      id uuid primary key,
      firm_id uuid not null references firm (id),
      visit_id uuid not null,
      site_id uuid not null,
      email text not null check (length(email) between 3 and 254),
      state text not null check (state in ('waiting', 'handing', 'sent', 'shown', 'off', 'failed', 'unknown')),
      tries integer not null default 0,
      not_before timestamptz not null,
      queued_at timestamptz not null,
      handed_at timestamptz,
      done_at timestamptz,
      why text not null default '' check (length(why) <= 400),
      link text check (length(link) between 20 and 100),
      subject text,
      body text,
      unique (visit_id, firm_id),
      foreign key (firm_id, visit_id) references visit (firm_id, id) on delete cascade,
      foreign key (firm_id, site_id) references site (firm_id, id) on delete cascade
    )`.execute(db);
  await sql`comment on table mail is 'one letter a visit, to whoever owns the water'`.execute(db);
  await sql`comment on column mail.link is 'the secret of the link in it, until it was sent'`.execute(db);
  await sql`create index mail_open on mail (firm_id, not_before) where state in ('waiting', 'handing')`.execute(
    db,
  );
  for (const table of ["site_mail", "mail_server", "mail"]) await behindTheWall(db, table);
  await sql`grant delete on site_mail, mail_server to pelagon_app`.execute(db);
  // Whoever stops the mail has a link and no sign-in: the gate finds whose it is.
  await sql`create policy gate on site_mail to pelagon_gate using (true) with check (false)`.execute(db);
  await sql`grant select on site_mail to pelagon_gate`.execute(db);
  // Which firms have letters that wait, and nothing of them.
  await sql`create policy gate on mail to pelagon_gate using (true) with check (false)`.execute(db);
  await sql`grant select (firm_id, state, not_before, handed_at) on mail to pelagon_gate`.execute(db);
  await sql`alter table photo add column shown_at timestamptz`.execute(db);
  await sql`comment on column photo.shown_at is 'since when it is on the sheet of the customer; null where it is not'`.execute(
    db,
  );
}
