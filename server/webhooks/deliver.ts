import { createHmac } from "node:crypto";
import { millisecondsInDay, millisecondsInMinute } from "date-fns/constants";
import { unseal } from "../auth/seal";
import { asFirm, type Database } from "../db/connection";
import { noteTold, switchOff, type Told, type Waiting, waitingNow } from "../db/webhooks";
import { grouped } from "../grouped";
import { postSafely } from "./post";

/**
 * Tells other programs what happened: each telling at least once, signed, with its place in the order of what
 * happened. One that fails is tried again ever later; an address that takes nothing for days is switched off.
 */

export interface HookWith {
  /** With which secrets are sealed; null where there is none. */
  secretsKey: string | null;
  /** Whether firms may name machines of the operator's own network. */
  hooksInside: boolean;
}

/** Tries, and the wait after the first; each waits twice as long, and no longer than the longest. Minutes */
const MOST_TRIES = 14;
const FIRST_WAIT = 1;
const LONGEST_WAIT = 6 * 60;
/** An address that has taken nothing for so long is switched off. Days */
export const OFF_AFTER_DAYS = 3;

/**
 * The signature of a telling, over its id, its time and its body.
 * @see https://www.standardwebhooks.com
 * @param seconds since 1970
 */
export const signatureOf = (secret: string, id: string, seconds: number, body: string): string =>
  `v1,${createHmac("sha256", secret).update(`${id}.${seconds}.${body}`).digest("base64")}`;

/** Tells what waits in a firm. One address that hangs holds up no other. @returns how many came through */
export async function sendHooks(
  db: Database,
  firmId: string,
  now: () => Date,
  using: HookWith,
): Promise<number> {
  const waiting = await asFirm(db, firmId, (scope) => waitingNow(scope, now()));
  const byHook = grouped(waiting, ({ webhookId }) => webhookId);
  const done = await Promise.all(
    [...byHook.values()].map(async (own) => {
      let count = 0;
      for (const one of own) {
        const state = await tell(db, firmId, one, now, using);
        if (state === "done") count++;
        // What did not take this one would not take the next: the rest waits for its turn.
        else break;
      }
      return count;
    }),
  );
  return done.reduce((sum, count) => sum + count, 0);
}

async function tell(
  db: Database,
  firmId: string,
  one: Waiting,
  now: () => Date,
  { secretsKey, hooksInside }: HookWith,
): Promise<Told["state"]> {
  const { eventId, sequence, kind, content, at, url } = one;
  const secret = secretsKey ? unseal(one.secret, secretsKey) : null;
  const body = JSON.stringify({
    id: eventId,
    sequence: Number(sequence),
    kind,
    at: at.toISOString(),
    content,
  });
  const seconds = Math.floor(now().getTime() / 1000);
  const posted = secret
    ? await postSafely(
        url,
        {
          "Content-Type": "application/json",
          "User-Agent": "Pelagon",
          "Webhook-Id": eventId,
          "Webhook-Timestamp": `${seconds}`,
          "Webhook-Signature": signatureOf(secret, eventId, seconds, body),
        },
        body,
        hooksInside,
      )
    : { status: null, why: "secret" };
  const told = toldBy(posted, one.tries, now());
  await asFirm(db, firmId, async (scope) => {
    await noteTold(scope, one, told, now());
    const since = one.failingSince?.getTime() ?? now().getTime();
    if (told.state !== "done" && now().getTime() - since > OFF_AFTER_DAYS * millisecondsInDay)
      await switchOff(scope, firmId, one, now());
  });
  return told.state;
}

/** What comes of an answer. */
function toldBy({ status, why }: { status: number | null; why: string }, before: number, now: Date): Told {
  const tries = before + 1;
  if (why === "") return { state: "done", tries, notBefore: now, answer: status, why };
  const wait = Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (tries - 1)) * millisecondsInMinute;
  return {
    state: tries >= MOST_TRIES ? "failed" : "waiting",
    tries,
    notBefore: new Date(now.getTime() + wait),
    answer: status,
    why,
  };
}
