/** The parts of the core, and the tests that hold each. */
export const PARTS = {
  water: {
    mutate: ["core/water/*.ts", "core/products/*.ts", "core/reading/*.ts"],
    tests: [
      "core/water/*.test.ts",
      "core/products/*.test.ts",
      "core/reading/*.test.ts",
      "core/dosing/edges.test.ts",
    ],
  },
  judging: {
    mutate: ["core/judging/**/*.ts", "core/ranges/**/*.ts"],
    tests: ["core/judging/**/*.test.ts", "core/reading/from-readings.test.ts"],
  },
  dosing: { mutate: ["core/dosing/*.ts"], tests: ["core/dosing/*.test.ts"] },
  plan: { mutate: ["core/dosing/plan/*.ts"], tests: ["core/dosing/plan/*.test.ts"] },
  measure: {
    mutate: ["core/measure/*.ts", "core/uncertainty/*.ts", "core/basin/*.ts"],
    tests: ["core/measure/*.test.ts", "core/uncertainty/*.test.ts", "core/basin/*.test.ts"],
  },
  recipes: { mutate: ["core/recipes/*.ts"], tests: ["core/recipes/*.test.ts"] },
  verbs: { mutate: ["core/verbs/*.ts"], tests: ["core/verbs/*.test.ts"] },
  testing: {
    mutate: ["core/testing/**/*.ts", "core/doubts/*.ts", "core/schedule/*.ts"],
    tests: ["core/testing/**/*.test.ts", "core/doubts/*.test.ts", "core/schedule/*.test.ts"],
  },
};

export const PART = process.env.PART ?? "judging";
if (!Object.hasOwn(PARTS, PART)) throw new Error(`PART is one of ${Object.keys(PARTS).join(", ")}`);
