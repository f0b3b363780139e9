import { Piscina } from "piscina";
import { IMPORTS_AT_A_TIME } from "#server/jobs/boss";
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
  return {
    ahead: (problem) => quick.run(problem, { name: "ahead" }),
    recipe: (id, given) => quick.run({ id, given }, { name: "recipe" }),
    learn: (log) => long.run(log, { name: "learn" }),
    hold: (bases) => (bases.length === 0 ? Promise.resolve([]) : long.run(bases, { name: "hold" })),
    cardPdf: (card) => quick.run({ card, language: spoken().language }, { name: "cardPdf" }),
    pdf: (sheet) => quick.run({ sheet, language: spoken().language }, { name: "pdf" }),
    importFile: (job, signal) => files.run(job, { name: "importFile", transferList: [job.port], signal }),
    async close() {
      await Promise.all([quick.destroy(), long.destroy(), files.destroy()]);
    },
  };
}
