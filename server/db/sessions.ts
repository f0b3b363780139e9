import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import { ROLES, type Role, type UnitSystem } from "#core";
import { passwordMatches } from "../auth/passwords";
import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { asFirm, asGate, type Database, type FirmScope, type GateScope } from "./connection";

/** Days a session lasts without a visit; each use extends it. */
const LASTS_DAYS = 30;
/** A session's last use is noted this often, not at every request. */
const NOTE_EVERY = 5 * 60_000;

export interface SignedIn {
  memberId: string;
  firmId: string;
  name: string;
  role: Role;
  /** What they read, as they chose it: "es-MX"; null where they chose nothing. */
  language: string | null;
  /** In what they read amounts; null as the firm has it. */
  units: UnitSystem | null;
  /** The session's time was put off with this request: its cookie is to be, too. */
  renewed: boolean;
}

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
      // People who came in with a file have no password, and nobody signs in by their address.
      .where("password_hash", "<>", "")
      .executeTakeFirst(),
  );
  const right = await passwordMatches(member?.password_hash, password);
  if (!member || !right || member.disabled_at) return null;
  return openSession(db, { firmId: member.firm_id, memberId: member.id }, userAgent, now);
}

/** Opens a session for somebody who has shown who they are, and notes it; returns its token. */
export async function openSession(
  db: Database,
  who: { firmId: string; memberId: string },
  userAgent: string,
  now: Date,
): Promise<string> {
  const token = newToken();
  await asFirm(db, who.firmId, async (scope) => {
    await scope
      .insertInto("session")
      .values({
        token_hash: hashOf(token),
        firm_id: who.firmId,
        member_id: who.memberId,
        created_at: now,
        seen_at: now,
        expires_at: new Date(now.getTime() + LASTS_DAYS * millisecondsInDay),
        user_agent: userAgent.slice(0, 300),
      })
      .execute();
    await note(scope, { ...who, now }, "signed-in", who.memberId, { name: userAgent.slice(0, 120) });
  });
  return token;
}

/** Who stands behind a token, or null when it is unknown, revoked or past its time. */
export async function sessionOf(db: Database, token: string, now: Date): Promise<SignedIn | null> {
  const { rows } = await sql<{
    memberId: string;
    firmId: string;
    name: string;
    role: string;
    language: string | null;
    units: UnitSystem | null;
    seenAt: Date;
  }>`
    select member_id as "memberId", firm_id as "firmId", name, role, language,
      unit_system as units, seen_at as "seenAt"
    from session_behind(${hashOf(token)}, ${now})`.execute(db);
  const [found] = rows;
  if (!found) return null;
  const renewed = now.getTime() - found.seenAt.getTime() > NOTE_EVERY;
  if (renewed)
    await asGate(db, (scope) =>
      scope
        .updateTable("session")
        .set({ seen_at: now, expires_at: new Date(now.getTime() + LASTS_DAYS * millisecondsInDay) })
        .where("token_hash", "=", hashOf(token))
        .execute(),
    );
  const { memberId, firmId, name, role, language, units } = found;
  return { memberId, firmId, name, role: roleOf(role), language, units, renewed };
}

/** A role as the table has it; what is not known may do least. */
export const roleOf = (name: string): Role => ROLES.find((role) => role === name) ?? "reader";

/** Ends one session. */
export async function signOut(db: Database, token: string, now: Date): Promise<void> {
  const ended = await asGate(db, (scope) =>
    scope
      .updateTable("session")
      .set({ revoked_at: now })
      .where("token_hash", "=", hashOf(token))
      .where("revoked_at", "is", null)
      .returning(["firm_id as firmId", "member_id as memberId"])
      .executeTakeFirst(),
  );
  if (ended)
    await asFirm(db, ended.firmId, (scope) => note(scope, { ...ended, now }, "signed-out", ended.memberId));
}

/** Sets what somebody reads. @param language null for what their browser asks for */
export const chooseLanguage = (
  db: Database,
  { firmId, memberId }: Pick<Author, "firmId" | "memberId">,
  language: string | null,
): Promise<void> =>
  asFirm(db, firmId, async (scope) => {
    await scope.updateTable("member").set({ language }).where("id", "=", memberId).execute();
  });

/** Sets in what somebody reads amounts. @param units null as the firm has it */
export const chooseUnits = (
  db: Database,
  { firmId, memberId }: Pick<Author, "firmId" | "memberId">,
  units: UnitSystem | null,
): Promise<void> =>
  asFirm(db, firmId, async (scope) => {
    await scope.updateTable("member").set({ unit_system: units }).where("id", "=", memberId).execute();
  });

/** Ends all of one's own sessions. */
export const leaveEverywhere = (db: Database, author: Author): Promise<void> =>
  asFirm(db, author.firmId, async (scope) => {
    await signOutEverywhere(scope, author.memberId, author.now);
    await note(scope, author, "signed-out-everywhere", author.memberId);
  });

/** Ends every session of a member, but for the one of `besides`. */
export async function signOutEverywhere(
  scope: FirmScope,
  memberId: string,
  now: Date,
  besides: string | null = null,
): Promise<void> {
  await scope
    .updateTable("session")
    .set({ revoked_at: now })
    .where("member_id", "=", memberId)
    .where("revoked_at", "is", null)
    .$if(besides !== null, (query) => query.where("token_hash", "<>", hashOf(besides ?? "")))
    .execute();
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

const openRows = (scope: GateScope, memberId: string, now: Date) =>
  scope
    .selectFrom("session")
    .select(["token_hash", "created_at", "seen_at", "user_agent"])
    .where("member_id", "=", memberId)
    .where("revoked_at", "is", null)
    .where("expires_at", ">", now)
    .orderBy("seen_at", "desc")
    .execute();

/** Ends one of a member's sessions by its name. @returns whether they ever had one of that name */
export const endSession = (db: Database, memberId: string, id: string, now: Date): Promise<boolean> =>
  asGate(db, async (scope) => {
    const all = await scope
      .selectFrom("session")
      .select("token_hash")
      .where("member_id", "=", memberId)
      .execute();
    const row = all.find((one) => nameOf(one.token_hash) === id);
    if (!row) return false;
    await scope
      .updateTable("session")
      .set({ revoked_at: now })
      .where("token_hash", "=", row.token_hash)
      .where("revoked_at", "is", null)
      .execute();
    return true;
  });
