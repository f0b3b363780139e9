import { millisecondsInDay } from "date-fns/constants";
import { InputFault, type Role } from "#core";
import { hashPassword } from "../auth/passwords";
import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { claim } from "./commands";
import { asFirm, asGate, type Database, type FirmScope } from "./connection";
import { holdTeam, knownSites } from "./members";
import { roleOf } from "./sessions";

/** Days in which an invitation can be taken up. */
const GOOD_FOR_DAYS = 7;

export interface InviteInput {
  id: string;
  name: string;
  role: Role;
  /** What a reader will see. */
  siteIds: string[];
}

/** Makes an invitation; its token is told once, here. The same key again makes a new token of it. */
export async function invite(scope: FirmScope, author: Author, sent: InviteInput): Promise<string> {
  await holdTeam(scope, author);
  await claim(scope, author, sent.id, ["invite", sent]);
  const siteIds = await knownSites(scope, sent);
  const token = newToken();
  await scope
    .insertInto("invite")
    .values({
      id: sent.id,
      firm_id: author.firmId,
      token_hash: hashOf(token),
      role: sent.role,
      name: sent.name,
      site_ids: siteIds,
      made_by: author.memberId,
      made_at: author.now,
      expires_at: new Date(author.now.getTime() + GOOD_FOR_DAYS * millisecondsInDay),
    })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ token_hash: hashOf(token) }))
    .execute();
  await note(scope, author, "member-invited", sent.id, { name: `${sent.name}, ${sent.role}` });
  return token;
}

/** Invitations that somebody may still take up. */
export const openInvites = (scope: FirmScope, now: Date) =>
  scope
    .selectFrom("invite")
    .select(["id", "name", "role", "expires_at as expiresAt"])
    .where("accepted_at", "is", null)
    .where("withdrawn_at", "is", null)
    .where("expires_at", ">", now)
    .orderBy("made_at")
    .execute();

export async function withdrawInvite(scope: FirmScope, author: Author, id: string): Promise<void> {
  const row = await scope
    .updateTable("invite")
    .set({ withdrawn_at: author.now })
    .where("id", "=", id)
    .where("accepted_at", "is", null)
    .where("withdrawn_at", "is", null)
    .returning("name")
    .executeTakeFirst();
  if (row) await note(scope, author, "invite-withdrawn", id, { name: row.name });
}

export interface Invitation {
  id: string;
  firmId: string;
  firmName: string;
  name: string;
  role: Role;
  siteIds: string[];
}

/** What a token invites to; null when it is unknown, taken up, withdrawn or past its time. */
export async function invitationOf(db: Database, token: string, now: Date): Promise<Invitation | null> {
  const row = await asGate(db, (scope) =>
    scope
      .selectFrom("invite")
      .innerJoin("firm", "firm.id", "invite.firm_id")
      .innerJoin("member", "member.id", "invite.made_by")
      .select([
        "invite.id",
        "invite.firm_id",
        "firm.name as firm",
        "invite.name",
        "invite.role",
        "invite.site_ids",
      ])
      .where("token_hash", "=", hashOf(token))
      .where("accepted_at", "is", null)
      .where("withdrawn_at", "is", null)
      .where("expires_at", ">", now)
      .where("member.role", "=", "owner")
      .where("member.disabled_at", "is", null)
      .executeTakeFirst(),
  );
  if (!row) return null;
  return {
    id: row.id,
    firmId: row.firm_id,
    firmName: row.firm,
    name: row.name,
    role: roleOf(row.role),
    siteIds: row.site_ids,
  };
}

export interface JoinInput {
  id: string;
  name: string;
  email: string;
  password: string;
}

/**
 * Takes an invitation up: a member is made, once.
 * @throws InputFault when the address belongs to somebody already
 */
export async function join(db: Database, invitation: Invitation, sent: JoinInput, now: Date): Promise<void> {
  const password_hash = await hashPassword(sent.password);
  await asFirm(db, invitation.firmId, async (scope) => {
    const taken = await scope
      .updateTable("invite")
      .set({ accepted_at: now })
      .where("id", "=", invitation.id)
      .where("accepted_at", "is", null)
      .where("withdrawn_at", "is", null)
      .executeTakeFirst();
    if (Number(taken.numUpdatedRows) !== 1) throw new InputFault("changed", "invite", invitation.name);
    // Addresses are one for all firms; the conflict says so without showing whose it is.
    const made = await scope
      .insertInto("member")
      .values({
        id: sent.id,
        firm_id: invitation.firmId,
        email: sent.email.trim().toLowerCase(),
        name: sent.name,
        role: invitation.role,
        password_hash,
        created_at: now,
      })
      .onConflict((conflict) => conflict.doNothing())
      .executeTakeFirst();
    if (Number(made.numInsertedOrUpdatedRows) !== 1)
      throw new InputFault("inconsistent", "email", sent.email);
    if (invitation.siteIds.length > 0)
      await scope
        .insertInto("member_site")
        .values(
          invitation.siteIds.map((site_id) => ({
            firm_id: invitation.firmId,
            member_id: sent.id,
            site_id,
          })),
        )
        .execute();
    const author = { firmId: invitation.firmId, memberId: sent.id, now };
    await note(scope, author, "member-joined", sent.id, { name: `${sent.name}, ${invitation.role}` });
  });
}
