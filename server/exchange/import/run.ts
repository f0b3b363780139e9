import type { MessagePort } from "node:worker_threads";
import { InputFault } from "#core";
import { note } from "../../db/audit";
import { isUnavailable } from "../../db/away";
import { asFirm, openDatabase } from "../../db/connection";
import { endRun } from "../../db/import-files";
import { importBookFile } from "./book-file";
import { constraintFault, faultAt, rowFault } from "./fault";
import { Cancelled, Importing, type ImportReport, type ImportState } from "./importing";
import type { Mapping } from "./mapping";
import type { TableForm } from "./table";
import { importTable } from "./table-file";

/** One file on its way in, in a thread of its own and by a connection of its own. */

export interface ImportJob {
  databaseUrl: string;
  firmId: string;
  memberId: string;
  now: Date;
  name: string;
  path: string;
  bytes: number;
  /** Null for our own JSON. */
  table: (TableForm & { own: boolean }) | null;
  mapping: Mapping | null;
  dry: boolean;
  /** Whose run it is, see `import_file`. */
  run: { fileId: string; claim: string };
  /** Hears `ImportReport`s as it goes; any word that comes back stops it. */
  port: MessagePort;
}

/** Something was wrong with the file; what it was stands in the report. */
class Refused extends Error {}

/**
 * Tries a file or puts it in, all of it or nothing; how it ends is the last report.
 * @returns whether it has to be done again: the database went away, and nothing of it is there
 */
export async function importFile(job: ImportJob): Promise<boolean> {
  const { port, dry, run } = job;
  const importing = new Importing(job, (report: ImportReport) => port.postMessage(report));
  port.on("message", () => importing.stop());
  const db = openDatabase(job.databaseUrl, 1);
  const end = (state: ImportState) => {
    importing.end(state);
    return asFirm(db, job.firmId, (scope) => endRun(scope, run.fileId, run.claim, importing.report));
  };
  try {
    await asFirm(db, job.firmId, async (scope) => {
      if (job.table)
        await importTable(
          scope,
          importing,
          job.path,
          job.table,
          job.table.own || !job.mapping ? "own" : job.mapping,
        );
      else await importBookFile(scope, importing, job.path);
      if (importing.faultCount > 0) throw new Refused();
      if (!dry)
        await note(scope, importing, "book-imported", null, {
          name: job.name,
          count: importing.report.fresh,
        });
      // With the rows themselves: either both are there, or neither, and of two servers one.
      const done = { ...importing.report, state: "done" as const, share: 1 };
      if (!(await endRun(scope, run.fileId, run.claim, done))) throw new Cancelled();
    });
    importing.end("done");
    return false;
  } catch (fault) {
    if (isUnavailable(fault)) return true;
    const broken = constraintFault(fault);
    if (fault instanceof Refused) await end("refused");
    else if (fault instanceof Cancelled) await end("cancelled");
    else {
      if (broken) importing.fault(broken);
      else if (fault instanceof InputFault) importing.fault(faultAt(null, "", fault));
      else
        importing.fault(rowFault(null, "file", "malformed", fault instanceof Error ? fault.message : fault));
      await end(broken || fault instanceof InputFault ? "refused" : "failed");
    }
    return false;
  } finally {
    await db.destroy();
    port.close();
  }
}
