import { createWriteStream } from "node:fs";
import { mkdtemp, readdir, rm, stat } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { MessageChannel } from "node:worker_threads";
import { millisecondsInHour } from "date-fns/constants";
import { v7 as uuid } from "uuid";
import { isUnavailable } from "../db/away";
import { asFirm, type Database } from "../db/connection";
import { chunkOf, claimRun, endRun, fileOf, tellRun } from "../db/import-files";
import { rowFault } from "../exchange/import/fault";
import { begun, type ImportReport } from "../exchange/import/importing";
import type { Workbench } from "../work/workbench";

/** A file tried, or put in, by whichever server takes the job; how far it is stands in the database. */

export interface ImportOrder {
  firmId: string;
  fileId: string;
}

class WentAway extends Error {}

/** A file of the largest size takes a fifth of it. */
export const LONGEST_IMPORT_SECONDS = 15 * 60;
/** How often it is told how far an import is, and looked whether to stop. */
const TELL_MS = 400;
const FOLDER = "pelagon-import-";

/**
 * Does one run of a file, all of it or nothing. A run that ended already is left alone, and one that another server
 * took over meanwhile leaves nothing behind: what it wrote goes with its transaction.
 * @param isLast it is not tried again, whatever happens: then it has failed, and says so
 * @throws what kept it from being done, where it is tried again
 */
export async function runImport(
  db: Database,
  databaseUrl: string,
  work: Pick<Workbench, "importFile">,
  { firmId, fileId }: ImportOrder,
  now: () => Date,
  isLast: boolean,
): Promise<void> {
  const inFirm = <T>(does: Parameters<typeof asFirm<T>>[2]) => asFirm(db, firmId, does);
  const claim = uuid();
  const file = await inFirm(async (scope) =>
    (await claimRun(scope, fileId, claim, now())) ? fileOf(scope, fileId) : undefined,
  );
  if (!file) return;
  const folder = await mkdtemp(join(tmpdir(), FOLDER));
  const abort = new AbortController();
  const late = setTimeout(() => abort.abort(), LONGEST_IMPORT_SECONDS * 1000);
  const { port1: here, port2: port } = new MessageChannel();
  const report = begun(file.dry);
  here.on("message", (told: ImportReport) => Object.assign(report, told));
  let isOthers = false;
  const tell = async () => {
    if (report.state !== "running") return;
    // A database that is away for a moment is told the next time.
    const stop = await inFirm((scope) => tellRun(scope, fileId, claim, report, now())).catch(() => false);
    if (stop) here.postMessage("stop");
    if (stop !== null) return;
    isOthers = true;
    abort.abort();
  };
  const telling = setInterval(() => void tell(), TELL_MS);
  try {
    const path = join(folder, "file");
    await pipeline(Readable.from(piecesOf(db, firmId, fileId)), createWriteStream(path));
    const { id, memberId, name, bytes, table, mapping, dry } = file;
    const job = { databaseUrl, firmId, memberId, now: now(), name, path, bytes, table, mapping, dry, port };
    if (await work.importFile({ ...job, run: { fileId: id, claim } }, abort.signal))
      throw new WentAway("The database went away, and nothing of the file is in.");
  } catch (fault) {
    if (isOthers) return;
    // The queue does it again, and whoever waits sees it begin anew.
    if (!isLast && (fault instanceof WentAway || isUnavailable(fault))) throw fault;
    // The thread is gone, and with its connection all that it had written.
    const minutes = LONGEST_IMPORT_SECONDS / 60;
    report.faults.push(
      abort.signal.aborted
        ? rowFault(null, "file", "too-high", `${minutes} min`, minutes)
        : rowFault(null, "file", "malformed", fault instanceof Error ? fault.message : fault),
    );
    report.faultCount++;
    report.state = "failed";
    await inFirm((scope) => endRun(scope, fileId, claim, report));
  } finally {
    clearInterval(telling);
    clearTimeout(late);
    here.close();
    await rm(folder, { recursive: true, force: true });
  }
}

async function* piecesOf(db: Database, firmId: string, fileId: string): AsyncGenerator<Buffer> {
  for (let position = 0; ; position++) {
    const piece = await asFirm(db, firmId, (scope) => chunkOf(scope, fileId, position));
    if (!piece) return;
    yield piece;
  }
}

/** Removes what a process that died left behind: files that no run can be reading any more. */
export async function clearLeftBehind(now: number = Date.now()): Promise<void> {
  for (const name of await readdir(tmpdir()))
    if (name.startsWith(FOLDER)) {
      const folder = join(tmpdir(), name);
      const found = await stat(folder).catch(() => null);
      if (found && now - found.mtimeMs > 2 * millisecondsInHour)
        await rm(folder, { recursive: true, force: true });
    }
}
