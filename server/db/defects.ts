import { sql } from "kysely";
import { InputFault } from "#core";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** What is broken at basins: seen, offered for an amount, approved by whoever owns it, mended. */

export const DEFECT_STATES = ["seen", "quoted", "approved", "mended", "dropped"] as const;
export type DefectState = (typeof DEFECT_STATES)[number];

export interface KeptDefect {
  id: string;
  basinId: string;
  title: string;
  visitId: string;
  photoId: string | null;
  seenAt: Date;
  state: DefectState;
  mendedAt: Date | null;
  why: string;
  /** The newest offer; null where there is none. */
  quote: {
    id: string;
    version: number;
    amount: number;
    text: string;
    approvedAt: Date | null;
    approvedBy: string | null;
  } | null;
}

/** What was ever broken at these basins, what is open first. */
export async function defectsOf(scope: FirmScope, basinIds: readonly string[]): Promise<KeptDefect[]> {
  if (basinIds.length === 0) return [];
  const { rows } = await sql<Omit<KeptDefect, "state"> & { droppedAt: Date | null }>`
    select defect.id, defect.basin_id as "basinId", defect.title, defect.visit_id as "visitId",
      defect.photo_id as "photoId", defect.seen_at as "seenAt", defect.mended_at as "mendedAt",
      defect.dropped_at as "droppedAt", defect.why, (
        select json_build_object('id', quote.id, 'version', quote.version, 'amount', quote.amount,
          'text', quote.text, 'approvedAt', quote.approved_at, 'approvedBy', quote.approved_by)
        from quote where quote.firm_id = defect.firm_id and quote.defect_id = defect.id
        order by quote.version desc limit 1) as quote
    from defect where defect.firm_id = current_firm() and defect.basin_id = ${anyOf(basinIds)}
    order by coalesce(defect.mended_at, defect.dropped_at) is not null, defect.seen_at`.execute(scope);
  return rows.map(({ droppedAt, ...row }) => {
    const quote = row.quote && {
      ...row.quote,
      // As text in the JSON of the row.
      approvedAt: row.quote.approvedAt === null ? null : new Date(row.quote.approvedAt),
    };
    const state: DefectState = row.mendedAt
      ? "mended"
      : droppedAt
        ? "dropped"
        : quote?.approvedAt
          ? "approved"
          : quote
            ? "quoted"
            : "seen";
    return { ...row, quote, state };
  });
}

export const isOpen = ({ state }: Pick<KeptDefect, "state">): boolean =>
  state !== "mended" && state !== "dropped";

/** One defect; undefined where this firm has none under that id. */
export async function defectById(scope: FirmScope, id: string): Promise<KeptDefect | undefined> {
  const row = await scope.selectFrom("defect").select("basin_id").where("id", "=", id).executeTakeFirst();
  return row && (await defectsOf(scope, [row.basin_id])).find((one) => one.id === id);
}

/** Offers to mend something; what was offered before counts no more, approved or not. The same key again adds nothing. */
export async function saveQuote(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  { id, defectId, amount, text }: { id: string; defectId: string; amount: number; text: string },
): Promise<void> {
  // Two offers for one thing in the same moment: the second waits, and is the later version.
  await scope.selectFrom("defect").select("id").where("id", "=", defectId).forUpdate().execute();
  await sql`
    insert into quote (id, firm_id, defect_id, version, amount, text, made_at, made_by)
    select ${id}::uuid, ${author.firmId}::uuid, ${defectId}::uuid, coalesce(max(version), 0) + 1,
      ${amount}::double precision, ${text}, ${author.now}, ${author.memberId}::uuid
    from quote where defect_id = ${defectId}
    on conflict (id) do nothing`.execute(scope);
}

/**
 * Approves an offer, as whoever owns it read it.
 * @throws InputFault "changed" where another one stands there by now, with its amount; "not-there" where none does
 */
export async function approveQuote(
  scope: FirmScope,
  { basinId, quoteId, name, now }: { basinId: string; quoteId: string; name: string; now: Date },
): Promise<void> {
  const all = await defectsOf(scope, [basinId]);
  const row = await scope
    .selectFrom("quote")
    .select("defect_id")
    .where("id", "=", quoteId)
    .executeTakeFirst();
  const defect = all.find(({ id }) => id === row?.defect_id);
  if (!defect?.quote || !isOpen(defect)) throw new InputFault("not-there", "quote", quoteId);
  if (defect.quote.id !== quoteId) throw new InputFault("changed", "quote", quoteId, defect.quote.amount);
  // Approved twice it stands as it was approved first.
  await scope
    .updateTable("quote")
    .set({ approved_at: now, approved_by: name })
    .where("id", "=", quoteId)
    .where("approved_at", "is", null)
    .execute();
}

/** It stays as it is, for a reason; null brings it back. */
export async function dropDefect(scope: FirmScope, id: string, why: string, at: Date | null): Promise<void> {
  await scope
    .updateTable("defect")
    .set({ dropped_at: at, why: at === null ? "" : why })
    .where("id", "=", id)
    .where("mended_at", "is", null)
    .execute();
}
