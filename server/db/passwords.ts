import { millisecondsInHour } from "date-fns/constants";
import { v7 as uuid } from "uuid";
import { InputFault } from "#core";
import { hashPassword, passwordMatches } from "../auth/passwords";
import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { asFirm, asGate, type Database, type FirmScope } from "./connection";
import { holdTeam, teamOf } from "./members";
import { signOutEverywhere } from "./sessions";

/** A password of one's own, and links by which an owner lets somebody set a new one. */

/** Hours in which such a link can be used, once. */
const GOOD_FOR_HOURS = 24;

/**
 * Changes a member's own password; every other session of theirs ends.
 * @param session token of the session that asks, which goes on
 * @throws InputFault when the present password is another
 */
export async function changePassword(
  db: Database,
  author: Author,
  sent: { current: string; next: string },
  session: string,
): Promise<void> {
  const member = await asFirm(db, author.firmId, (scope) =>
    scope.selectFrom("member").select("password_hash").where("id", "=", author.memberId).executeTakeFirst(),
  );
  if (!(await passwordMatches(member?.password_hash, sent.current)))
    throw new InputFault("inconsistent", "current", "");
  const password_hash = await hashPassword(sent.next);
  await asFirm(db, author.firmId, async (scope) => {
    await scope.updateTable("member").set({ password_hash }).where("id", "=", author.memberId).execute();
    await signOutEverywhere(scope, author.memberId, author.now, session);
    await note(scope, author, "password-changed", author.memberId);
  });
}

/**
 * Makes a link that sets somebody's password anew; its token is told once, here. Links made before for
 * them open nothing any more.
 * @throws InputFault when the member is not here, shut out, or came in with a file and never signed in
 */
export async function makeReset(
  scope: FirmScope,
  author: Author,
  { id, memberId }: { id: string; memberId: string },
): Promise<string> {
  await holdTeam(scope, author);
  const member = (await teamOf(scope)).find((one) => one.id === memberId);
  if (!member) throw new InputFault("unknown", "member", memberId);
  if (member.disabledAt || !member.signsIn)
    throw new InputFault("inconsistent", "member", member.name, "invite");
  const token = newToken();
  await insertReset(scope, author.firmId, { id, memberId, madeBy: author.memberId, token, now: author.now });
  await note(scope, author, "reset-made", memberId, { name: member.name });
  return token;
}

async function insertReset(
  scope: FirmScope,
  firmId: string,
  { id, memberId, madeBy, token, now }: NewReset,
): Promise<void> {
  await scope
    .updateTable("password_reset")
    .set({ withdrawn_at: now })
    .where("member_id", "=", memberId)
    .where("used_at", "is", null)
    .where("withdrawn_at", "is", null)
    .execute();
  await scope
    .insertInto("password_reset")
    .values({
      id,
      firm_id: firmId,
      member_id: memberId,
      made_by: madeBy,
      token_hash: hashOf(token),
      made_at: now,
      expires_at: new Date(now.getTime() + GOOD_FOR_HOURS * millisecondsInHour),
    })
    .execute();
}

interface NewReset {
  id: string;
  memberId: string;
  /** Null when it comes from the command line. */
  madeBy: string | null;
  token: string;
  now: Date;
}

/** A link for the member who signs in by this address, from the command line; null when there is none. */
export async function resetByAddress(db: Database, email: string, now: Date): Promise<string | null> {
  const member = await asGate(db, (scope) =>
    scope
      .selectFrom("member")
      .select(["id", "firm_id"])
      .where("email", "=", email.trim().toLowerCase())
      .where("password_hash", "<>", "")
      .where("disabled_at", "is", null)
      .executeTakeFirst(),
  );
  if (!member) return null;
  const token = newToken();
  await asFirm(db, member.firm_id, async (scope) => {
    await insertReset(scope, member.firm_id, { id: uuid(), memberId: member.id, madeBy: null, token, now });
    const author = { firmId: member.firm_id, memberId: null, now };
    await note(scope, author, "reset-made", member.id, { name: email });
  });
  return token;
}

export interface Reset {
  id: string;
  firmId: string;
  memberId: string;
  name: string;
  email: string;
}

/** Whose password a token sets; null when it is unknown, used, withdrawn or past its time. */
export async function resetOf(db: Database, token: string, now: Date): Promise<Reset | null> {
  const row = await asGate(db, (scope) =>
    scope
      .selectFrom("password_reset")
      .innerJoin("member", "member.id", "password_reset.member_id")
      .select([
        "password_reset.id",
        "password_reset.firm_id as firmId",
        "password_reset.member_id as memberId",
        "member.name",
        "member.email",
      ])
      .where("token_hash", "=", hashOf(token))
      .where("used_at", "is", null)
      .where("withdrawn_at", "is", null)
      .where("expires_at", ">", now)
      .where("member.disabled_at", "is", null)
      .executeTakeFirst(),
  );
  return row ?? null;
}

/** Sets the password, once; every session of the member ends. */
export async function useReset(db: Database, reset: Reset, password: string, now: Date): Promise<void> {
  const password_hash = await hashPassword(password);
  await asFirm(db, reset.firmId, async (scope) => {
    const used = await scope
      .updateTable("password_reset")
      .set({ used_at: now })
      .where("id", "=", reset.id)
      .where("used_at", "is", null)
      .where("withdrawn_at", "is", null)
      .executeTakeFirst();
    if (Number(used.numUpdatedRows) !== 1) throw new InputFault("changed", "reset", reset.name);
    await scope.updateTable("member").set({ password_hash }).where("id", "=", reset.memberId).execute();
    await signOutEverywhere(scope, reset.memberId, now);
    await note(
      scope,
      { firmId: reset.firmId, memberId: reset.memberId, now },
      "password-reset",
      reset.memberId,
    );
  });
}
