import { millisecondsInDay } from "date-fns/constants";
import { unseal } from "../auth/seal";
import { hashOf } from "../auth/tokens";
import { asFirm, type Database, type FirmScope } from "../db/connection";
import {
  type Mail,
  type MailServer,
  mailServerOf,
  mailToSend,
  markUnknown,
  moveMail,
  wantedAt,
} from "../db/mail";
import { type CustomerSheet, customerSheet } from "../visits/customer-sheet";
import { handOver, type Letter } from "./smtp";

/**
 * Letters of finished visits: one for each, whatever falls over meanwhile. A letter is marked before it is handed to
 * a server; one whose handing over nobody saw the end of is not sent again by itself. Where a firm has no server of
 * its own the letter is written and shown to it in one step, and goes nowhere.
 */

export interface MailWith {
  /** Writes a letter in the language of whoever reads it. */
  letter(
    sheet: CustomerSheet,
    links: { sheet: string; stop: string },
  ): Promise<Pick<Letter, "subject" | "text">>;
  /** Where this instance is reached from outside. */
  publicUrl: string;
  /** With which passwords are sealed; null where there is none. */
  secretsKey: string | null;
}

/** A link in a letter opens the sheet for so long. */
const LINK_DAYS = 365;
/** Tries, and the wait after the first; each waits twice as long as the one before. Minutes */
const MOST_TRIES = 8;
const FIRST_WAIT = 2;

/** Sends what waits in a firm. @returns how many were sent or shown */
export async function sendMail(
  db: Database,
  firmId: string,
  now: () => Date,
  using: MailWith,
): Promise<number> {
  const { waiting, server } = await asFirm(db, firmId, async (scope) => {
    await markUnknown(scope, now());
    return { waiting: await mailToSend(scope, now()), server: await mailServerOf(scope) };
  });
  let done = 0;
  const failed: unknown[] = [];
  // One that cannot be written holds up none behind it.
  for (const mail of waiting)
    try {
      if (await deliver(db, firmId, mail, server, now, using)) done++;
    } catch (fault) {
      failed.push(fault);
    }
  if (failed.length > 0) throw failed[0];
  return done;
}

async function deliver(
  db: Database,
  firmId: string,
  mail: Mail,
  server: Awaited<ReturnType<typeof mailServerOf>>,
  now: () => Date,
  using: MailWith,
): Promise<boolean> {
  const { sheet, stop } = await asFirm(db, firmId, async (scope) => ({
    sheet: await customerSheet(scope, mail.visitId),
    stop: await wantedAt(scope, mail.siteId),
  }));
  const over = (
    to: "off" | "shown" | "sent" | "failed" | "unknown",
    more: object = {},
    from: "waiting" | "handing" = "waiting",
  ) => asFirm(db, firmId, (scope) => moveMail(scope, mail.id, from, to, { done_at: now(), ...more }));
  // Stopped, or taken away, since it was put into the queue.
  if (!sheet || stop === null || mail.link === null) {
    await over("off", { link: null });
    return false;
  }
  const links = {
    sheet: `${using.publicUrl}/s/${mail.link}`,
    stop: `${using.publicUrl}/m/${stop}`,
  };
  const letter = await using.letter(sheet, links);
  const { subject } = letter;
  if (server === null)
    return asFirm(db, firmId, async (scope) => {
      const isOurs = await moveMail(scope, mail.id, "waiting", "shown", {
        done_at: now(),
        link: null,
        subject,
        body: letter.text,
      });
      if (isOurs) await openSheet(scope, firmId, mail, now());
      return isOurs;
    });
  // Marked before it goes: who finds it so later cannot know whether it went.
  const isOurs = await asFirm(db, firmId, async (scope) => {
    const taken = await moveMail(scope, mail.id, "waiting", "handing", { handed_at: now(), subject });
    if (taken) await openSheet(scope, firmId, mail, now());
    return taken;
  });
  if (!isOurs) return false;
  const password = passwordOf(server, using.secretsKey);
  const handed = await handOver(server, password, {
    ...letter,
    to: mail.email,
    stopUrl: links.stop,
    id: mail.id,
  });
  if (handed.taken) return over("sent", { why: "", link: null }, "handing");
  const { why } = handed;
  if (handed.taken === null) {
    await over("unknown", { why }, "handing");
    return false;
  }
  const tries = mail.tries + 1;
  if (handed.final || tries >= MOST_TRIES) await over("failed", { why, tries }, "handing");
  else
    await asFirm(db, firmId, (scope) =>
      moveMail(scope, mail.id, "handing", "waiting", {
        tries,
        why,
        not_before: new Date(now().getTime() + FIRST_WAIT * 2 ** (tries - 1) * 60_000),
      }),
    );
  return false;
}

const passwordOf = (
  { password }: MailServer & { password: Buffer | null },
  secretsKey: string | null,
): string | null => (password && secretsKey ? unseal(password, secretsKey) : null);

/** The link in a letter opens its visit's sheet; whoever made the visit has made it. */
async function openSheet(scope: FirmScope, firmId: string, mail: Mail, now: Date): Promise<void> {
  const visit = await scope
    .selectFrom("visit")
    .select("member_id")
    .where("id", "=", mail.visitId)
    .executeTakeFirstOrThrow();
  await scope
    .insertInto("share")
    .values({
      id: mail.id,
      firm_id: firmId,
      token_hash: hashOf(mail.link ?? ""),
      visit_id: mail.visitId,
      made_by: visit.member_id,
      made_at: now,
      expires_at: new Date(now.getTime() + LINK_DAYS * millisecondsInDay),
    })
    .onConflict((conflict) => conflict.column("id").doNothing())
    .execute();
}
