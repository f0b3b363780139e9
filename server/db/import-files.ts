import { subHours, subSeconds } from "date-fns";
import { sql } from "kysely";
import { InputFault } from "#core";
import type { Author } from "../author";
import { begun, type ImportReport } from "../exchange/import/importing";
import type { Mapping } from "../exchange/import/mapping";
import type { TableForm } from "../exchange/import/table";
import type { FirmScope } from "./connection";

/** Files on their way into a firm's book, in pieces, and how the last run of each went. */

/** What the beginning of a file looks like: a table, and what its columns seem to be. */
export type FileForm = TableForm & { own: boolean; guess: Mapping };

export interface ImportFile {
  id: string;
  memberId: string;
  name: string;
  bytes: number;
  /** Null for our own JSON. */
  table: FileForm | null;
  dry: boolean;
  mapping: Mapping | null;
  report: ImportReport | null;
}

/** Files that wait at a time, of one firm. */
const MOST_WAITING = 4;
/** A file that nobody puts in is kept so long. */
const KEPT_HOURS = 1;
/** A run of which nothing was heard for so long has died, and nobody took it over. Seconds */
const LOST_SECONDS = 30 * 60;

/**
 * Makes room for a file that begins to come. Old ones go, and of a firm that has too many the oldest.
 * @throws InputFault "key-taken" where one of this key is there already
 */
export async function beginFile(
  scope: FirmScope,
  { firmId, memberId, now }: Author,
  { id, name }: Pick<ImportFile, "id" | "name">,
): Promise<void> {
  const idle = await scope
    .selectFrom("import_file")
    .select(["id", "sent_at"])
    .where((is) => is.or([is("state", "is", null), is("state", "!=", "running")]))
    .orderBy("sent_at")
    .execute();
  const many = Math.max(0, idle.length - MOST_WAITING + 1);
  const gone = idle.filter((one, index) => index < many || one.sent_at < subHours(now, KEPT_HOURS));
  if (gone.length > 0)
    await scope
      .deleteFrom("import_file")
      .where(
        "id",
        "in",
        gone.map((one) => one.id),
      )
      .execute();
  const made = await scope
    .insertInto("import_file")
    .values({ firm_id: firmId, id, member_id: memberId, name, sent_at: now })
    .onConflict((conflict) => conflict.doNothing())
    .returning("id")
    .executeTakeFirst();
  if (!made) throw new InputFault("key-taken", "id", id);
}

/** Files of a firm that nobody put in and whose hour is over. */
export async function clearOldFiles(scope: FirmScope, now: Date): Promise<void> {
  await scope
    .deleteFrom("import_file")
    .where("sent_at", "<", subHours(now, KEPT_HOURS))
    .where((is) => is.or([is("state", "is", null), is("state", "!=", "running")]))
    .execute();
}

export async function addChunk(
  scope: FirmScope,
  firmId: string,
  fileId: string,
  position: number,
  content: Buffer,
): Promise<void> {
  await scope
    .insertInto("import_chunk")
    .values({ firm_id: firmId, file_id: fileId, position, content })
    .execute();
}

/** A piece of a file, in the order in which they came; undefined after the last. */
export const chunkOf = async (
  scope: FirmScope,
  fileId: string,
  position: number,
): Promise<Buffer | undefined> =>
  (
    await scope
      .selectFrom("import_chunk")
      .select("content")
      .where("file_id", "=", fileId)
      .where("position", "=", position)
      .executeTakeFirst()
  )?.content;

/** All of it has come. */
export async function endFile(
  scope: FirmScope,
  id: string,
  bytes: number,
  form: FileForm | null,
): Promise<void> {
  await scope
    .updateTable("import_file")
    .set({ bytes, form: form && JSON.stringify(form) })
    .where("id", "=", id)
    .execute();
}

