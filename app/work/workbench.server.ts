import { Piscina } from "piscina";
import { IMPORTS_AT_A_TIME } from "#server/jobs/boss";
import { timed, watchThreads, workSeconds } from "#server/metrics";
import type { Workbench } from "#server/work/workbench";
import { spoken } from "../words";

/** Threads for what a page waits for; what takes long, and files, have their own. */
const QUICK = 2;
/** Threads for learning. */
const LONG = 2;
/** Work that waits for a thread at most; more than that is for later. */
const MOST_WAITING = 64;
/** A thread that nobody needed for so long is let go. Milliseconds */
const IDLE_MS = 60_000;

/** The workbench of this process. `file` is the bundled worker, or its source where there is no build. */
export function openWorkbench(file: string): Workbench {
  const setting = {
    filename: file,
    minThreads: 0,
    idleTimeout: IDLE_MS,
    maxQueue: MOST_WAITING,
    ...(file.endsWith(".ts") ? { execArgv: ["--import", "tsx"] } : {}),
  };
  const quick = new Piscina({ ...setting, maxThreads: QUICK });
  const long = new Piscina({ ...setting, maxThreads: LONG });
  const files = new Piscina({ ...setting, maxThreads: IMPORTS_AT_A_TIME });
  watchThreads(() => ({ quick: quick.queueSize, long: long.queueSize, files: files.queueSize }));
  const done = <Made>(pool: Piscina, name: string, given: unknown, more: object = {}): Promise<Made> =>
    timed(workSeconds, { kind: name }, () => pool.run(given, { name, ...more }));
  return {
    ahead: (problem) => done(quick, "ahead", problem),
    recipe: (id, given) => done(quick, "recipe", { id, given }),
    learn: (log) => done(long, "learn", log),
    hold: (bases) => (bases.length === 0 ? Promise.resolve([]) : done(long, "hold", bases)),
    cardPdf: (card) => done(quick, "cardPdf", { card, language: spoken().language }),
    pdf: (sheet) => done(quick, "pdf", { sheet, language: spoken().language }),
    importFile: (job, signal) => done(files, "importFile", job, { transferList: [job.port], signal }),
    async close() {
      await Promise.all([quick.destroy(), long.destroy(), files.destroy()]);
    },
  };
}
