import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { newToken } from "../auth/tokens";
import { asGate, type Database, type FirmScope } from "./connection";

/** Letters to customers: where they go, by which server, and how each went. */

/** Where the letters of a site go. */
export interface SiteMail {
  email: string;
  isOn: boolean;
  /** When whoever reads it stopped it; null where they did not. */
  optedOutAt: Date | null;
}

export async function siteMailOf(scope: FirmScope, siteId: string): Promise<SiteMail | null> {
  const row = await scope
    .selectFrom("site_mail")
    .select(["email", "is_on as isOn", "opted_out_at as optedOutAt"])
    .where("site_id", "=", siteId)
    .executeTakeFirst();
  return row ?? null;
}

/** Writes where letters go; another address has not stopped them. An empty one takes it away. */
export async function setSiteMail(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  siteId: string,
  { email, isOn }: Pick<SiteMail, "email" | "isOn">,
): Promise<void> {
  if (email === "") {
    await scope.deleteFrom("site_mail").where("site_id", "=", siteId).execute();
    return;
  }
  const row = { email, is_on: isOn, changed_at: author.now, changed_by: author.memberId };
  await scope
    .insertInto("site_mail")
    .values({ firm_id: author.firmId, site_id: siteId, token: newToken(), ...row })
    .onConflict((conflict) =>
      conflict.columns(["site_id", "firm_id"]).doUpdateSet((now) => ({
        ...row,
        opted_out_at: sql<Date | null>`case when ${now.ref("site_mail.email")} = ${email}
          then ${now.ref("site_mail.opted_out_at")} end`,
      })),
    )
    .execute();
}

/** Whose letters a link stops; null where it stops none. */
export async function siteMailBy(
  db: Database,
  token: string,
): Promise<{ firmId: string; siteId: string } | null> {
  const row = await asGate(db, (scope) =>
    scope
      .selectFrom("site_mail")
      .select(["firm_id as firmId", "site_id as siteId"])
      .where("token", "=", token)
      .executeTakeFirst(),
  );
  return row ?? null;
}

/** Whoever reads the letters wants no more of them, or again. */
export async function optOut(scope: FirmScope, siteId: string, at: Date | null): Promise<void> {
  await scope.updateTable("site_mail").set({ opted_out_at: at }).where("site_id", "=", siteId).execute();
  if (at !== null)
    await scope
      .updateTable("mail")
      .set({ state: "off", done_at: at, link: null })
      .where("site_id", "=", siteId)
      .where("state", "=", "waiting")
      .execute();
}

/** How a server is spoken to: encrypted from the first byte, once it says that it can, or not at all. */
export const MAIL_TLS = ["at-once", "asked", "none"] as const;

export interface MailServer {
  host: string;
  port: number;
  tls: (typeof MAIL_TLS)[number];
  /** Empty where it asks nobody who they are. */
  username: string;
  sender: string;
}

export async function mailServerOf(
  scope: FirmScope,
): Promise<(MailServer & { password: Buffer | null }) | null> {
  const row = await scope
    .selectFrom("mail_server")
    .select(["host", "port", "tls", "username", "sender", "password"])
    .executeTakeFirst();
  return row ? { ...row, tls: MAIL_TLS.find((one) => one === row.tls) ?? "asked" } : null;
}

/** @param password sealed; undefined leaves the one that stands */
export async function setMailServer(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  server: MailServer,
  password: Buffer | null | undefined,
): Promise<void> {
  const row = {
    ...server,
    changed_at: author.now,
    changed_by: author.memberId,
    ...(password === undefined ? {} : { password }),
  };
  await scope
    .insertInto("mail_server")
    .values({ firm_id: author.firmId, ...row })
    .onConflict((conflict) => conflict.column("firm_id").doUpdateSet(row))
    .execute();
}

/** Letters are shown from now on, and not sent. */
export const removeMailServer = (scope: FirmScope) => scope.deleteFrom("mail_server").execute();

export const MAIL_STATES = ["waiting", "handing", "sent", "shown", "off", "failed", "unknown"] as const;
export type MailState = (typeof MAIL_STATES)[number];

/** Visits that ended longer ago tell nobody that somebody was there. */
const NEWS_HOURS = 72;

/**
 * Puts the letter of a finished visit into the queue, where one is wanted there. A visit has one: the second asks
 * for nothing.
 * @returns whether there is one now that was not there before
 */
export async function queueMail(
  scope: FirmScope,
  firmId: string,
  visitId: string,
  now: Date,
): Promise<boolean> {
  const { rows } = await sql`
    insert into mail (id, firm_id, visit_id, site_id, email, state, not_before, queued_at, link)
    select ${uuid()}::uuid, ${firmId}::uuid, visit.id, site_mail.site_id, site_mail.email, 'waiting', ${now}, ${now},
      ${newToken()}
    from visit join basin on basin.firm_id = visit.firm_id and basin.id = visit.basin_id
    join site_mail on site_mail.firm_id = basin.firm_id and site_mail.site_id = basin.site_id
    where visit.id = ${visitId} and visit.finished_at is not null and site_mail.is_on
      and site_mail.opted_out_at is null
      and visit.finished_at > ${now}::timestamptz - make_interval(hours => ${NEWS_HOURS})
    on conflict do nothing
    returning id`.execute(scope);
  return rows.length > 0;
}

