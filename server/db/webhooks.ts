import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import type { Author } from "../author";
import { note } from "./audit";
import { claim } from "./commands";
import { asGate, type Database, type FirmScope } from "./connection";

/** Addresses of other programs that are told what happened at once, and how each telling went. */

export const WEBHOOK_EVENTS = [
  "visit-closed",
  "basin-closed",
  "chlorine-short",
  "suspicion-raised",
  "stock-low",
] as const;
export type WebhookEvent = (typeof WEBHOOK_EVENTS)[number];

export interface Webhook {
  id: string;
  url: string;
  events: WebhookEvent[];
  madeAt: Date;
  /** Since when nothing has come through; null where the last did. */
  failingSince: Date | null;
  /** When it was switched off because of that. */
  offAt: Date | null;
}

export interface Delivery {
  id: string;
  webhookId: string;
  kind: string;
  at: Date;
  state: "waiting" | "done" | "failed";
  tries: number;
  notBefore: Date;
  /** Status of the last answer; null where there was none. */
  answer: number | null;
  why: string;
}

const isEvent = (name: string): name is WebhookEvent => (WEBHOOK_EVENTS as readonly string[]).includes(name);

/** Adds an address. @param secret sealed */
export async function addWebhook(
  scope: FirmScope,
  author: Author,
  { id, url, events, secret }: { id: string; url: string; events: readonly WebhookEvent[]; secret: Buffer },
): Promise<void> {
  await claim(scope, author, id, ["webhook", { url, events }]);
  await scope
    .insertInto("webhook")
    .values({
      id,
      firm_id: author.firmId,
      member_id: author.memberId,
      url,
      events: [...events],
      secret,
      made_at: author.now,
    })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ secret }))
    .execute();
  await note(scope, author, "webhook-added", id, { name: new URL(url).host });
}

export async function withdrawWebhook(scope: FirmScope, author: Author, id: string): Promise<void> {
  const done = await scope
    .updateTable("webhook")
    .set({ withdrawn_at: author.now })
    .where("id", "=", id)
    .where("withdrawn_at", "is", null)
    .returning("url")
    .executeTakeFirst();
  if (!done) return;
  await giveUp(scope, id, "withdrawn", author.now);
  await note(scope, author, "webhook-withdrawn", id, { name: new URL(done.url).host });
}

/** Lets one that was switched off try again. */
export async function switchOn(scope: FirmScope, id: string): Promise<void> {
  await scope
    .updateTable("webhook")
    .set({ off_at: null, failing_since: null })
    .where("id", "=", id)
    .execute();
}

/** Addresses in use, the newest first. */
export async function webhooksOf(scope: FirmScope): Promise<Webhook[]> {
  const rows = await scope
    .selectFrom("webhook")
    .select(["id", "url", "events", "made_at as madeAt", "failing_since as failingSince", "off_at as offAt"])
    .where("withdrawn_at", "is", null)
    .orderBy("made_at", "desc")
    .execute();
  return rows.map((row) => ({ ...row, events: row.events.filter(isEvent) }));
}

/** The last tellings, the newest first. */
export async function deliveriesOf(scope: FirmScope, limit: number): Promise<Delivery[]> {
  const { rows } = await sql<Delivery>`
    select webhook_delivery.id, webhook_id as "webhookId", webhook_event.kind, webhook_event.at, state, tries,
      not_before as "notBefore", answer, why
    from webhook_delivery
    join webhook_event on webhook_event.firm_id = webhook_delivery.firm_id and webhook_event.id = event_id
    where webhook_delivery.firm_id = current_firm()
    order by webhook_event.sequence desc limit ${limit}`.execute(scope);
  return rows;
}

/** A visit that was closed, and how it left its basin to bathers; nothing while it is under way. */
export async function closedVisit(scope: FirmScope, visitId: string) {
  const { rows } = await sql<{ basinId: string; startedAt: Date; finishedAt: Date; bathing: string | null }>`
    select basin_id as "basinId", started_at as "startedAt", finished_at as "finishedAt",
      bathing ->> 'state' as bathing
    from visit where id = ${visitId} and finished_at is not null`.execute(scope);
  return rows[0];
}

/** Something that happened, under what makes it this and no other. */
export interface Happened {
  key: string;
  kind: WebhookEvent;
  content: object;
}

/**
 * Puts what happened into the queue of each address that wants it. What was told before is not told again.
 * @param all is asked only where there is any address
 */
