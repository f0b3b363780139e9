import type { Kit } from "#core";
import { InputFault } from "#core";
import { kitSchema } from "#core/schemas";
import type { FirmScope } from "./connection";
import { versionReader } from "./versions";

/** Kits: what a firm tests with. Versions are added, never changed. */

/** One version of a kit. */
export const kitVersions = versionReader<Kit>("kit", kitSchema);
export const { version: kitVersion } = kitVersions;

export interface KitOnShelf {
  /** The version. */
  id: string;
  line: string;
  version: number;
  kit: Kit;
  createdAt: Date;
  /** Who made this version; null for what shipped. */
  by: string | null;
}

const select = (scope: FirmScope) =>
  scope
    .selectFrom("kit")
    .leftJoin("member", "member.id", "kit.member_id")
    .select(["kit.id", "kit.line", "kit.version", "kit.created_at", "member.name as by"]);

type Row = Awaited<ReturnType<ReturnType<typeof select>["executeTakeFirstOrThrow"]>>;

async function kitsFrom(scope: FirmScope, rows: Row[]): Promise<KitOnShelf[]> {
  const kits: KitOnShelf[] = [];
  for (const { created_at, ...row } of rows)
    kits.push({
      ...row,
      createdAt: created_at,
      kit: await kitVersions.contentOf(scope, row.id),
    });
  return kits;
}

/** The newest version of every kit. */
export async function kitsOf(scope: FirmScope): Promise<KitOnShelf[]> {
  const rows = await select(scope)
    .distinctOn("kit.line")
    .orderBy("kit.line")
    .orderBy("kit.version", "desc")
    .execute();
  return (await kitsFrom(scope, rows)).sort((a, b) => a.kit.name.localeCompare(b.kit.name));
}

/** Every version of one kit, the newest first. */
export async function versionsOf(scope: FirmScope, line: string): Promise<KitOnShelf[]> {
  const rows = await select(scope).where("kit.line", "=", line).orderBy("kit.version", "desc").execute();
  return kitsFrom(scope, rows);
}

/**
 * Adds a version to a kit, or a new kit, under a key that the client made; basins that used an earlier
 * version use this one from now on, visits keep theirs.
 *
 * @param basedOn the version that was edited; null for a new kit
 * @throws InputFault "changed" when somebody saved another version in the meantime
 */
export async function saveKit(
  scope: FirmScope,
  author: { firmId: string; memberId: string; now: Date },
  sent: { id: string; line: string; basedOn: number | null; kit: Kit },
): Promise<void> {
  const standing = await scope
    .selectFrom("kit")
    .select(["id", "version"])
    .where("line", "=", sent.line)
    .orderBy("version", "desc")
    .forUpdate()
    .execute();
  const newest = standing[0]?.version ?? null;
  if (newest !== sent.basedOn) throw new InputFault("changed", "version", sent.basedOn, newest ?? 0);
  await scope
    .insertInto("kit")
    .values({
      id: sent.id,
      firm_id: author.firmId,
      line: sent.line,
      version: (newest ?? 0) + 1,
      content: JSON.stringify(sent.kit),
      member_id: author.memberId,
      created_at: author.now,
    })
    .execute();
  if (standing.length > 0)
    await scope
      .updateTable("basin")
      .set({ kit_id: sent.id })
      .where(
        "kit_id",
        "in",
        standing.map((one) => one.id),
      )
      .execute();
}

/** The kit that a version belongs to; undefined where there is no such version. */
export const lineOfKit = async (scope: FirmScope, id: string): Promise<string | undefined> =>
  (await scope.selectFrom("kit").select("line").where("id", "=", id).executeTakeFirst())?.line;
