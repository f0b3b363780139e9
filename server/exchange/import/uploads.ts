import { createWriteStream } from "node:fs";
import { mkdtemp, rm, stat } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { InputFault } from "#core";
import { note } from "../../db/audit";
import { asFirm, type Database } from "../../db/connection";
import { importBookFile } from "./book-file";
import { constraintFault, faultAt, rowFault } from "./fault";
import { Cancelled, Importing, type ImportReport } from "./importing";
import { guessMapping, isOwnCsv, type Mapping } from "./mapping";
import { type TableForm, tableForm } from "./table";
import { importTable } from "./table-file";

/** Files that were sent and wait to be looked over, tried and put in; kept on the disk for an hour. */

export const MOST_FILE_BYTES = 300_000_000;
const KEPT_MS = 3_600_000;
/** Files that wait at a time, of one firm. */
const MOST_WAITING = 4;

export interface Upload {
  id: string;
  firmId: string;
  memberId: string;
  name: string;
  bytes: number;
  /** Null for our own JSON. */
  table: (TableForm & { own: boolean; guess: Mapping }) | null;
  path: string;
  folder: string;
  importing: Importing | null;
  sentAt: number;
}

/** One web process holds them in memory; a restart forgets what was not put in. */
export class Uploads {
  private readonly waiting = new Map<string, Upload>();

  constructor(private readonly db: Database) {}

  find(id: string, firmId: string): Upload | undefined {
    const upload = this.waiting.get(id);
    return upload?.firmId === firmId ? upload : undefined;
  }

  /**
   * Takes a file in, and looks at its beginning.
   * @throws InputFault when it is too large, empty, or no table and no JSON
   */
  async take(
    {
      id,
      firmId,
      memberId,
      name,
      fahrenheit,
    }: Pick<Upload, "id" | "firmId" | "memberId" | "name"> & { fahrenheit: boolean },
    body: ReadableStream<Uint8Array>,
  ): Promise<Upload> {
    await this.tidy(firmId);
    const folder = await mkdtemp(join(tmpdir(), "pelagon-import-"));
    const path = join(folder, "file");
    try {
      let bytes = 0;
      await pipeline(
        Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]),
        new Transform({
          transform(chunk: Buffer, _, done) {
            bytes += chunk.length;
            if (bytes > MOST_FILE_BYTES)
              done(new InputFault("too-high", "fileBytes", bytes, MOST_FILE_BYTES));
            else done(null, chunk);
          },
        }),
        createWriteStream(path),
      );
      bytes = (await stat(path)).size;
      if (bytes === 0) throw new InputFault("missing", "file", undefined);
      const upload: Upload = {
        id,
        firmId,
        memberId,
        name,
        bytes,
        table: await this.look(path, name, fahrenheit),
        path,
        folder,
        importing: null,
        sentAt: Date.now(),
      };
      this.waiting.set(id, upload);
      return upload;
    } catch (fault) {
      await rm(folder, { recursive: true, force: true });
      throw fault;
    }
  }

  private async look(path: string, name: string, fahrenheit: boolean): Promise<Upload["table"]> {
    if (/\.json$/i.test(name)) return null;
    const form = await tableForm(path);
    if (form.heading[0]?.startsWith("{")) return null;
    return {
      ...form,
      own: isOwnCsv(form.heading),
      guess: guessMapping(form.heading, form.sample, fahrenheit),
    };
  }

  /** Begins to try a file, or to put it in; goes on by itself. */
  begin(upload: Upload, mapping: Mapping | null, dry: boolean, now: Date): ImportReport {
    if (upload.importing?.report.state === "running") throw new InputFault("changed", "import", upload.name);
    const importing = new Importing(upload.firmId, upload.memberId, now, upload.bytes, dry);
    upload.importing = importing;
    void this.run(upload, importing, mapping);
    return importing.report;
  }

  private async run(upload: Upload, importing: Importing, mapping: Mapping | null): Promise<void> {
    const { dry } = importing.report;
    try {
      // All of it or nothing: one fault anywhere takes the whole back.
      await asFirm(this.db, upload.firmId, async (scope) => {
        if (upload.table)
          await importTable(
            scope,
            importing,
            upload.path,
            upload.table,
            upload.table.own || !mapping ? "own" : mapping,
          );
        else await importBookFile(scope, importing, upload.path);
        if (importing.faultCount > 0) throw new Refused();
        if (!dry)
          await note(scope, importing, "book-imported", null, {
            name: upload.name,
            count: importing.report.fresh,
          });
      });
      importing.end("done");
    } catch (fault) {
      const broken = constraintFault(fault);
      if (fault instanceof Refused) return importing.end("refused");
      if (fault instanceof Cancelled) return importing.end("cancelled");
      if (broken) importing.fault(broken);
      else if (fault instanceof InputFault) importing.fault(faultAt(null, "", fault));
      else
        importing.fault(rowFault(null, "file", "malformed", fault instanceof Error ? fault.message : fault));
      importing.end(broken || fault instanceof InputFault ? "refused" : "failed");
    }
  }

  async forget(upload: Upload): Promise<void> {
    upload.importing?.stop();
    this.waiting.delete(upload.id);
    await rm(upload.folder, { recursive: true, force: true });
  }

  /** Old ones go, and of a firm that has too many the oldest. */
  private async tidy(firmId: string): Promise<void> {
    const idle = [...this.waiting.values()].filter((one) => one.importing?.report.state !== "running");
    const own = idle.filter((one) => one.firmId === firmId);
    const many = own.slice(0, Math.max(0, own.length - MOST_WAITING + 1));
    const old = idle.filter((one) => Date.now() - one.sentAt > KEPT_MS);
    for (const upload of new Set([...old, ...many])) await this.forget(upload);
  }
}

/** Something was wrong with the file; what it was stands in the report. */
class Refused extends Error {}
