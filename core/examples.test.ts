import ts from "typescript";
import { beforeAll, describe, expect, it } from "vitest";
import { exampleWorld } from "./examples.fixtures";

/** Each public function has an example in its docs, and what it says there is so. */

interface Example {
  name: string;
  expression: string;
  value: string;
}

/** The examples of the functions that the core's face exports, read from their docs. */
function examples(): { found: Example[]; without: string[] } {
  const file = `${import.meta.dirname}/index.ts`;
  const options = { moduleResolution: ts.ModuleResolutionKind.Bundler, module: ts.ModuleKind.ESNext };
  const program = ts.createProgram([file], { ...options, noEmit: true, skipLibCheck: true });
  const checker = program.getTypeChecker();
  const source = program.getSourceFile(file);
  const face = source && checker.getSymbolAtLocation(source);
  if (!face) throw new Error(`${file} exports nothing`);
  const found: Example[] = [];
  const without: string[] = [];
  for (const exported of checker.getExportsOfModule(face)) {
    const { name } = exported;
    const symbol = exported.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(exported) : exported;
    const isValue = symbol.flags & (ts.SymbolFlags.Function | ts.SymbolFlags.Variable);
    if (!isValue || checker.getTypeOfSymbol(symbol).getCallSignatures().length === 0) continue;
    const told = symbol.getJsDocTags(checker).filter((tag) => tag.name === "example");
    if (told.length === 0) without.push(name);
    for (const tag of told) {
      const [expression = "", value = ""] = ts.displayPartsToString(tag.text).split(" // ");
      found.push({ name, expression, value });
    }
  }
  return { found, without };
}

/** Numbers agree in the figures that are given; everything else to the letter. */
function agree(actual: unknown, told: unknown): void {
  if (typeof told === "number" && Number.isFinite(told) && typeof actual === "number") {
    const figures = `${told}`.replace(/^-?[0.]*|\.|e.*$/g, "").replace(/0+$/, "").length;
    expect(Number(actual.toPrecision(Math.max(3, figures)))).toBe(told);
  } else expect(actual).toEqual(told);
}

const { found, without } = examples();
let world: Record<string, unknown>;
beforeAll(async () => {
  world = await exampleWorld();
});

describe("the example of", () => {
  it("no public function is missing", () => {
    expect(without).toEqual([]);
    expect(found.length).toBeGreaterThan(100);
  });

  it.each(found)("$name holds: $expression", ({ expression, value }) => {
    const run = (code: string) =>
      new Function(...Object.keys(world), `return (${code})`)(...Object.values(world));
    agree(run(expression), run(value));
  });
});
