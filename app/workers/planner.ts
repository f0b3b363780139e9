import { type Remote, wrap } from "comlink";
import type { PlannerWorker } from "./planner.worker";

let worker: { remote: Remote<PlannerWorker>; broken: Promise<never> } | null = null;

/** The planner's worker, kept for as long as the page: its solver is loaded once. */
function open() {
  if (worker) return worker;
  const made = new Worker(new URL("./planner.worker.ts", import.meta.url), { type: "module" });
  const broken = new Promise<never>((_, reject) => {
    made.addEventListener("error", () => {
      worker = null;
      reject(new Error("the planner's worker did not start"));
    });
  });
  broken.catch(() => {});
  worker = { remote: wrap<PlannerWorker>(made), broken };
  return worker;
}

/** A device whose worker takes longer than this leaves the work to the server. */
const PATIENCE_MS = 15_000;

/**
 * Asks the planner in its worker.
 * @throws when the worker cannot be had or takes too long; the server can do the same work
 */
export function askPlanner<T>(ask: (planner: Remote<PlannerWorker>) => Promise<T>): Promise<T> {
  const { remote, broken } = open();
  const late = new Promise<never>((_, reject) => {
    setTimeout(() => reject(new Error("the planner took too long")), PATIENCE_MS);
  });
  return Promise.race([ask(remote), broken, late]);
}
