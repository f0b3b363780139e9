import { defineConfig } from "vitest/config";
import { PART, PARTS } from "./parts.mjs";

/** The tests of one part; a few seeds of what is swept at length elsewhere. */
export default defineConfig({
  test: {
    include: PARTS[PART]?.tests ?? [],
    env: { PELAGON_PLAN_CASES: "6" },
    testTimeout: 120_000,
  },
});
