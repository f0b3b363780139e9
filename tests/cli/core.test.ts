import { spawn } from "node:child_process";
import { describe, expect, it } from "vitest";

/** The core's command line as a stream: npm run -s core -- VERB. */
function core(
  words: string[],
  input: string | string[],
): Promise<{ code: number | null; lines: Record<string, unknown>[]; out: string; said: string }> {
  return new Promise((resolve) => {
    const child = spawn("node_modules/.bin/tsx", ["scripts/core.ts", ...words]);
    let out = "";
    let said = "";
    child.stdout.on("data", (chunk) => (out += chunk));
    child.stderr.on("data", (chunk) => (said += chunk));
    child.on("exit", (code) => {
      const lines =
        words.length === 1 && code === 0
          ? out
              .trim()
              .split("\n")
              .map((line) => JSON.parse(line))
          : [];
      resolve({ code, lines, out, said });
    });
    for (const part of [input].flat()) child.stdin.write(part);
    child.stdin.end();
  });
}

const WATER = '{"ph":7.5,"totalAlkalinity":100,"calciumHardness":300,"cyanuricAcid":30,"freeChlorine":3}';

describe("the command line", () => {
  it("answers line by line, in order, and goes on after a bad one", async () => {
    const { code, lines } = await core(
      ["balance"],
      [
        `${WATER}\n`,
        '{"ph":7.5,"totalAlk\n',
        `${WATER.slice(0, 20)}`,
        `${WATER.slice(20)}\n\n`,
        `{"note":"${"x".repeat(10_000_000)}"}\n`,
        '{"ph":2,"totalAlkalinity":100,"calciumHardness":300}\n',
        "[1,2]\n",
        '{"ph":7.5,"totalAlkalinity":"a lot","calciumHardness":300}\n',
        '{"ph":7.5,"totalAlkalinity":null,"calciumHardness":300}\n',
        '{"ph":7.5,"totalAlkalinity":15,"calciumHardness":300,"cyanuricAcid":100}\n',
        `${WATER}`,
      ],
    );
    expect(code).toBe(0);
    const errors = lines.map(
      (line) => line.error as { code: string; field: string; limit?: unknown } | undefined,
    );
    expect(errors.map((error) => error && `${error.field} ${error.code}`)).toEqual([
      undefined,
      "line malformed",
      undefined,
      "line too-long",
      "ph too-low",
      "line malformed",
      "totalAlkalinity not-a-number",
      "totalAlkalinity missing",
      "totalAlkalinity inconsistent",
      undefined,
    ]);
    expect(errors[4]?.limit).toBe(5);
    expect(lines[0]).toEqual(lines[9]);
    expect(lines[0]).toMatchObject({ assumed: { temperature: 25, totalDissolvedSolids: 1000, borate: 0 } });
    expect(lines[0]).toMatchObject({ saturation: { full: { corrected: expect.closeTo(0.053, 3) } } });
  });

  it("works out an effect, and names the fault in a list by its place", async () => {
    const water =
      '"water":{"ph":8,"totalAlkalinity":100,"calciumHardness":300,"cyanuricAcid":30,"freeChlorine":2,"temperature":26}';
    const acid = (part: string) =>
      `{${water},"litres":38000,"additions":[{"product":"hydrochloric-acid",${part}}]}\n`;
    const { lines } = await core(
      ["effect"],
      [
        acid('"strength":0.3145,"grams":592'),
        acid('"strength":3,"grams":592'),
        acid('"strength":0.3145,"grams":-1'),
        `{${water},"litres":0,"additions":[]}\n`,
        `{${water},"litres":38000,"additions":[{"product":"snake-oil","strength":1,"grams":1}]}\n`,
        '{"litres":38000,"additions":[]}\n',
        `{"water":{"ph":2,"totalAlkalinity":100,"calciumHardness":300},"litres":38000}\n`,
      ],
    );
    expect(lines[0]?.ph).toBeCloseTo(7.4, 2);
    const errors = lines.slice(1).map((line) => line.error as { code: string; field: string });
    expect(errors.map(({ field, code }) => `${field} ${code}`)).toEqual([
      "additions.0.strength too-high",
      "additions.0.grams too-low",
      "litres too-low",
      "additions.0.product unknown",
      "water missing",
      "water.ph too-low",
    ]);
  });

  it("converts by method, by factor and from an own kit", async () => {
    const { lines } = await core(
      ["convert"],
      [
        '{"method":"free-chlorine-fas-dpd","sample":25,"count":23}\n',
        '{"factor":10,"count":9}\n',
        '{"normality":0.1,"dropVolume":0.05,"equivalentWeight":50.04,"sample":25,"count":9}\n',
        '{"method":"free-chlorine-fas-dpd","sample":0,"count":23}\n',
        '{"count":23}\n',
      ],
    );
    expect(lines[0]).toEqual({ value: 4.6, unit: "mg/L", low: 4.4, high: 4.6, bound: "within", factor: 0.2 });
    expect(lines[1]).toMatchObject({ value: 90, low: 80 });
    expect(lines[2]).toMatchObject({ value: 90.072, factor: 10.008 });
    expect(lines[3]).toMatchObject({ error: { field: "sample", code: "unknown", limit: [25, 10] } });
    expect(lines[4]).toMatchObject({ error: { field: "method", code: "missing" } });
  });

  it("plans for all readings at once, the same every time, and names the fault in a shelf", async () => {
    const water = {
      ph: 8.1,
      totalAlkalinity: 150,
      calciumHardness: 180,
      cyanuricAcid: 20,
      freeChlorine: 0.5,
    };
    const line = (change: object) =>
      JSON.stringify({
        water,
        basin: { litres: 40_000 },
        products: ["hydrochloric-acid", "calcium-chloride", { product: "dichlor", pricePerKg: 9.6 }],
        ...change,
      });
    const input = [
      line({}),
      line({ products: ["fairy-dust"] }),
      line({ products: [{ product: "dichlor", strength: 3 }] }),
      line({ basin: { litres: 0 } }),
      line({ rangeSet: "grandfather" }),
      line({ limits: { mostReplaced: 2 } }),
      line({ water: { ...water, ph: 2 } }),
      line({}),
    ].join("\n");
    const answers = (await core(["plan"], input)).out
      .trim()
      .split("\n")
      .map((answer) => JSON.parse(answer));
    const [first, ...rest] = answers;
    expect(first.plans[0].name).toBe("balanced");
    const { predicted, steps } = first.plans[0];
    expect(predicted.pH.value).toBeGreaterThan(7.2);
    expect(predicted.pH.value).toBeLessThan(7.8);
    for (const reading of Object.values(predicted) as { value: number; low: number; high: number }[])
      if (reading.low !== undefined) expect(reading.low).toBeLessThan(reading.high);
    expect(steps.map((step: { kind: string }) => step.kind)).toContain("retest");
    expect(rest.slice(0, 6).map((answer) => answer.error?.field)).toEqual([
      "products.0.product",
      "products.0.strength",
      "basin.litres",
      "rangeSet",
      "limits.mostReplaced",
      "water.ph",
    ]);
    expect(rest[6]).toEqual(first);
  });

  it("tells how it is called, and refuses what it is not", async () => {
    for (const verb of ["convert", "balance", "effect"]) {
      expect((await core([verb, "--help"], "")).out).toMatch(new RegExp(`^${verb}: `));
      const schema = JSON.parse((await core([verb, "--schema"], "")).out);
      expect(Object.keys(schema)).toEqual(["input", "output"]);
      expect(schema.input.properties).toBeDefined();
    }
    for (const words of [["guess"], ["balance", "--loud"], []]) {
      const { code, said } = await core(words, "");
      expect(code).toBe(2);
      expect(said).toMatch(/^usage/);
    }
  });
});
