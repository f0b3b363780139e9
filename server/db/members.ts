import { InputFault, type Role } from "#core";
import type { Author } from "../author";
import { changesBetween, note } from "./audit";
import type { FirmScope } from "./connection";
import { roleOf, signOutEverywhere } from "./sessions";

export interface TeamMember {
  id: string;
  name: string;
  email: string;
  role: Role;
  disabledAt: Date | null;
  /** What a reader sees. */
  siteIds: string[];
  /** Has a password; who came in with a file has none until they are invited. */
  signsIn: boolean;
}

/** Everybody who ever was in the firm; those shut out stand last. */
export async function teamOf(scope: FirmScope): Promise<TeamMember[]> {
  const rows = await scope
    .selectFrom("member")
    .select((row) => [
      "id",
      "name",
      "email",
      "role",
      "disabled_at as disabledAt",
      row("password_hash", "<>", "").$castTo<boolean>().as("signsIn"),
    ])
    .orderBy((row) => row("disabled_at", "is not", null))
    .orderBy("name")
    .execute();
  const sites = await scope.selectFrom("member_site").select(["member_id", "site_id"]).execute();
  return rows.map((row) => ({
    ...row,
    role: roleOf(row.role),
    siteIds: sites.filter((one) => one.member_id === row.id).map((one) => one.site_id),
  }));
}

export const sitesOf = (scope: FirmScope) =>
  scope.selectFrom("site").select(["id", "name"]).orderBy("name").execute();

/** The sites a reader is to see; a reader of none would see nothing at all. */
export async function knownSites(
  scope: FirmScope,
  { role, siteIds }: { role: Role; siteIds: string[] },
): Promise<string[]> {
  if (role !== "reader") return [];
  const known = await sitesOf(scope);
  for (const id of siteIds)
    if (!known.some((site) => site.id === id))
      throw new InputFault(
        "unknown",
        "siteIds",
        id,
        known.map((site) => site.name),
      );
  if (siteIds.length === 0) throw new InputFault("missing", "siteIds", undefined);
  return siteIds;
}

export interface MemberInput {
  id: string;
  role: Role;
  siteIds: string[];
  /** Shut out: cannot sign in, and every session has ended. */
  disabled: boolean;
}

/**
 * Takes the firm's row, so that changes to its team follow one another, and makes sure that whoever makes
 * this one still is an owner: two who demote each other at the same moment must not both succeed.
 */
export async function holdTeam(scope: FirmScope, author: Author): Promise<void> {
  await scope.selectFrom("firm").select("id").forUpdate().execute();
  const own = await scope
    .selectFrom("member")
    .select("id")
    .where("id", "=", author.memberId)
    .where("role", "=", "owner")
    .where("disabled_at", "is", null)
    .executeTakeFirst();
  if (!own) throw new InputFault("changed", "role", "owner");
}

/** Changes what somebody may do. The firm always keeps an owner who can sign in. */
export async function changeMember(scope: FirmScope, author: Author, sent: MemberInput): Promise<void> {
  await holdTeam(scope, author);
  const team = await teamOf(scope);
  const member = team.find((one) => one.id === sent.id);
  if (!member) throw new InputFault("unknown", "member", sent.id);
  if (!sent.disabled && !member.signsIn)
    throw new InputFault("inconsistent", "member", member.name, "invite");
  const owners = team.filter(
    (one) => one.role === "owner" && one.signsIn && !one.disabledAt && one.id !== sent.id,
  );
  if (owners.length === 0 && (sent.role !== "owner" || sent.disabled))
    throw new InputFault("inconsistent", "role", sent.role, "the last owner");
  const siteIds = await knownSites(scope, sent);
  const disabledAt = sent.disabled ? (member.disabledAt ?? author.now) : null;
  await scope
    .updateTable("member")
    .set({ role: sent.role, disabled_at: disabledAt })
    .where("id", "=", sent.id)
    .execute();
  if (sent.disabled || sent.role !== member.role) await endAccess(scope, sent.id, author.now);
  await scope.deleteFrom("member_site").where("member_id", "=", sent.id).execute();
  if (siteIds.length > 0)
    await scope
      .insertInto("member_site")
      .values(siteIds.map((site_id) => ({ firm_id: author.firmId, member_id: sent.id, site_id })))
      .execute();
  const changes = changesBetween(
    { role: member.role, siteIds: member.siteIds },
    { role: sent.role, siteIds },
  );
  if (sent.disabled !== (member.disabledAt !== null))
    await note(scope, author, sent.disabled ? "member-shut-out" : "member-let-in", sent.id, {
      name: member.name,
    });
  if (Object.keys(changes).length > 0)
    await note(scope, author, "member-changed", sent.id, { name: member.name, changes });
}

/** Ends what a role opened: sessions, invitations made, calendar addresses, programs' tokens, links to a new password. */
async function endAccess(scope: FirmScope, memberId: string, now: Date): Promise<void> {
  await signOutEverywhere(scope, memberId, now);
  for (const [table, column] of OPENED_BY_ROLE)
    await scope
      .updateTable(table)
      .set({ withdrawn_at: now })
      .where(column, "=", memberId)
      .where("withdrawn_at", "is", null)
      .execute();
}

const OPENED_BY_ROLE = [
  ["invite", "made_by"],
  ["feed", "member_id"],
  ["api_token", "member_id"],
  ["password_reset", "made_by"],
  ["password_reset", "member_id"],
] as const;

/** Whether somebody works for the firm just now, so that a call may be theirs. */
export const isWorking = async (scope: FirmScope, id: string): Promise<boolean> =>
  (await scope
    .selectFrom("member")
    .select("id")
    .where("id", "=", id)
    .where("disabled_at", "is", null)
    .where("role", "!=", "reader")
    .executeTakeFirst()) !== undefined;

/**
 * Puts somebody in who came with a file: without a password they cannot sign in, and their address is a
 * word in the book.
 * @returns false where somebody, of whatever firm, has this id already
 */
export async function takeInMember(
  scope: FirmScope,
  firmId: string,
  person: { id: string; name: string; email: string },
  now: Date,
): Promise<boolean> {
  const done = await scope
    .insertInto("member")
    .values({
      ...person,
      firm_id: firmId,
      role: "technician",
      password_hash: "",
      created_at: now,
      disabled_at: now,
    })
    .onConflict((conflict) => conflict.column("id").doNothing())
    .executeTakeFirst();
  return Number(done.numInsertedOrUpdatedRows) > 0;
}

/** Everybody who ever was in the firm, by address. */
export const addressesOf = (scope: FirmScope): Promise<{ id: string; email: string }[]> =>
  scope.selectFrom("member").select(["id", "email"]).execute();
