import { millisecondsInDay } from "date-fns/constants";
import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { claim } from "./commands";
import { asGate, type Database, type FirmScope } from "./connection";

/** Links that open one visit's sheet to whoever has them, for a time. */

export const SHARE_DAYS = [7, 30, 365] as const;

/** Makes a link; its token is told once, here. The same key again makes a new token of it. */
export async function makeShare(
  scope: FirmScope,
  author: Author,
  { id, visitId, days, name }: { id: string; visitId: string; days: number; name: string },
): Promise<string> {
  await claim(scope, author, id, ["share", { visitId, days }]);
  const token = newToken();
  await scope
    .insertInto("share")
    .values({
      id,
      firm_id: author.firmId,
      token_hash: hashOf(token),
      visit_id: visitId,
      made_by: author.memberId,
      made_at: author.now,
      expires_at: new Date(author.now.getTime() + days * millisecondsInDay),
    })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ token_hash: hashOf(token) }))
    .execute();
  await note(scope, author, "share-made", visitId, { name });
  return token;
}

/** Links to a visit that still open it. */
export const sharesOf = (scope: FirmScope, visitId: string, now: Date) =>
  scope
    .selectFrom("share")
    .innerJoin("member", "member.id", "share.made_by")
    .select(["share.id", "share.made_at as madeAt", "share.expires_at as expiresAt", "member.name as by"])
    .where("visit_id", "=", visitId)
    .where("withdrawn_at", "is", null)
    .where("expires_at", ">", now)
    .orderBy("made_at")
    .execute();

export async function withdrawShare(
  scope: FirmScope,
  author: Author,
  { id, visitId, name }: { id: string; visitId: string; name: string },
): Promise<void> {
  const done = await scope
    .updateTable("share")
    .set({ withdrawn_at: author.now })
    .where("id", "=", id)
    .where("visit_id", "=", visitId)
    .where("withdrawn_at", "is", null)
    .executeTakeFirst();
  if (Number(done.numUpdatedRows) > 0) await note(scope, author, "share-withdrawn", visitId, { name });
}

/** Which firm's visit a token opens; null when it is unknown, withdrawn or past its time. */
export async function sharedVisit(
  db: Database,
  token: string,
  now: Date,
): Promise<{ firmId: string; visitId: string } | null> {
  const row = await asGate(db, (scope) =>
    scope
      .selectFrom("share")
      .select(["firm_id as firmId", "visit_id as visitId"])
      .where("token_hash", "=", hashOf(token))
      .where("withdrawn_at", "is", null)
      .where("expires_at", ">", now)
      .executeTakeFirst(),
  );
  return row ?? null;
}
