import { spawn } from "node:child_process";
import { describe, expect, it } from "vitest";
import { VERBS } from "#core/verbs";

/** The core's command line as a stream: npm run -s core -- VERB. */
function core(
  words: string[],
  input: string | string[],
): Promise<{ code: number | null; lines: Record<string, unknown>[]; out: string; said: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ["--import", "tsx", "scripts/core.ts", ...words]);
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
    expect(lines[0]).toMatchObject({ saturation: { full: { corrected: expect.closeTo(0.066, 3) } } });
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
    expect(Math.abs((lines[0]?.ph as number) - 7.4)).toBeLessThan(0.01);
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
        still: true,
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
    // Every verb says it of itself; the way through the command line is one for all.
    for (const [name, verb] of Object.entries(VERBS)) {
      expect(verb.help).toMatch(new RegExp(`^${name}: `));
      expect(Object.keys(verb.schema)).toEqual(["input", "output"]);
      expect(verb.schema.input).toHaveProperty("properties");
    }
    expect((await core(["balance", "--help"], "")).out).toBe(`${VERBS.balance.help}\n`);
    expect(JSON.parse((await core(["learn", "--schema"], "")).out)).toEqual(
      JSON.parse(JSON.stringify(VERBS.learn.schema)),
    );
    for (const words of [["guess"], ["balance", "--loud"], []]) {
      const { code, said } = await core(words, "");
      expect(code).toBe(2);
      expect(said).toMatch(/^usage/);
    }
  });

  it("judges readings by what they can be, and says what water they make", async () => {
    const reading = (quantity: string, value: number, more = {}) => ({ quantity, value, ...more });
    const { lines } = await core(
      ["judge"],
      `\uFEFF${[
        {
          readings: [
            reading("ph", 8, { bound: "at-least", high: null }),
            reading("totalAlkalinity", 80, { low: 70, high: 80 }),
            reading("calciumHardness", 1200, { daysAgo: 28 }),
          ],
          basin: { kind: "pool", surface: "plaster" },
          rangeSet: "public-code",
        },
        { readings: [reading("ph", 7.5), reading("freeChlorine", 2)], basin: {}, rangeSet: "held-by-hocl" },
        {
          readings: [reading("ph", 7.5), reading("freeChlorine", 4), reading("salt", 1200)],
          rangeSet: "salt-cell",
        },
        { readings: [reading("ph", 7.5), reading("bromine", 0)], rangeSet: "public-code" },
        { readings: [reading("totalAlkalinity", 100)] },
        { readings: [reading("ph", 7.5), reading("freeChlorine", 3)], look: ["floor-hidden"] },
        { readings: [reading("ph", 7.5), reading("freeChlorine", 3)], look: ["haunted"] },
        { readings: [reading("pH", 7.5)] },
        { readings: [reading("ph", 7.5, { low: 7.6 })] },
        { readings: [reading("ph", 7.5), reading("ph", 7.6)] },
        { readings: [reading("ph", 7.5)], basin: { sort: "spa" } },
        { readings: "7.5" },
      ]
        .map((line) => JSON.stringify(line))
        .join("\n")}`,
    );
    const [bounded, held, salt, bromine, unread, unseen, ...wrong] = lines;
    expect(bounded).toMatchObject({
      closed: true,
      because: ["ph.high"],
      standing: { ph: "at-least", calciumHardness: "carried", cyanuricAcid: "assumed" },
      water: { ph: 8, calciumHardness: 1200, cyanuricAcid: 30 },
      saturation: null,
    });
    expect(((bounded?.findings ?? []) as { code: string }[]).map(({ code }) => code)).toEqual([
      "ph.high",
      "calciumHardness.high",
    ]);
    expect(bounded?.findings).toContainEqual(
      expect.objectContaining({ code: "calciumHardness.high", daysAgo: 28 }),
    );
    expect(held).toMatchObject({
      // Low, and over what closes: 2 mg/L where there is stabiliser.
      closed: false,
      open: false,
      bathing: { state: "care", because: [{ code: "off", finding: "freeChlorine.low" }] },
      ranges: { freeChlorine: { low: expect.closeTo(2.23, 1) } },
    });
    expect(salt).toMatchObject({ open: true, findings: [{ code: "salt.low" }] });
    expect(bromine).toMatchObject({ closed: true, because: ["bromine.low"] });
    expect(unread).toMatchObject({ closed: false, open: false, bathing: { state: "untested" } });
    expect(unseen).toMatchObject({ closed: true, because: [], bathing: { because: [{ code: "seen" }] } });
    expect(
      wrong.map(({ error }) => `${(error as { field: string }).field} ${(error as { code: string }).code}`),
    ).toEqual([
      "look.0 unknown",
      "readings.0.quantity unknown",
      "readings.0.low too-high",
      "readings.1.quantity inconsistent",
      "basin.sort unknown",
      "readings malformed",
    ]);
  });

  it("works out one dose, in grams and in what is poured, with what it does besides", async () => {
    const line = (part: object) =>
      JSON.stringify({
        product: "sodium-bicarbonate",
        strength: 1,
        litres: 10_000,
        quantity: "totalAlkalinity",
        from: 80,
        to: 90,
        ...part,
      });
    const { lines } = await core(
      ["dose"],
      [
        line({}),
        line({
          product: "hydrochloric-acid",
          strength: 0.3145,
          litres: 38_000,
          quantity: "ph",
          from: 8,
          to: 7.4,
          water: {
            totalAlkalinity: 100,
            calciumHardness: 300,
            cyanuricAcid: 30,
            freeChlorine: 2,
            temperature: 26,
          },
        }),
        line({ to: 70 }),
        line({ litres: "many" }),
        line({ from: 5000 }),
        line({ quantity: "salt" }),
        line({ water: { ph: 2 } }),
        line({ water: { totalAlkalinity: 70 } }),
        line({ product: "hydrochloric-acid", strength: 0.3, quantity: "ph", from: 8, to: 5.5 }),
        line({ grams: 5 }),
      ].join("\n"),
    );
    // 10 mg/L in 10 m³ are 100 g of CaCO3, 1.998 eq: 1.998 × 84.007 = 167.9 g
    expect(lines[0]).toMatchObject({ grams: expect.closeTo(167.9, 1), portions: { count: 1 } });
    expect(lines[0]?.everyday).toMatchObject({ metric: { parts: [{ amount: 170, unit: "g" }] } });
    expect(lines[1]).toMatchObject({ after: { ph: expect.closeTo(7.4, 6) } });
    expect(((lines[1]?.sideEffects ?? {}) as { totalAlkalinity?: number }).totalAlkalinity).toBeCloseTo(
      -6.9,
      0,
    );
    expect(
      lines
        .slice(2)
        .map(({ error }) => `${(error as { field: string }).field} ${(error as { code: string }).code}`),
    ).toEqual([
      "product inconsistent",
      "litres not-a-number",
      "from too-high",
      "quantity unknown",
      "water.ph too-low",
      "water.totalAlkalinity inconsistent",
      "to too-low",
      "grams unknown",
    ]);
  });

  it("plans only for what was read, tells every water on the way, and takes aims of one's own", async () => {
    const products = [
      "hydrochloric-acid",
      "sodium-bicarbonate",
      "cyanuric-acid",
      "dichlor",
      "sodium-hypochlorite",
    ];
    const line = (part: object) =>
      JSON.stringify({
        still: true,
        water: { ph: 7.5, totalAlkalinity: 100 },
        basin: { litres: 40_000 },
        products,
        ...part,
      });
    const full = { ph: 8.1, totalAlkalinity: 150, calciumHardness: 250, cyanuricAcid: 40, freeChlorine: 3 };
    const { lines } = await core(
      ["plan"],
      [
        line({}),
        line({ water: full }),
        line({
          water: { ...full, totalAlkalinity: 100, ph: 7.6 },
          aims: { ph: 7.4, totalAlkalinity: { low: 80, high: 95, aim: 90 } },
        }),
        line({ aims: { ph: { low: 7.6, high: 7.4 } } }),
        line({ aims: { pH: 7.4 } }),
        line({ water: { ph: 7.5, totalAlkalinity: 100, calcium: 300 } }),
        line({ limits: { mostReplaced: 2 } }),
        line({ limits: { aeration: "yes" } }),
        line({ products: [{ product: "dichlor", strength: 5 }] }),
        line({ basin: { litres: 40_000, volume: 3 } }),
        line({ water: { ph: 7.5 } }),
      ].join("\n"),
    );
    type Answer = {
      plans: {
        amounts: object;
        steps: unknown[];
        way: { step: number; ph: number }[];
        predicted: { pH: { value: number } };
      }[];
    };
    const plans = lines.slice(0, 3).map((one) => (one as Answer).plans[0]);
    expect(lines[0]).toMatchObject({ leftAlone: ["calciumHardness", "cyanuricAcid", "freeChlorine"] });
    expect(plans[0]).toMatchObject({ amounts: {}, steps: [], way: [], settled: true });
    const way = plans[1]?.way ?? [];
    expect(way.length).toBeGreaterThan(2);
    for (const { ph } of way) expect(ph).toBeGreaterThanOrEqual(6.8);
    expect(way.at(-1)?.ph).toBeCloseTo(plans[1]?.predicted.pH.value ?? 0, 6);
    expect(plans[2]?.predicted.pH.value).toBeCloseTo(7.4, 3);
    expect(
      lines
        .slice(3)
        .map(({ error }) => `${(error as { field: string }).field} ${(error as { code: string }).code}`),
    ).toEqual([
      "aims.ph.low inconsistent",
      "aims.pH unknown",
      "water.calcium unknown",
      "limits.mostReplaced too-high",
      "limits.aeration malformed",
      "products.0.strength too-high",
      "basin.volume unknown",
      "water.totalAlkalinity missing",
    ]);
  }, 60_000);

  it("goes on after a line of nested brackets, wherever they stand, and says back no more than it must", async () => {
    const nested = (depth: number) => "[".repeat(depth) + "]".repeat(depth);
    const { code, lines } = await core(
      ["balance"],
      [
        "[".repeat(200_000),
        nested(100_000),
        `{"ph":${nested(100_000)},"totalAlkalinity":100,"calciumHardness":300}`,
        `{"ph":7.5,"totalAlkalinity":{"a":${nested(50_000)}},"calciumHardness":300}`,
        `{"ph":"${"7".repeat(5000)}","totalAlkalinity":100,"calciumHardness":300}`,
        WATER,
      ].join("\n"),
    );
    expect(code).toBe(0);
    expect(lines).toHaveLength(6);
    expect(lines.slice(0, 5).map(({ error }) => (error as { field: string }).field)).toEqual([
      "line",
      "line",
      "ph",
      "totalAlkalinity",
      "ph",
    ]);
    for (const line of lines.slice(0, 5)) expect(JSON.stringify(line).length).toBeLessThan(400);
    expect(lines[5]).toHaveProperty("saturation");
  });
});