/** A file that has come whole. */
export async function fileOf(scope: FirmScope, id: string): Promise<ImportFile | undefined> {
  const row = await scope
    .selectFrom("import_file")
    .select(["id", "member_id", "name", "bytes", "form", "dry", "mapping", "report"])
    .where("id", "=", id)
    .where("bytes", "is not", null)
    .executeTakeFirst();
  return (
    row && {
      id: row.id,
      memberId: row.member_id,
      name: row.name,
      bytes: Number(row.bytes),
      table: row.form as FileForm | null,
      dry: row.dry ?? true,
      mapping: row.mapping as Mapping | null,
      report: row.report as ImportReport | null,
    }
  );
}

/**
 * Begins a run: from here on the file is tried or put in, until it is ended.
 * @throws InputFault "changed" while another of the firm is under way
 */
export async function beginRun(
  scope: FirmScope,
  { id, name }: Pick<ImportFile, "id" | "name">,
  { dry, mapping }: Pick<ImportFile, "dry" | "mapping">,
  now: Date,
): Promise<void> {
  await scope
    .updateTable("import_file")
    .set({ state: "failed" })
    .where("state", "=", "running")
    .where(sql<Date>`coalesce(beat_at, begun_at)`, "<", subSeconds(now, LOST_SECONDS))
    .execute();
  const underWay = await scope
    .selectFrom("import_file")
    .select("id")
    .where("state", "=", "running")
    .executeTakeFirst();
  if (underWay) throw new InputFault("changed", "import", name);
  const run = scope
    .updateTable("import_file")
    .set({
      state: "running",
      dry,
      mapping: mapping && JSON.stringify(mapping),
      begun_at: now,
      claim: null,
      beat_at: null,
      stop_asked: false,
      report: JSON.stringify(begun(dry)),
    })
    .where("id", "=", id);
  try {
    await run.execute();
  } catch (fault) {
    // Of two that were begun at once one is under way.
    if ((fault as { constraint?: string }).constraint === "import_running")
      throw new InputFault("changed", "import", name);
    throw fault;
  }
}

/** Takes a run on, or over from a server that died; whoever had it is not told, and finds it out. */
export async function claimRun(scope: FirmScope, id: string, claim: string, now: Date): Promise<boolean> {
  const taken = await scope
    .updateTable("import_file")
    .set({ claim, beat_at: now })
    .where("id", "=", id)
    .where("state", "=", "running")
    .returning("id")
    .executeTakeFirst();
  return taken !== undefined;
}

/** Tells how far a run is. @returns whether to stop; null where another server has the run */
export async function tellRun(
  scope: FirmScope,
  id: string,
  claim: string,
  report: ImportReport,
  now: Date,
): Promise<boolean | null> {
  const told = await scope
    .updateTable("import_file")
    .set({ report: JSON.stringify(report), beat_at: now })
    .where("id", "=", id)
    .where("claim", "=", claim)
    .where("state", "=", "running")
    .returning("stop_asked")
    .executeTakeFirst();
  return told?.stop_asked ?? null;
}

/** Ends a run as its report says. @returns whether it was this one's to end */
export async function endRun(
  scope: FirmScope,
  id: string,
  claim: string | null,
  report: ImportReport,
): Promise<boolean> {
  const ended = await scope
    .updateTable("import_file")
    .set({ report: JSON.stringify(report), state: report.state })
    .where("id", "=", id)
    .where("claim", claim === null ? "is" : "=", claim)
    .where("state", "=", "running")
    .returning("id")
    .executeTakeFirst();
  return ended !== undefined;
}

export async function askToStop(scope: FirmScope, id: string): Promise<void> {
  await scope.updateTable("import_file").set({ stop_asked: true }).where("id", "=", id).execute();
}

/** Lets a file go, whatever is done with it just now: a run that finds it gone stops. */
export async function forgetFile(scope: FirmScope, id: string): Promise<void> {
  await scope.deleteFrom("import_file").where("id", "=", id).execute();
}
