import { createHash, randomBytes } from "node:crypto";
import { asGate, type Database } from "../db/connection";
import { passwordMatches } from "./passwords";

/** Days a session lasts without a visit; each use extends it. */
const LASTS_DAYS = 30;
const DAY = 86_400_000;
/** A session's last use is noted this often, not at every request. */
const NOTE_EVERY = 5 * 60_000;

export interface SignedIn {
  memberId: string;
  firmId: string;
  name: string;
  role: "owner" | "technician";
}

/** Only the hash of a token is kept: who reads the table cannot sign in with it. */
const hashOf = (token: string): Buffer => createHash("sha256").update(token).digest();

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
  const token = randomBytes(32).toString("base64url");
  await asGate(db, (scope) =>
    scope
      .insertInto("session")
      .values({
        token_hash: hashOf(token),
        firm_id: member.firm_id,
        member_id: member.id,
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
      role: found.role === "owner" ? "owner" : "technician",
    };
  });
}

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