export async function tellOf(
  scope: FirmScope,
  firmId: string,
  now: Date,
  all: () => Promise<readonly Happened[]>,
): Promise<void> {
  const hooks = await scope
    .selectFrom("webhook")
    .select(["id", "events"])
    .where("withdrawn_at", "is", null)
    .where("off_at", "is", null)
    .execute();
  if (hooks.length === 0) return;
  for (const { key, kind, content } of await all()) {
    const wanted = hooks.filter(({ events }) => events.includes(kind));
    if (wanted.length === 0) continue;
    const event = await scope
      .insertInto("webhook_event")
      .values({ id: uuid(), firm_id: firmId, key, kind, content: JSON.stringify(content), at: now })
      .onConflict((conflict) => conflict.columns(["firm_id", "key"]).doNothing())
      .returning("id")
      .executeTakeFirst();
    if (!event) continue;
    await scope
      .insertInto("webhook_delivery")
      .values(
        wanted.map(({ id }) => ({
          id: uuid(),
          firm_id: firmId,
          webhook_id: id,
          event_id: event.id,
          state: "waiting",
          not_before: now,
        })),
      )
      .execute();
  }
}

/** One telling that may go now. */
export interface Waiting {
  id: string;
  webhookId: string;
  url: string;
  /** Sealed. */
  secret: Buffer;
  failingSince: Date | null;
  eventId: string;
  sequence: string;
  kind: string;
  content: object;
  at: Date;
  tries: number;
}

export async function waitingNow(scope: FirmScope, now: Date): Promise<Waiting[]> {
  const { rows } = await sql<Waiting>`
    select webhook_delivery.id, webhook_id as "webhookId", webhook.url, webhook.secret,
      webhook.failing_since as "failingSince", event_id as "eventId", webhook_event.sequence, webhook_event.kind,
      webhook_event.content, webhook_event.at, tries
    from webhook_delivery
    join webhook on webhook.firm_id = webhook_delivery.firm_id and webhook.id = webhook_id
    join webhook_event on webhook_event.firm_id = webhook_delivery.firm_id and webhook_event.id = event_id
    where webhook_delivery.firm_id = current_firm() and state = 'waiting' and not_before <= ${now}
      and webhook.withdrawn_at is null and webhook.off_at is null
    order by webhook_event.sequence limit 200`.execute(scope);
  return rows;
}

/** How a telling went. */
export interface Told {
  state: "waiting" | "done" | "failed";
  tries: number;
  notBefore: Date;
  answer: number | null;
  why: string;
}

/** Writes down how a telling went, of its address too: the first that comes through ends its failing. */
export async function noteTold(
  scope: FirmScope,
  { id, webhookId }: Pick<Waiting, "id" | "webhookId">,
  { state, tries, notBefore, answer, why }: Told,
  now: Date,
): Promise<void> {
  await scope
    .updateTable("webhook_delivery")
    .set({ state, tries, not_before: notBefore, answer, why: why.slice(0, 200), tried_at: now })
    .where("id", "=", id)
    .execute();
  await scope
    .updateTable("webhook")
    .set({ failing_since: state === "done" ? null : sql<Date>`coalesce(failing_since, ${now})` })
    .where("id", "=", webhookId)
    .execute();
}

/** Switches an address off that has failed for days: what waits for it fails. */
export async function switchOff(
  scope: FirmScope,
  firmId: string,
  { webhookId, url }: Pick<Waiting, "webhookId" | "url">,
  now: Date,
): Promise<void> {
  await scope.updateTable("webhook").set({ off_at: now }).where("id", "=", webhookId).execute();
  await giveUp(scope, webhookId, "off", now);
  await note(scope, { firmId, memberId: null, now }, "webhook-off", webhookId, { name: new URL(url).host });
}

const giveUp = (scope: FirmScope, webhookId: string, why: string, now: Date) =>
  scope
    .updateTable("webhook_delivery")
    .set({ state: "failed", why, tried_at: now })
    .where("webhook_id", "=", webhookId)
    .where("state", "=", "waiting")
    .execute();

/** Sends one again, by hand. @returns whether there is such a one */
export async function tellAgain(scope: FirmScope, id: string, now: Date): Promise<boolean> {
  const row = await scope
    .updateTable("webhook_delivery")
    .set({ state: "waiting", tries: 0, not_before: now, why: "" })
    .where("id", "=", id)
    .returning("id")
    .executeTakeFirst();
  return row !== undefined;
}

/** Firms in which something waits that may go. */
export async function firmsWithHooks(db: Database, now: Date): Promise<string[]> {
  const rows = await asGate(db, (scope) =>
    scope
      .selectFrom("webhook_delivery")
      .select("firm_id")
      .distinct()
      .where("state", "=", "waiting")
      .where("not_before", "<=", now)
      .execute(),
  );
  return rows.map(({ firm_id }) => firm_id);
}
