import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import type { Author } from "../author";
import type { FirmScope } from "./connection";

/** Who did what and when. Rows are added, never changed: the table lets nobody do so. */

const AUDIT_ACTIONS = [
  "signed-in",
  "signed-out",
  "signed-out-everywhere",
  "password-changed",
  "reset-made",
  "password-reset",
  "member-invited",
  "invite-withdrawn",
  "member-joined",
  "member-changed",
  "member-shut-out",
  "member-let-in",
  "site-mail-changed",
  "mail-server-changed",
  "share-made",
  "share-withdrawn",
  "card-made",
  "card-withdrawn",
  "feed-made",
  "feed-withdrawn",
  "prices-changed",
  "webhook-added",
  "webhook-withdrawn",
  "webhook-off",
  "api-token-made",
  "api-token-withdrawn",
  "basin-changed",
  "firm-changed",
  "product-changed",
  "reading-corrected",
  "call-skipped",
  "call-moved",
  "book-imported",
  "book-exported",
  "stock-counted",
  "work-taken-in",
  "work-list-changed",
  "access-changed",
] as const;
export type AuditAction = (typeof AUDIT_ACTIONS)[number];

/** What changed, from what to what; plain values only. */
export type Changes = Record<string, { was: unknown; became: unknown }>;

export interface AuditEntry {
  id: string;
  at: Date;
  /** Null for a job of the night. */
  by: string | null;
  action: AuditAction;
  subjectId: string | null;
  detail: { name?: string; changes?: Changes; count?: number };
}

/** Notes what somebody did. */
export async function note(
  scope: FirmScope,
  author: Omit<Author, "memberId"> & { memberId: string | null },
  action: AuditAction,
  subjectId: string | null,
  detail: AuditEntry["detail"] = {},
): Promise<void> {
  await scope
    .insertInto("audit")
    .values({
      id: uuid(),
      firm_id: author.firmId,
      member_id: author.memberId,
      at: author.now,
      action,
      subject_id: subjectId,
      detail: JSON.stringify(detail),
    })
    .execute();
}

/** What differs between two states of a thing, by the names of the second. */
export function changesBetween(was: object, became: object): Changes {
  const before = was as Record<string, unknown>;
  return Object.fromEntries(
    Object.entries(became).flatMap(([name, value]) =>
      JSON.stringify(before[name] ?? null) === JSON.stringify(value ?? null)
        ? []
        : [[name, { was: before[name] ?? null, became: value ?? null }]],
    ),
  );
}

const select = (scope: FirmScope) =>
  scope
    .selectFrom("audit")
    .leftJoin("member", "member.id", "audit.member_id")
    .select([
      "audit.id",
      "audit.at",
      "member.name as by",
      "audit.action",
      "audit.subject_id as subjectId",
      "audit.detail",
    ]);

type Row = Awaited<ReturnType<ReturnType<typeof select>["execute"]>>[number];
const entryFrom = (row: Row): AuditEntry => ({
  ...row,
  action: row.action as AuditAction,
  detail: row.detail as AuditEntry["detail"],
});

/** A page of the list from the newest, after an entry. */
export async function auditPage(
  scope: FirmScope,
  after: { at: Date; id: string } | null,
  limit: number,
): Promise<AuditEntry[]> {
  const rows = await select(scope)
    .$if(after !== null, (query) =>
      query.where(sql<boolean>`(audit.at, audit.id) < (${after?.at}::timestamptz, ${after?.id}::uuid)`),
    )
    .orderBy("audit.at", "desc")
    .orderBy("audit.id", "desc")
    .limit(limit)
    .execute();
  return rows.map(entryFrom);
}

/** What was done to one thing, the newest first. */
export async function auditOf(scope: FirmScope, subjectId: string): Promise<AuditEntry[]> {
  const rows = await select(scope)
    .where("audit.subject_id", "=", subjectId)
    .orderBy("audit.at", "desc")
    .limit(100)
    .execute();
  return rows.map(entryFrom);
}
