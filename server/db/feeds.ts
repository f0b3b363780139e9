import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { claim } from "./commands";
import { asGate, type Database, type FirmScope } from "./connection";

/** Secret addresses under which a calendar program finds the round. */

export interface Feed {
  id: string;
  by: string;
  memberId: string;
  /** Only the calls of the member who made it. */
  mine: boolean;
  madeAt: Date;
}

/** Makes an address; its secret is told once, here. The same key again makes a new secret of it. */
export async function makeFeed(
  scope: FirmScope,
  author: Author,
  { id, mine, name }: { id: string; mine: boolean; name: string },
): Promise<string> {
  await claim(scope, author, id, ["feed", { mine }]);
  const token = newToken();
  await scope
    .insertInto("feed")
    .values({
      id,
      firm_id: author.firmId,
      token_hash: hashOf(token),
      member_id: author.memberId,
      mine,
      made_at: author.now,
    })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ token_hash: hashOf(token) }))
    .execute();
  await note(scope, author, "feed-made", id, { name });
  return token;
}

/** Addresses in use; a member's own, or all of the firm. */
export const feedsOf = (scope: FirmScope, memberId: string | null): Promise<Feed[]> =>
  scope
    .selectFrom("feed")
    .innerJoin("member", "member.id", "feed.member_id")
    .select([
      "feed.id",
      "member.name as by",
      "feed.member_id as memberId",
      "feed.mine",
      "feed.made_at as madeAt",
    ])
    .where("withdrawn_at", "is", null)
    .$if(memberId !== null, (query) => query.where("feed.member_id", "=", memberId ?? ""))
    .orderBy("made_at")
    .execute();

export async function withdrawFeed(scope: FirmScope, author: Author, id: string): Promise<void> {
  const done = await scope
    .updateTable("feed")
    .set({ withdrawn_at: author.now })
    .where("id", "=", id)
    .where("withdrawn_at", "is", null)
    .executeTakeFirst();
  if (Number(done.numUpdatedRows) > 0) await note(scope, author, "feed-withdrawn", id);
}

/** What an address opens; null when it is unknown, withdrawn, or its member may no longer sign in. */
export async function feedBehind(
  db: Database,
  token: string,
): Promise<{ firmId: string; memberId: string; mine: boolean; language: string | null } | null> {
  const row = await asGate(db, (scope) =>
    scope
      .selectFrom("feed")
      .innerJoin("member", "member.id", "feed.member_id")
      .select(["feed.firm_id as firmId", "feed.member_id as memberId", "feed.mine", "member.language"])
      .where("token_hash", "=", hashOf(token))
      .where("withdrawn_at", "is", null)
      .where("member.disabled_at", "is", null)
      .where("member.role", "<>", "reader")
      .executeTakeFirst(),
  );
  return row ?? null;
}

/** Withdraws the addresses of people who may no longer sign in. */
export async function withdrawFeedsOfLeavers(scope: FirmScope, now: Date): Promise<void> {
  await scope
    .updateTable("feed")
    .set({ withdrawn_at: now })
    .where("withdrawn_at", "is", null)
    .where("member_id", "in", scope.selectFrom("member").select("id").where("disabled_at", "is not", null))
    .execute();
}
