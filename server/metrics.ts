import type pg from "pg";
import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from "prom-client";

/** What is counted and timed, for whoever runs servers; told on a port of its own, see docs/operating.md. */

export const registry = new Registry();
const registers = [registry];

/** From what nobody notices to what nobody waits for. Seconds */
const PAGE_SECONDS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 15];
const WORK_SECONDS = [0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 15, 60, 300, 900];

export const requestSeconds = new Histogram({
  name: "pelagon_http_request_seconds",
  help: "Time to answer a request, by the route's pattern",
  labelNames: ["method", "route", "status"],
  buckets: PAGE_SECONDS,
  registers,
});

export const workSeconds = new Histogram({
  name: "pelagon_work_seconds",
  help: "Time of work done in a thread, its wait for one included",
  labelNames: ["kind", "outcome"],
  buckets: WORK_SECONDS,
  registers,
});

export const jobSeconds = new Histogram({
  name: "pelagon_job_seconds",
  help: "Time of a job of the queue on this server",
  labelNames: ["queue", "outcome"],
  buckets: WORK_SECONDS,
  registers,
});

export const jobsTakenOver = new Counter({
  name: "pelagon_jobs_taken_over_total",
  help: "Jobs that went back into the queue because their server fell silent",
  labelNames: ["queue"],
  registers,
});

export const syncedCommands = new Counter({
  name: "pelagon_sync_commands_total",
  help: "Commands that came from devices, by whether they were taken or refused, and why",
  labelNames: ["command", "outcome"],
  registers,
});

export const statements = new Counter({
  name: "pelagon_database_statements_total",
  help: "Times that the database was asked for something, the begin and the end of a transaction included",
  registers,
});

export const replicaReads = new Counter({
  name: "pelagon_replica_reads_total",
  help: "Reads that a replica may answer, by why it did not: behind, written (by the same session since), unknown, failed",
  labelNames: ["outcome"],
  registers,
});

export const braked = new Counter({
  name: "pelagon_braked_total",
  help: "Tries at accounts and links that were refused because there were too many",
  registers,
});

/** Does some work and keeps how long it took, by how it ended. */
export async function timed<Made>(
  histogram: Histogram<"outcome" | "kind" | "queue">,
  labels: Partial<Record<"kind" | "queue", string>>,
  work: () => Promise<Made>,
): Promise<Made> {
  const end = histogram.startTimer(labels);
  try {
    const made = await work();
    end({ outcome: "done" });
    return made;
  } catch (fault) {
    end({ outcome: "failed" });
    throw fault;
  }
}

/** The connections of a pool: in use, idle, and requests that wait for one. */
export function watchPool(pool: pg.Pool): void {
  new Gauge({
    name: "pelagon_database_connections",
    help: "Connections of the pages' pool; waiting are requests without one",
    labelNames: ["state"],
    registers,
    collect() {
      this.set({ state: "used" }, pool.totalCount - pool.idleCount);
      this.set({ state: "idle" }, pool.idleCount);
      this.set({ state: "waiting" }, pool.waitingCount);
    },
  });
}

const QUEUE = "pelagon_queue_jobs";

/**
 * Jobs of the queue that wait, are under way, or failed within a day; asked of the database with each scrape. A queue
 * that is started again is watched in place of the one before.
 */
export function watchQueue(counts: () => Promise<{ queue: string; state: string; count: number }[]>): void {
  registry.removeSingleMetric(QUEUE);
  new Gauge({
    name: QUEUE,
    help: "Jobs in the queue of all servers",
    labelNames: ["queue", "state"],
    registers,
    async collect() {
      this.reset();
      // A database that is away is seen elsewhere; the other figures are told all the same.
      for (const { queue, state, count } of await counts().catch(() => [])) this.set({ queue, state }, count);
    },
  });
}

/** What waits for a thread. */
export function watchThreads(waiting: () => Record<string, number>): void {
  new Gauge({
    name: "pelagon_threads_waiting",
    help: "Work that waits for a thread",
    labelNames: ["pool"],
    registers,
    collect() {
      for (const [pool, count] of Object.entries(waiting())) this.set({ pool }, count);
    },
  });
}

/** The process itself: processor, memory, garbage, lag of the event loop. */
export const watchProcess = (): void => collectDefaultMetrics({ register: registry });
