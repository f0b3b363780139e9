/**
 * PART=judging npm run mutate: how many small faults, put into one part of the core at a time, its tests
 * find. The parts stand in parts.mjs; a report is left in .stryker/.
 */
import { PART, PARTS } from "./parts.mjs";

export default {
  testRunner: "vitest",
  plugins: ["@stryker-mutator/vitest-runner"],
  vitest: { configFile: "scripts/mutate/vitest.config.ts", related: false },
  mutate: [...PARTS[PART].mutate, "!core/**/*.test.ts", "!core/**/*.fixtures.ts"],
  coverageAnalysis: "perTest",
  // Tables of constants are held by the tests of what is worked out from them.
  ignoreStatic: true,
  concurrency: 2,
  timeoutMS: 15_000,
  reporters: ["clear-text", "json", "progress-append-only"],
  jsonReporter: { fileName: `.stryker/${PART}.json` },
  clearTextReporter: { allowColor: false, reportTests: false },
  tempDirName: ".stryker/tmp",
};
