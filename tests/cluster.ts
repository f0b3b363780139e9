import type { TestProject } from "vitest/node";
import { throwAwayCluster } from "../scripts/lib/world.mjs";

declare module "vitest" {
  interface ProvidedContext {
    /** A role that may make databases in the throw-away cluster. */
    databaseUrl: string;
  }
}

/** One throw-away cluster for a project's tests; each file makes a database of its own in it. */
export default async function setup(project: TestProject): Promise<() => void> {
  const given = process.env.PELAGON_TEST_CLUSTER;
  if (given) {
    project.provide("databaseUrl", given);
    return () => {};
  }
  const cluster = await throwAwayCluster();
  project.provide("databaseUrl", cluster.url);
  return cluster.stop;
}
