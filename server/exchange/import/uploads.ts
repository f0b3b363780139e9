import { createWriteStream } from "node:fs";
import { mkdtemp, readdir, rm, stat } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { MessageChannel } from "node:worker_threads";
import { millisecondsInHour } from "date-fns/constants";
import { InputFault } from "#core";
import type { Workbench } from "../../work/workbench";
import { rowFault } from "./fault";
import { begun, type ImportReport } from "./importing";
import { guessMapping, isOwnCsv, type Mapping } from "./mapping";
import { type TableForm, tableForm } from "./table";

/** Files that were sent and wait to be looked over, tried and put in; kept on the disk for an hour. */

export const MOST_FILE_BYTES = 300_000_000;
const KEPT_MS = millisecondsInHour;
/** Files that wait at a time, of one firm. */
const MOST_WAITING = 4;
/** Files that are tried or put in at a time, of all firms; each has a thread and a connection. */
export const MOST_UNDER_WAY = 2;
/** A file of the largest size takes a fifth of it. */
const LONGEST_MS = 15 * 60_000;
const FOLDER = "pelagon-import-";

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
  importing: { report: ImportReport; stop: () => void; abort: () => void } | null;
  sentAt: number;
}

/** One web process holds them in memory; a restart forgets what was not put in. */
export class Uploads {
  private readonly waiting = new Map<string, Upload>();

  constructor(
    private readonly databaseUrl: string,
    private readonly work: Pick<Workbench, "importFile">,
  ) {}

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
    const folder = await mkdtemp(join(tmpdir(), FOLDER));
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

  /**
   * Begins to try a file, or to put it in; it goes on beside.
   * @throws InputFault while another of the firm is under way, or too many are on the whole
   */
  begin(upload: Upload, mapping: Mapping | null, dry: boolean, now: Date): ImportReport {
    const underWay = [...this.waiting.values()].filter((one) => one.importing?.report.state === "running");
    if (underWay.some((one) => one.firmId === upload.firmId))
      throw new InputFault("changed", "import", upload.name);
    if (underWay.length >= MOST_UNDER_WAY)
      throw new InputFault("too-high", "imports", underWay.length + 1, MOST_UNDER_WAY);
    const { firmId, memberId, name, path, bytes, table } = upload;
    const { port1: here, port2: port } = new MessageChannel();
    const report = begun(dry);
    here.on("message", (told: ImportReport) => Object.assign(report, told));
    const abort = new AbortController();
    const late = setTimeout(() => abort.abort(), LONGEST_MS);
    const job = {
      databaseUrl: this.databaseUrl,
      firmId,
      memberId,
      now,
      name,
      path,
      bytes,
      table,
      mapping,
      dry,
      port,
    };
    upload.importing = { report, stop: () => here.postMessage("stop"), abort: () => abort.abort() };
    void this.work
      .importFile(job, abort.signal)
      .catch((fault) => {
        // The thread is gone, and with its connection all that it had written.
        report.faults.push(
          abort.signal.aborted
            ? rowFault(null, "file", "too-high", `${LONGEST_MS / 60_000} min`, LONGEST_MS / 60_000)
            : rowFault(null, "file", "malformed", fault instanceof Error ? fault.message : fault),
        );
        report.faultCount++;
        report.state = "failed";
      })
      .finally(() => {
        clearTimeout(late);
        // What was told last may still be on its way.
        setTimeout(() => here.close(), 1000).unref();
      });
    return report;
  }

  async forget(upload: Upload): Promise<void> {
    upload.importing?.abort();
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

  /** Lets go of all files, at the end of the process. */
  async close(): Promise<void> {
    for (const upload of [...this.waiting.values()]) await this.forget(upload);
  }
}

/** Removes what a process that died left behind: files that nobody can be waiting for any more. */
export async function clearLeftBehind(now: number = Date.now()): Promise<void> {
  for (const name of await readdir(tmpdir()))
    if (name.startsWith(FOLDER)) {
      const folder = join(tmpdir(), name);
      const found = await stat(folder).catch(() => null);
      if (found && now - found.mtimeMs > 2 * KEPT_MS) await rm(folder, { recursive: true, force: true });
    }
}
