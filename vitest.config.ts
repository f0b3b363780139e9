import { defineConfig } from "vitest/config";
import { compileMessages } from "./scripts/lib/messages.mjs";

compileMessages("app/messages");

/** Tests speak English where they do not say otherwise. */
const setupFiles = ["tests/english.ts"];

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: "core",
          setupFiles,
          maxWorkers: 2,
          // What they import is read once for all of them, as on the server.
          isolate: false,
          include: ["core/**/*.test.ts", "app/**/*.test.ts", "tests/cli/**/*.test.ts"],
          // Nothing here waits for time to pass: a limit only ends what hangs.
          testTimeout: 180_000,
        },
      },
      {
        test: {
          name: "server",
          setupFiles,
          // One at a time: they share a cluster.
          maxWorkers: 1,
          isolate: false,
          include: ["server/**/*.test.ts", "tests/server/**/*.test.ts"],
          globalSetup: ["tests/cluster.ts"],
          testTimeout: 180_000,
          hookTimeout: 180_000,
          expect: { poll: { timeout: 60_000 } },
        },
      },
      {
        test: {
          name: "browser",
          setupFiles,
          // And these a screen besides.
          maxWorkers: 1,
          isolate: false,
          include: ["tests/browser/**/*.test.ts"],
          globalSetup: ["tests/cluster.ts"],
          testTimeout: 600_000,
          hookTimeout: 300_000,
          // However busy the machine is: what is polled for only has to come.
          expect: { poll: { timeout: 60_000 } },
          fileParallelism: false,
        },
      },
    ],
  },
});
