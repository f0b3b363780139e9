import { Piscina } from "piscina";
import { IMPORTS_AT_A_TIME } from "#server/jobs/boss";
import { timed, watchThreads, workSeconds } from "#server/metrics";
import { firmAsking } from "#server/request-id";
import { Crowded, fairQueue } from "#server/work/fair-queue";
import type { Workbench } from "#server/work/workbench";
import { spoken } from "../words";

/** Threads for what a page waits for; what takes long, and files, have their own. */
const QUICK = 2;
/** Threads for learning. */
const LONG = 2;
/** Work of one firm that waits for a thread at most; more than that is for later. */
const MOST_WAITING = 64;
/** Seconds after which to ask again. */
const RETRY_AFTER = "5";
/** A thread that nobody needed for so long is let go. Milliseconds */
const IDLE_MS = 60_000;

/** The workbench of this process. `file` is the bundled worker, or its source where there is no build. */
export function openWorkbench(file: string): Workbench {
  const setting = {
    filename: file,
    minThreads: 0,
    idleTimeout: IDLE_MS,
    ...(file.endsWith(".ts") ? { execArgv: ["--import", "tsx"] } : {}),
  };
  const quick = new Piscina({ ...setting, maxThreads: QUICK });
  const long = new Piscina({ ...setting, maxThreads: LONG });
  const files = new Piscina({ ...setting, maxThreads: IMPORTS_AT_A_TIME });
  const done = <Made>(name: string, work: () => Promise<Made>): Promise<Made> =>
    timed(workSeconds, { kind: name }, work);
  // Of firms that want threads at once each has one in turn.
  const turns = fairQueue(QUICK, MOST_WAITING);
  const inTurn = async <Made>(name: string, given: unknown): Promise<Made> => {
    try {
      return await done(name, () => turns.take(firmAsking() ?? "", () => quick.run(given, { name })));
    } catch (fault) {
      if (!(fault instanceof Crowded)) throw fault;
      throw new Response(fault.message, { status: 503, headers: { "Retry-After": RETRY_AFTER } });
    }
  };
  watchThreads(() => ({ quick: turns.size(), long: long.queueSize, files: files.queueSize }));
  return {
    ahead: (problem) => inTurn("ahead", problem),
    recipe: (id, given) => inTurn("recipe", { id, given }),
    learn: (log) => done("learn", () => long.run(log, { name: "learn" })),
    hold: (bases) =>
      bases.length === 0 ? Promise.resolve([]) : done("hold", () => long.run(bases, { name: "hold" })),
    cardPdf: (card) => inTurn("cardPdf", { card, language: spoken().language }),
    letter: (sheet, links) => inTurn("letter", { sheet, links }),
    pdf: (sheet, pictures) => inTurn("pdf", { sheet, pictures, language: spoken().language }),
    importFile: (job, signal) =>
      done("importFile", () => files.run(job, { name: "importFile", transferList: [job.port], signal })),
    async close() {
      await Promise.all([quick.destroy(), long.destroy(), files.destroy()]);
    },
  };
}
