import { asGate, type Database, type FirmScope } from "../db/connection";
import { passwordMatches } from "./passwords";
import { hashOf, newToken } from "./tokens";

/** Days a session lasts without a visit; each use extends it. */
const LASTS_DAYS = 30;
const DAY = 86_400_000;
/** A session's last use is noted this often, not at every request. */
const NOTE_EVERY = 5 * 60_000;

export interface SignedIn {
  memberId: string;
  firmId: string;
  name: string;
  role: Role;
}

/** An owner decides for the firm, a technician works, a reader sees their own sites and changes nothing. */
export const ROLES = ["owner", "technician", "reader"] as const;
export type Role = (typeof ROLES)[number];

/** Checks mail and password; returns a new session's token, or null with no hint which was wrong. */
export async function signIn(
  db: Database,
  email: string,
  password: string,
  userAgent: string,
  now: Date,
): Promise<string | null> {
  const member = await asGate(db, (scope) =>
    scope
      .selectFrom("member")
      .select(["id", "firm_id", "password_hash", "disabled_at"])
      .where("email", "=", email.trim().toLowerCase())
      .executeTakeFirst(),
  );
  const right = await passwordMatches(member?.password_hash, password);
  if (!member || !right || member.disabled_at) return null;
  return openSession(db, { firmId: member.firm_id, memberId: member.id }, userAgent, now);
}

/** Opens a session for somebody who has shown who they are; returns its token. */
export async function openSession(
  db: Database,
  who: { firmId: string; memberId: string },
  userAgent: string,
  now: Date,
): Promise<string> {
  const token = newToken();
  await asGate(db, (scope) =>
    scope
      .insertInto("session")
      .values({
        token_hash: hashOf(token),
        firm_id: who.firmId,
        member_id: who.memberId,
        created_at: now,
        seen_at: now,
        expires_at: new Date(now.getTime() + LASTS_DAYS * DAY),
        user_agent: userAgent.slice(0, 300),
      })
      .execute(),
  );
  return token;
}

/** Who stands behind a token, or null when it is unknown, revoked or past its time. */
export async function sessionOf(db: Database, token: string, now: Date): Promise<SignedIn | null> {
  return asGate(db, async (scope) => {
    const found = await scope
      .selectFrom("session")
      .innerJoin("member", "member.id", "session.member_id")
      .select(["member.id", "member.firm_id", "member.name", "member.role", "session.seen_at"])
      .where("token_hash", "=", hashOf(token))
      .where("revoked_at", "is", null)
      .where("expires_at", ">", now)
      .where("member.disabled_at", "is", null)
      .executeTakeFirst();
    if (!found) return null;
    if (now.getTime() - found.seen_at.getTime() > NOTE_EVERY)
      await scope
        .updateTable("session")
        .set({ seen_at: now, expires_at: new Date(now.getTime() + LASTS_DAYS * DAY) })
        .where("token_hash", "=", hashOf(token))
        .execute();
    return {
      memberId: found.id,
      firmId: found.firm_id,
      name: found.name,
      role: roleOf(found.role),
    };
  });
}

/** A role as the table has it; what is not known may do least. */
export const roleOf = (name: string): Role => ROLES.find((role) => role === name) ?? "reader";

/** Ends one session. */
export async function signOut(db: Database, token: string, now: Date): Promise<void> {
  await asGate(db, (scope) =>
    scope
      .updateTable("session")
      .set({ revoked_at: now })
      .where("token_hash", "=", hashOf(token))
      .where("revoked_at", "is", null)
      .execute(),
  );
}

/** Ends every session of a member; returns how many. */
export async function signOutEverywhere(db: Database, memberId: string, now: Date): Promise<number> {
  const result = await asGate(db, (scope) =>
    scope
      .updateTable("session")
      .set({ revoked_at: now })
      .where("member_id", "=", memberId)
      .where("revoked_at", "is", null)
      .executeTakeFirst(),
  );
  return Number(result.numUpdatedRows);
}

export interface OpenSession {
  /** The first bytes of its hash: names it, opens nothing. */
  id: string;
  createdAt: Date;
  seenAt: Date;
  userAgent: string;
  /** The one that asks. */
  own: boolean;
}

const nameOf = (hash: Buffer): string => hash.subarray(0, 8).toString("hex");

/** The sessions of a member that are still open, the last used first. */
export async function sessionsOf(
  db: Database,
  memberId: string,
  token: string,
  now: Date,
): Promise<OpenSession[]> {
  const own = nameOf(hashOf(token));
  const rows = await asGate(db, (scope) => openRows(scope, memberId, now));
  return rows.map((row) => ({
    id: nameOf(row.token_hash),
    createdAt: row.created_at,
    seenAt: row.seen_at,
    userAgent: row.user_agent,
    own: nameOf(row.token_hash) === own,
  }));
}

const openRows = (scope: FirmScope, memberId: string, now: Date) =>
  scope
    .selectFrom("session")
    .select(["token_hash", "created_at", "seen_at", "user_agent"])
    .where("member_id", "=", memberId)
    .where("revoked_at", "is", null)
    .where("expires_at", ">", now)
    .orderBy("seen_at", "desc")
    .execute();

/** Ends one of a member's sessions by its name. */
export async function endSession(db: Database, memberId: string, id: string, now: Date): Promise<void> {
  await asGate(db, async (scope) => {
    const row = (await openRows(scope, memberId, now)).find((one) => nameOf(one.token_hash) === id);
    if (row)
      await scope
        .updateTable("session")
        .set({ revoked_at: now })
        .where("token_hash", "=", row.token_hash)
        .execute();
  });
}
