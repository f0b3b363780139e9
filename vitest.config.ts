import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: "core",
          include: ["core/**/*.test.ts", "app/**/*.test.ts", "tests/cli/**/*.test.ts"],
          testTimeout: 30_000,
        },
      },
      {
        test: {
          name: "server",
          include: ["server/**/*.test.ts", "tests/server/**/*.test.ts"],
          globalSetup: ["tests/cluster.ts"],
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
      {
        test: {
          name: "browser",
          include: ["tests/browser/**/*.test.ts"],
          globalSetup: ["tests/cluster.ts"],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
