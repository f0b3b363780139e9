import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import * as core from "#core";

it("docs/api.md tells of every public function of the core, and of no other: npm run docs", () => {
  const told = [...readFileSync("docs/api.md", "utf8").matchAll(/^## (\w+)\(\)$/gm)].map(([, name]) => name);
  const isClass = (value: unknown) => /^class\b/.test(Function.prototype.toString.call(value));
  const functions = Object.entries(core).flatMap(([name, value]) =>
    typeof value === "function" && !isClass(value) ? [name] : [],
  );
  expect(told.toSorted()).toEqual(functions.toSorted());
});