export interface Mail {
  id: string;
  visitId: string;
  siteId: string;
  email: string;
  tries: number;
  link: string | null;
}

/** Letters that may go now, the first first. */
export const mailToSend = (scope: FirmScope, now: Date): Promise<Mail[]> =>
  scope
    .selectFrom("mail")
    .select(["id", "visit_id as visitId", "site_id as siteId", "email", "tries", "link"])
    .where("state", "=", "waiting")
    .where("not_before", "<=", now)
    .orderBy("queued_at")
    .limit(100)
    .execute();

/** Firms in which a letter waits that may go, or one was left while it was handed over. */
export async function firmsWithMail(db: Database, now: Date): Promise<string[]> {
  const rows = await asGate(db, (scope) =>
    scope
      .selectFrom("mail")
      .select("firm_id")
      .distinct()
      .where((is) =>
        is.or([
          is.and([is("state", "=", "waiting"), is("not_before", "<=", now)]),
          is.and([is("state", "=", "handing"), is("handed_at", "<", goneBefore(now))]),
        ]),
      )
      .execute(),
  );
  return rows.map(({ firm_id }) => firm_id);
}

/** A letter that was being handed over for so long: whoever did it is gone. Minutes */
const GONE_MINUTES = 10;
const goneBefore = (now: Date) => new Date(now.getTime() - GONE_MINUTES * 60_000);

/** Letters of which nobody can say whether the server took them: they are not sent a second time by themselves. */
export async function markUnknown(scope: FirmScope, now: Date): Promise<void> {
  await scope
    .updateTable("mail")
    .set({ state: "unknown", done_at: now })
    .where("state", "=", "handing")
    .where("handed_at", "<", goneBefore(now))
    .execute();
}

/** Takes a letter from one state into another; false where it was not in that one any more. */
export async function moveMail(
  scope: FirmScope,
  id: string,
  from: MailState,
  to: MailState,
  more: Partial<{
    handed_at: Date;
    done_at: Date | null;
    not_before: Date;
    tries: number;
    why: string;
    link: string | null;
    subject: string;
    body: string | null;
  }> = {},
): Promise<boolean> {
  const { numUpdatedRows } = await scope
    .updateTable("mail")
    .set({ state: to, ...more })
    .where("id", "=", id)
    .where("state", "=", from)
    .executeTakeFirst();
  return Number(numUpdatedRows) > 0;
}

/** The opt-out secret of a site, while its letters are wanted; null where they are not. */
export async function wantedAt(scope: FirmScope, siteId: string): Promise<string | null> {
  const row = await scope
    .selectFrom("site_mail")
    .select("token")
    .where("site_id", "=", siteId)
    .where("is_on", "=", true)
    .where("opted_out_at", "is", null)
    .executeTakeFirst();
  return row?.token ?? null;
}

/** Whether letters of a visit's site are wanted. */
export async function isMailWanted(scope: FirmScope, visitId: string): Promise<boolean> {
  const row = await scope
    .selectFrom("visit")
    .innerJoin("basin", "basin.id", "visit.basin_id")
    .innerJoin("site_mail", "site_mail.site_id", "basin.site_id")
    .select("site_mail.is_on")
    .where("visit.id", "=", visitId)
    .where("site_mail.is_on", "=", true)
    .where("site_mail.opted_out_at", "is", null)
    .executeTakeFirst();
  return row !== undefined;
}

/** How a letter went, as its firm reads it. */
export interface MailTold {
  id: string;
  visitId: string;
  email: string;
  state: MailState;
  queuedAt: Date;
  doneAt: Date | null;
  why: string;
  subject: string | null;
  body: string | null;
  basin: string;
}

const told = (scope: FirmScope) =>
  scope
    .selectFrom("mail")
    .innerJoin("visit", "visit.id", "mail.visit_id")
    .innerJoin("basin", "basin.id", "visit.basin_id")
    .select([
      "mail.id",
      "mail.visit_id as visitId",
      "mail.email",
      "mail.state",
      "mail.queued_at as queuedAt",
      "mail.done_at as doneAt",
      "mail.why",
      "mail.subject",
      "mail.body",
      "basin.name as basin",
    ]);

type ToldRow = Awaited<ReturnType<ReturnType<typeof told>["execute"]>>[number];
const asTold = (row: ToldRow): MailTold => ({
  ...row,
  state: MAIL_STATES.find((state) => state === row.state) ?? "failed",
});

/** The last letters of a firm, the newest first. */
export const lastMail = async (scope: FirmScope): Promise<MailTold[]> =>
  (await told(scope).orderBy("mail.queued_at", "desc").limit(50).execute()).map(asTold);

export async function mailOfVisit(scope: FirmScope, visitId: string): Promise<MailTold | null> {
  const row = await told(scope).where("mail.visit_id", "=", visitId).executeTakeFirst();
  return row ? asTold(row) : null;
}
