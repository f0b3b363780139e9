import type { TestProject } from "vitest/node";
import type { Addresses } from "../scripts/lib/world.mjs";
import { throwAwayCluster } from "../scripts/lib/world.mjs";

declare module "vitest" {
  interface ProvidedContext {
    /** A role that may make databases in the throw-away cluster, and the one that serves pages in them. */
    database: Addresses;
  }
}

/** One throw-away cluster, of which tests kill processes, for a project's tests; each file makes a database of its own in it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const cluster = await throwAwayCluster({ keeps: true });
  project.provide("database", { url: cluster.url, ownerUrl: cluster.ownerUrl });
  return cluster.stop;
}
