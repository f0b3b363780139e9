import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: "core",
          // Two at a time: nothing is shared. What follows shares a cluster and a screen.
          maxWorkers: 2,
          sequence: { groupOrder: 0 },
          include: ["core/**/*.test.ts", "app/**/*.test.ts", "tests/cli/**/*.test.ts"],
          // Nothing here waits for time to pass: a limit only ends what hangs.
          testTimeout: 180_000,
        },
      },
      {
        test: {
          name: "server",
          maxWorkers: 1,
          sequence: { groupOrder: 1 },
          include: ["server/**/*.test.ts", "tests/server/**/*.test.ts"],
          globalSetup: ["tests/cluster.ts"],
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
      {
        test: {
          name: "browser",
          maxWorkers: 1,
          sequence: { groupOrder: 1 },
          include: ["tests/browser/**/*.test.ts"],
          globalSetup: ["tests/cluster.ts"],
          testTimeout: 600_000,
          hookTimeout: 300_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
