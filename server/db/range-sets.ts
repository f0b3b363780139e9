import { InputFault, type RangeSet } from "#core";
import { rangeSetSchema } from "#core/schemas";
import type { FirmScope } from "./connection";
import { versionReader } from "./versions";

/** Range sets: what a firm judges by. Versions are added, never changed. */

/** One version of a range set. */
export const rangeSetVersions = versionReader<RangeSet>("range_set", rangeSetSchema);
export const { version: rangeSetVersion } = rangeSetVersions;

export interface KeptRangeSet {
  /** The version. */
  id: string;
  line: string;
  version: number;
  set: RangeSet;
  /** Who made this version; null for what shipped. */
  by: string | null;
  /** Basins that are judged by it. */
  basins: number;
}

/** The newest version of every set, by name. */
export async function rangeSetsOf(scope: FirmScope): Promise<KeptRangeSet[]> {
  const rows = await scope
    .selectFrom("range_set")
    .leftJoin("member", "member.id", "range_set.member_id")
    .distinctOn("range_set.line")
    .select((row) => [
      "range_set.id",
      "range_set.line",
      "range_set.version",
      "range_set.content",
      "member.name as by",
      row
        .selectFrom("basin")
        .whereRef("basin.range_set_id", "=", "range_set.id")
        .select((basin) => basin.fn.countAll<number>().as("basins"))
        .as("basins"),
    ])
    .orderBy("range_set.line")
    .orderBy("range_set.version", "desc")
    .execute();
  const sets: KeptRangeSet[] = [];
  for (const { content, basins, ...row } of rows)
    sets.push({ ...row, basins: basins ?? 0, set: await rangeSetSchema.validateAsync(content) });
  return sets.sort((a, b) => a.set.name.localeCompare(b.set.name));
}

export interface RangeSetInput {
  id: string;
  line: string;
  basedOn: number | null;
  set: RangeSet;
}

/**
 * Adds a version to a set, or a new set, under a key that the client made; basins that used an earlier
 * version use this one from now on, visits keep theirs.
 *
 * @throws InputFault "changed" when somebody saved another version meanwhile; "inconsistent" for a set that shipped
 */
export async function saveRangeSet(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  sent: RangeSetInput,
): Promise<void> {
  const standing = await scope
    .selectFrom("range_set")
    .select(["id", "version", "member_id"])
    .where("line", "=", sent.line)
    .orderBy("version", "desc")
    .forUpdate()
    .execute();
  const newest = standing[0]?.version ?? null;
  if (newest !== sent.basedOn) throw new InputFault("changed", "version", sent.basedOn, newest ?? 0);
  if (standing[0] && standing[0].member_id === null)
    throw new InputFault("inconsistent", "rangeSet", sent.set.name, "shipped");
  await scope
    .insertInto("range_set")
    .values({
      id: sent.id,
      firm_id: author.firmId,
      line: sent.line,
      version: (newest ?? 0) + 1,
      content: JSON.stringify(sent.set),
      member_id: author.memberId,
      created_at: author.now,
    })
    .execute();
  if (standing.length > 0)
    await scope
      .updateTable("basin")
      .set({ range_set_id: sent.id })
      .where(
        "range_set_id",
        "in",
        standing.map((one) => one.id),
      )
      .execute();
}
