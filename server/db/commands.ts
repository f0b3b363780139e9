import { createHash } from "node:crypto";
import { sql } from "kysely";
import { InputFault } from "#core";
import type { Author } from "../author";
import type { FirmScope } from "./connection";

/** Content in one spelling, whatever order its fields came in. */
function canonical(value: unknown): unknown {
  if (value instanceof Uint8Array) return createHash("sha256").update(value).digest("hex");
  if (Array.isArray(value)) return value.map(canonical);
  if (value === null || typeof value !== "object" || value instanceof Date) return value;
  const fields = Object.entries(value).filter(([, one]) => one !== undefined);
  return fields.sort(([a], [b]) => (a < b ? -1 : 1)).map(([name, one]) => [name, canonical(one)]);
}

export const digestOf = (content: unknown): Buffer =>
  createHash("sha256")
    .update(JSON.stringify(canonical(content)) ?? "")
    .digest();

/**
 * Takes a key for a write.
 * @returns null when it is new, or else what it was answered with
 * @throws InputFault "key-taken" when it stands for another write, or one by somebody else
 */
export async function claim(
  scope: FirmScope,
  author: Author,
  key: string,
  content: unknown,
  { name, made = null }: Pick<CommandRow, "name"> & Partial<Pick<CommandRow, "made">> = { name: "" },
): Promise<{ answer: unknown } | null> {
  const digest = digestOf(content);
  // A second one of the same key waits here until the first is through.
  const inserted = await scope
    .insertInto("command")
    .values({
      firm_id: author.firmId,
      id: key,
      member_id: author.memberId,
      name,
      digest,
      received_at: author.now,
      device: made?.device ?? null,
      sequence: made?.sequence ?? null,
      given_at: made?.at ?? null,
    })
    .onConflict((conflict) => conflict.doNothing())
    .executeTakeFirst();
  if (Number(inserted.numInsertedOrUpdatedRows) > 0) return null;
  const kept = await scope
    .selectFrom("command")
    .select(["member_id as memberId", "digest", "answer"])
    .where("id", "=", key)
    .executeTakeFirstOrThrow();
  return answerKept(kept, author.memberId, key, digest);
}

/** What a command that is known was answered with, to whoever gave it and for what it was. */
export function answerKept(
  kept: { memberId: string; digest: Buffer; answer: unknown },
  memberId: string,
  id: string,
  digest: Buffer,
): { answer: unknown } {
  if (kept.memberId !== memberId || !kept.digest.equals(digest)) throw new InputFault("key-taken", "id", id);
  return { answer: kept.answer };
}

/** A command that was done, as it is kept. */
export interface CommandRow {
  firmId: string;
  memberId: string;
  id: string;
  /** Empty for what is only a key: a link, an invitation. */
  name: string;
  digest: Buffer;
  answer: unknown;
  receivedAt: Date;
  /** Where and when it was given, by that clock; null where it came with its page. */
  made: { device: string; sequence: number; at: Date } | null;
}

export const commandInsert = ({
  firmId,
  memberId,
  id,
  name,
  digest,
  answer,
  receivedAt,
  made,
}: CommandRow) => sql`
  insert into command (firm_id, id, member_id, name, digest, answer, received_at, device, sequence, given_at)
  values (${firmId}, ${id}, ${memberId}, ${name}, ${digest},
    ${answer === undefined || answer === null ? null : JSON.stringify(answer)}, ${receivedAt},
    ${made?.device ?? null}, ${made?.sequence ?? null}, ${made?.at ?? null})`;

/**
 * Does a write once under the key that its device made. The same again, at the same time or days later, is
 * given the answer that the first one got; nothing is done twice, and nothing that has changed since is
 * held against it. The key is kept with what it wrote, in one transaction.
 *
 * @param work what it answers is kept as JSON
 * @param content what was sent, its name and its subject: all that makes it this write
 * @param told its name, and where it was given without the server
 * @throws InputFault "key-taken" when the key stands for another write, or one by somebody else
 * @example once(scope, author, sent.id, ["close", visitId, sent], () => closeVisit(scope, author, …))
 */
export async function once<T>(
  scope: FirmScope,
  author: Author,
  key: string,
  content: unknown,
  work: () => Promise<T>,
  told?: Parameters<typeof claim>[4],
): Promise<T> {
  const before = await claim(scope, author, key, content, told);
  if (before) return before.answer as T;
  const answer = await work();
  if (answer !== undefined && answer !== null)
    await scope
      .updateTable("command")
      .set({ answer: JSON.stringify(answer) })
      .where("id", "=", key)
      .execute();
  return answer;
}
