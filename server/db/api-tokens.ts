import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { claim } from "./commands";
import { asGate, type Database, type FirmScope } from "./connection";
import { roleOf, type SignedIn } from "./sessions";

/** Keys with which a program comes to a firm's book over HTTP. */

/** What a token may do. */
export const API_SCOPES = ["read-book", "read-plans", "write-visits", "manage"] as const;
export type ApiScope = (typeof API_SCOPES)[number];

export interface ApiToken {
  id: string;
  name: string;
  /** Who made it: what it writes is written in their name. */
  by: string;
  scopes: ApiScope[];
  madeAt: Date;
  usedAt: Date | null;
}

/** Makes a token; its secret is told once, here. The same key again makes a new secret of it. */
export async function makeApiToken(
  scope: FirmScope,
  author: Author,
  { id, name, scopes }: { id: string; name: string; scopes: readonly ApiScope[] },
): Promise<string> {
  await claim(scope, author, id, ["api-token", { name, scopes }]);
  const token = newToken();
  await scope
    .insertInto("api_token")
    .values({
      id,
      firm_id: author.firmId,
      member_id: author.memberId,
      name,
      scopes: [...scopes],
      token_hash: hashOf(token),
      made_at: author.now,
    })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ token_hash: hashOf(token) }))
    .execute();
  await note(scope, author, "api-token-made", id, { name });
  return token;
}

/** Tokens in use, the newest first. */
export async function apiTokensOf(scope: FirmScope): Promise<ApiToken[]> {
  const rows = await scope
    .selectFrom("api_token")
    .innerJoin("member", "member.id", "api_token.member_id")
    .select([
      "api_token.id",
      "api_token.name",
      "member.name as by",
      "api_token.scopes",
      "api_token.made_at as madeAt",
      "api_token.used_at as usedAt",
    ])
    .where("withdrawn_at", "is", null)
    .orderBy("made_at", "desc")
    .execute();
  return rows.map((row) => ({ ...row, scopes: row.scopes.filter(isScope) }));
}

const isScope = (name: string): name is ApiScope => (API_SCOPES as readonly string[]).includes(name);

export async function withdrawApiToken(scope: FirmScope, author: Author, id: string): Promise<void> {
  const done = await scope
    .updateTable("api_token")
    .set({ withdrawn_at: author.now })
    .where("id", "=", id)
    .where("withdrawn_at", "is", null)
    .returning("name")
    .executeTakeFirst();
  if (done) await note(scope, author, "api-token-withdrawn", id, { name: done.name });
}

/** A token's last use is noted this often, not at every request. */
const NOTE_EVERY_MS = 60_000;

export interface TokenHolder {
  tokenId: string;
  scopes: ApiScope[];
  /** Who made it: it may do no more than they may. */
  member: SignedIn;
}

/** Who stands behind a token; null when it is unknown or withdrawn, or its maker may no longer make any. */
export async function apiTokenBehind(db: Database, token: string, now: Date): Promise<TokenHolder | null> {
  return asGate(db, async (scope) => {
    const row = await scope
      .selectFrom("api_token")
      .innerJoin("member", "member.id", "api_token.member_id")
      .select([
        "api_token.id as tokenId",
        "api_token.scopes",
        "api_token.used_at as usedAt",
        "api_token.firm_id as firmId",
        "member.id as memberId",
        "member.name",
        "member.role",
        "member.language",
        "member.unit_system as units",
      ])
      .where("token_hash", "=", hashOf(token))
      .where("withdrawn_at", "is", null)
      .where("member.disabled_at", "is", null)
      .where("member.role", "=", "owner")
      .executeTakeFirst();
    if (!row) return null;
    if (row.usedAt === null || now.getTime() - row.usedAt.getTime() > NOTE_EVERY_MS)
      await scope.updateTable("api_token").set({ used_at: now }).where("id", "=", row.tokenId).execute();
    const { tokenId, scopes, memberId, firmId, name, role, language } = row;
    const units = row.units as SignedIn["units"];
    return {
      tokenId,
      scopes: scopes.filter(isScope),
      member: { memberId, firmId, name, role: roleOf(role), language, units, renewed: false },
    };
  });
}
