import Ajv from "ajv";
import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf, VERBS, type WeekSolver } from ".";

type Name = keyof typeof VERBS;
type Answer = Record<string, unknown> & {
  error?: { code: string; field: string; value?: unknown; limit?: unknown };
};

let solver: ReturnType<typeof solverOf>;
let highs: WeekSolver;
beforeAll(async () => {
  const loaded = await loadHighs();
  solver = solverOf(loaded as unknown as Highs);
  highs = loaded as unknown as WeekSolver;
});

const ask = (name: Name, input: unknown): Answer =>
  VERBS[name].answer(typeof input === "string" ? input : JSON.stringify(input), solver, highs) as Answer;
const refused = (name: Name, input: unknown): string => {
  const { error } = ask(name, input);
  return error ? `${error.field} ${error.code}` : "answered";
};
const WATER = { ph: 7.5, totalAlkalinity: 100, calciumHardness: 300, cyanuricAcid: 30, freeChlorine: 3 };
const ACID = { product: "hydrochloric-acid", strength: 0.3145, grams: 500 };

describe("every verb", () => {
  it.each(Object.keys(VERBS) as Name[])(
    "%s answers the example of its own help, within its schema",
    (name) => {
      const example = /\{[\s\S]*?\n(?= {2}[a-z]|answers)/.exec(VERBS[name].help)?.[0] ?? "";
      const lines = name === "convert" ? (example.match(/\{[^}]*\}/g) ?? []) : [example.replaceAll("…", "")];
      expect(lines.length).toBeGreaterThan(0);
      const ajv = new Ajv({ strict: false });
      for (const line of lines) {
        const answer = ask(name, line);
        expect(answer.error, line).toBeUndefined();
        expect(ajv.validate(VERBS[name].schema.input, JSON.parse(line)), ajv.errorsText()).toBe(true);
        // Salt and sulfate come back where they were given.
        for (const key of Object.keys(VERBS[name].schema.output.properties))
          if (key !== "salt" && key !== "sulfate") expect(answer, key).toHaveProperty(key);
      }
    },
  );

  it.each(Object.keys(VERBS) as Name[])(
    "%s refuses what is no object, and says back at most a little of it",
    (name) => {
      for (const line of ["", "null", "[]", "7", '"water"', "{", "[".repeat(50_000)]) {
        expect(refused(name, line)).toBe("line malformed");
        expect(JSON.stringify(ask(name, line)).length).toBeLessThan(400);
      }
    },
  );
});

describe("balance", () => {
  it("says what it assumed, and takes salt and sulfate where they are known", () => {
    const plain = ask("balance", { ph: 7.5, totalAlkalinity: 100, calciumHardness: 300 });
    expect(plain.assumed).toEqual({
      cyanuricAcid: 0,
      freeChlorine: 0,
      temperature: 25,
      totalDissolvedSolids: 1000,
      borate: 0,
    });
    const index = (more: object) =>
      (
        ask("balance", { ...WATER, totalDissolvedSolids: 3000, ...more }).saturation as {
          full: { corrected: number };
        }
      ).full.corrected;
    expect(index({ sulfate: 1000 })).toBeLessThan(index({}) - 0.1);
    expect(index({ salt: 6000 })).toBeLessThan(index({}));
    expect(refused("balance", { ...WATER, sulfate: -1 })).toBe("sulfate too-low");
    expect(refused("balance", { ...WATER, salt: "much" })).toBe("salt not-a-number");
    expect(refused("balance", { totalAlkalinity: 100, calciumHardness: 300 })).toBe("ph missing");
  });
});

describe("effect", () => {
  const line = (more: object) => ({ water: WATER, litres: 40_000, additions: [ACID], ...more });
  it("replaces first, doses, spends and airs last", () => {
    const fill = { ...WATER, calciumHardness: 100, freeChlorine: 0, cyanuricAcid: 0 };
    const plain = ask("effect", line({}));
    const replaced = ask("effect", line({ replaced: { fraction: 0.5, fill } }));
    expect(replaced.calciumHardness).toBeCloseTo(200, 6);
    expect(replaced.ph as number).toBeLessThan(7.5);
    const spent = ask("effect", line({ chlorineSpent: true }));
    expect(spent.freeChlorine).toBe(0);
    expect(spent.chlorideAdded as number).toBeGreaterThan(plain.chlorideAdded as number);
    expect(ask("effect", line({ aeratedTo: 1e-5 })).ph as number).toBeGreaterThan(8);
    expect(ask("effect", { water: WATER, litres: 40_000 }).ph).toBeCloseTo(7.5, 9);
  });
  it.each([
    [{ replaced: { fraction: 2, fill: WATER } }, "replaced.fraction too-high"],
    [{ replaced: { fraction: 0.5, fill: { ...WATER, ph: 3 } } }, "replaced.fill.ph too-low"],
    [{ replaced: { fraction: 0.5 } }, "replaced.fill missing"],
    [{ replaced: "half" }, "replaced malformed"],
    [{ aeratedTo: 5 }, "aeratedTo too-high"],
    [{ chlorineSpent: "yes" }, "chlorineSpent malformed"],
    [{ additions: "acid" }, "additions malformed"],
    [{ additions: ["acid"] }, "additions.0 malformed"],
    [{ additions: [ACID, { ...ACID, grams: "some" }] }, "additions.1.grams not-a-number"],
    [{ water: "wet" }, "water malformed"],
    [{ water: { ...WATER, totalAlkalinity: 3 } }, "water.totalAlkalinity inconsistent"],
  ])("names %o by what was sent: %s", (more, said) => {
    expect(refused("effect", line(more))).toBe(said);
  });
});

describe("plan of one still water", () => {
  const line = (more: object) => ({
    still: true,
    water: WATER,
    basin: { litres: 40_000 },
    products: ["hydrochloric-acid", "sodium-hypochlorite", { product: "sodium-bicarbonate", stock: 100 }],
    ...more,
  });
  const first = (more: object) => (ask("plan", line(more)).plans as Record<string, unknown>[])[0] ?? {};

  it("leaves alone what is in range and what is not known", () => {
    const unknown = ask("plan", line({ water: { ph: 7.5, totalAlkalinity: 100 } }));
    expect(unknown.leftAlone).toEqual(["calciumHardness", "cyanuricAcid", "freeChlorine"]);
    expect(unknown.assumed).toMatchObject({ cyanuricAcid: 30, calciumHardness: 250, freeChlorine: 0 });
    expect(first({ water: { ph: 7.5, totalAlkalinity: 100 } })).toMatchObject({
      amounts: {},
      way: [],
      warnings: [],
    });
    // In a spa and in a hall nobody puts stabiliser.
    for (const basin of [
      { litres: 2000, kind: "spa" },
      { litres: 90_000, outdoors: false },
    ])
      expect(ask("plan", line({ basin, water: { ph: 7.5, totalAlkalinity: 100 } })).assumed).toMatchObject({
        cyanuricAcid: 0,
      });
  });

  it("names two of one compound apart, heeds stock and says what to fetch", () => {
    const two = first({
      water: { ...WATER, ph: 8.2 },
      products: [
        { product: "hydrochloric-acid", strength: 0.157, pricePerKg: 0.1 },
        { product: "hydrochloric-acid", pricePerKg: 9 },
      ],
    });
    expect(Object.keys(two.amounts as object)).toEqual(["hydrochloric-acid"]);
    const dear = first({
      water: { ...WATER, ph: 8.2 },
      products: [
        { product: "hydrochloric-acid", strength: 0.157, pricePerKg: 9 },
        { product: "hydrochloric-acid", pricePerKg: 0.1 },
      ],
    });
    expect(Object.keys(dear.amounts as object)).toEqual(["hydrochloric-acid-2"]);
    const low = first({ water: { ...WATER, totalAlkalinity: 50 } });
    expect(low.warnings).toMatchObject([{ quantity: "totalAlkalinity", obstacle: "stock" }]);
    expect(low.fetch).toMatchObject([{ product: "sodium-bicarbonate" }]);
    expect(first({ water: { ...WATER, ph: 8.2 }, products: [] }).fetch).toMatchObject([
      { product: "hydrochloric-acid" },
    ]);
  });

  it("takes chlorine with stabiliser only when asked", () => {
    const weak = { water: { ...WATER, freeChlorine: 0.2, cyanuricAcid: 20 }, products: ["dichlor"] };
    expect(first(weak).amounts).toEqual({});
    expect(first({ ...weak, limits: { stabilisedChlorine: true } }).amounts).toHaveProperty("dichlor");
  });

  it("goes to aims of one's own, inside limits of one's own", () => {
    const at = (aims: object, water = WATER) =>
      first({ aims, water }).predicted as {
        pH: { value: number };
        totalAlkalinity: { value: number };
        freeChlorine: { value: number };
      };
    expect(at({ ph: 7.3 }).pH.value).toBeCloseTo(7.3, 3);
    expect(at({ freeChlorine: { aim: 6, high: 8 } }).freeChlorine.value).toBeCloseTo(6, 3);
    // Nearer to it than a test could tell is there already.
    expect(at({ ph: 7.45 }).pH.value).toBeCloseTo(7.5, 6);
    expect(refused("plan", line({ aims: { ph: { aim: 9 } } }))).toBe("aims.ph.aim too-high");
    expect(refused("plan", line({ aims: { ph: { aim: 7, low: 7.2 } } }))).toBe("aims.ph.aim too-low");
    expect(refused("plan", line({ aims: { ph: 20 } }))).toBe("aims.ph.aim too-high");
    expect(refused("plan", line({ aims: { ph: { middle: 7 } } }))).toBe("aims.ph.middle unknown");
    expect(refused("plan", line({ aims: 7 }))).toBe("aims malformed");
  });

  it.each([
    [{ basin: undefined }, "basin missing"],
    [{ basin: { litres: 5 } }, "basin.litres too-low"],
    [{ basin: { litres: 40_000, kind: "lake" } }, "basin.kind unknown"],
    [{ basin: { litres: 40_000, surface: "mud" } }, "basin.surface unknown"],
    [{ basin: { litres: 40_000, outdoors: "yes" } }, "basin.outdoors malformed"],
    [{ products: undefined }, "products missing"],
    [{ products: "acid" }, "products malformed"],
    [{ products: [{ product: "dichlor", colour: "white" }] }, "products.0.colour unknown"],
    [{ products: [{ product: "dichlor", pricePerKg: -1 }] }, "products.0.pricePerKg too-low"],
    [{ products: [{ product: "dichlor", stock: "some" }] }, "products.0.stock not-a-number"],
    [{ fill: { ph: 7, totalAlkalinity: 50, calciumHardness: 50, chlorine: 1 } }, "fill.chlorine unknown"],
    [{ fill: { ph: 2, totalAlkalinity: 50, calciumHardness: 50 } }, "fill.ph too-low"],
    [{ limits: { mostReplaced: 0.99 } }, "limits.mostReplaced too-high"],
    [{ limits: { stabilisedChlorine: 1 } }, "limits.stabilisedChlorine malformed"],
    [{ limits: { air: true } }, "limits.air unknown"],
    [{ freshFill: "yes" }, "freshFill malformed"],
    [{ rangeSet: "none" }, "rangeSet unknown"],
    [{ mood: "good" }, "mood unknown"],
  ])("refuses %o: %s", (more, said) => {
    expect(refused("plan", line(more))).toBe(said);
  });
});

describe("judge", () => {
  const judge = (readings: object[], more: object = {}) => ask("judge", { readings, ...more });
  it("tells certain, possible and carried apart", () => {
    const answer = judge([
      { quantity: "ph", value: 7.1, low: 7, high: 7.2 },
      { quantity: "totalAlkalinity", value: 80, low: 70, high: 80 },
      { quantity: "freeChlorine", value: 0.4, daysAgo: 60 },
    ]);
    expect(answer.findings).toMatchObject([
      { code: "ph.low", certain: true, closes: false },
      { code: "freeChlorine.low", certain: true, closes: false, daysAgo: 60 },
      { code: "totalAlkalinity.low", certain: false, closes: false },
    ]);
    expect(answer).toMatchObject({ closed: false, because: [], standing: { freeChlorine: "assumed" } });
    expect((answer.water as { freeChlorine: number }).freeChlorine).toBe(0);
  });
  it("gives the index where pH, alkalinity and hardness are there", () => {
    const readings = [
      { quantity: "ph", value: 7.5 },
      { quantity: "totalAlkalinity", value: 100 },
      { quantity: "calciumHardness", value: 300 },
      { quantity: "cyanuricAcid", value: 0 },
    ];
    const { full } = judge(readings).saturation as { full: { corrected: number } };
    expect(full.corrected).toBeCloseTo(0.109, 2);
    expect(judge(readings.slice(1)).saturation).toBeNull();
    expect(
      judge([
        { quantity: "totalAlkalinity", value: 10 },
        { quantity: "cyanuricAcid", value: 200 },
      ]).possible,
    ).toBe(false);
  });
  it("knows the place: the ranges of a surface, warm water in a spa", () => {
    const low = [{ quantity: "calciumHardness", value: 180 }];
    const codes = (basin: object) =>
      (judge(low, { basin }).findings as { code: string }[]).map(({ code }) => code);
    expect(codes({ surface: "plaster" })).toEqual(["calciumHardness.low"]);
    expect(codes({ surface: "vinyl" })).toEqual([]);
    expect(judge(low, { basin: { kind: "spa" } }).water).toMatchObject({ temperature: 37, cyanuricAcid: 0 });
  });
  it.each([
    [{ readings: undefined }, "readings missing"],
    [{ readings: [7] }, "readings.0 malformed"],
    [{ readings: [{ quantity: "ph" }] }, "readings.0.value missing"],
    [{ readings: [{ quantity: "ph", value: 20 }] }, "readings.0.value too-high"],
    [{ readings: [{ quantity: "ph", value: 7, high: 6 }] }, "readings.0.high too-low"],
    [{ readings: [{ quantity: "ph", value: 7, bound: "about" }] }, "readings.0.bound unknown"],
    [{ readings: [{ quantity: "ph", value: 7, daysAgo: -1 }] }, "readings.0.daysAgo too-low"],
    [{ readings: [{ quantity: "ph", value: 7, unit: "pH" }] }, "readings.0.unit unknown"],
    [{ rangeSets: "x" }, "rangeSets unknown"],
  ])("refuses %o: %s", (more, said) => {
    expect(refused("judge", { readings: [], ...more })).toBe(said);
  });
});

describe("dose", () => {
  const line = (more: object) => ({
    product: "calcium-chloride",
    litres: 10_000,
    quantity: "calciumHardness",
    from: 200,
    to: 300,
    ...more,
  });
  it.each([
    // 100 mg/L in 10 m³: 1000 g of CaCO3, 9.991 mol × 110.98 / 0.77
    [{}, 1440],
    // 40 mg/L in 10 m³: 400 g / 0.99
    [{ product: "cyanuric-acid", quantity: "cyanuricAcid", from: 0, to: 40 }, 404],
    // 3 mg/L in 10 m³: 30 g / 0.65
    [{ product: "calcium-hypochlorite", quantity: "freeChlorine", from: 1, to: 4 }, 46.2],
    // half strength, twice the grams of full
    [
      { product: "hydrochloric-acid", strength: 0.15725, quantity: "totalAlkalinity", from: 120, to: 100 },
      926.8,
    ],
  ])("%o takes %d g", (more, grams) => {
    const answer = ask("dose", line(more));
    expect((answer.grams as number) / grams).toBeCloseTo(1, 2);
    expect(answer.sideEffects).not.toHaveProperty((line(more) as { quantity: string }).quantity);
  });
  it("splits what the water does not take at once, and says what it does besides", () => {
    const answer = ask("dose", line({ to: 1000 }));
    expect(answer.portions).toMatchObject({ count: 10 });
    const chlorine = ask(
      "dose",
      line({ product: "calcium-hypochlorite", quantity: "freeChlorine", from: 0, to: 10 }),
    );
    // about 7 of hardness for 10 of chlorine
    expect((chlorine.sideEffects as { calciumHardness: number }).calciumHardness).toBeCloseTo(7.06, 1);
    expect(chlorine.assumed).toMatchObject({ ph: 7.5, totalAlkalinity: 100 });
  });
  it.each([
    [{ product: "salt" }, "product unknown"],
    [{ product: undefined }, "product unknown"],
    [{ strength: 0 }, "strength too-low"],
    [{ from: undefined }, "from missing"],
    [{ to: 1e6 }, "to too-high"],
    [{ water: 7 }, "water malformed"],
    [{ water: { hardness: 7 } }, "water.hardness unknown"],
    [{ product: "trichlor", quantity: "ph", from: 7.2, to: 7.5 }, "product inconsistent"],
    [{ product: "sodium-carbonate", quantity: "ph", from: 7.8, to: 7.4 }, "product inconsistent"],
    [{ product: "hydrochloric-acid", quantity: "ph", from: 7.8, to: 6 }, "to too-low"],
  ])("refuses %o: %s", (more, said) => {
    expect(refused("dose", line(more))).toBe(said);
  });
});

describe("plan over the next calls", () => {
  const line = (more: object = {}) => ({
    water: { ...WATER, ph: 8, freeChlorine: 0.8 },
    basin: { litres: 40_000 },
    products: ["hydrochloric-acid", "sodium-hypochlorite"],
    calls: [3.5, 7],
    ...more,
  });

  it("answers pours with their times, what is promised, and the same each time", () => {
    const answer = ask("plan", line({ minutes: 45 }));
    const now = answer.now as { compound: string; begins: number; ends: number; after: { ph: number } }[];
    expect(now.map(({ compound }) => compound).sort()).toEqual(["hydrochloric-acid", "sodium-hypochlorite"]);
    expect((now[1]?.begins ?? 0) - (now[0]?.ends ?? 0)).toBeGreaterThanOrEqual(30);
    expect(answer.minutes).toBe(now.at(-1)?.ends);
    expect(answer.minutes).toBeLessThanOrEqual(45);
    const promised = answer.promised as { at: string; ph: { value: number; low: number; high: number } }[];
    expect(promised.map(({ at }) => at)).toEqual(["2026-06-05T00:00:00.000Z", "2026-06-08T12:00:00.000Z"]);
    for (const { ph } of promised) expect(ph.low < ph.value && ph.value < ph.high).toBe(true);
    expect(ask("plan", line({ minutes: 45 }))).toEqual(answer);
  });

  it("takes times, with now or without it, and habits as they are learned or as numbers", () => {
    const calls = ["2026-07-04T16:00:00Z", "2026-07-08T16:00:00Z"];
    const told = ask("plan", line({ calls, now: "2026-06-30T16:00:00Z" }));
    expect(ask("plan", line({ calls }))).toEqual(told);
    const figure = { value: 0.6, low: 0.5, high: 0.7 };
    const hungry = ask("plan", line({ habits: { chlorineLoss: figure, phRise: 0.06 } }));
    const calm = ask("plan", line({ habits: { chlorineLoss: 0.1, phRise: 0.06 } }));
    const chlorine = (answer: Record<string, unknown>) =>
      (answer.promised as { freeChlorine: { value: number } }[])[0]?.freeChlorine.value ?? 0;
    expect(chlorine(hungry)).toBeLessThan(chlorine(calm));
  });

  it.each([
    [{ minutes: 2 }, "minutes too-low"],
    [{ calls: ["tomorrow"] }, "calls.0 malformed"],
    [{ calls: ["2026-06-01T12:00:00Z"], now: "2026-06-02T12:00:00Z" }, "calls.0 too-low"],
    [{ calls: [70] }, "calls.0 too-high"],
    [
      { habits: { chlorineLoss: { value: 0.4, low: 0.5, high: 0.6 } } },
      "habits.chlorineLoss.value inconsistent",
    ],
    [{ habits: { thirst: 1 } }, "habits.thirst unknown"],
    [{ feeder: "drip" }, "feeder unknown"],
    [{ feeder: { kind: "saltCell", now: -1 } }, "feeder.now too-low"],
    [{ still: "yes" }, "still malformed"],
  ])("names %o by what was sent: %s", (more, said) => {
    expect(refused("plan", line(more))).toBe(said);
  });
});

describe("what was learned goes to the plan whole", () => {
  const day = (number: number) => new Date(Date.UTC(2026, 4, 1 + number, 15)).toISOString();
  const visits = Array.from({ length: 9 }, (_, index) => ({
    at: day(index * 4),
    readings: [
      { quantity: "freeChlorine", value: 1.4, low: 1.2, high: 1.4 },
      { quantity: "ph", value: 7.8, low: 7.7, high: 7.9 },
      { quantity: "totalAlkalinity", value: 110, low: 100, high: 110 },
      { quantity: "calciumHardness", value: 300, low: 290, high: 300 },
      { quantity: "cyanuricAcid", value: 40, low: 35, high: 45 },
      { quantity: "temperature", value: 26 },
    ],
    doses: [
      { product: "sodium-hypochlorite", grams: 800 },
      { product: "hydrochloric-acid", grams: 700 },
    ],
  }));
  const basin = { id: "b", litres: 40_000, visits };
  const learned = (more: object = {}) => {
    const { basins } = ask("learn", { now: day(33), basins: [{ ...basin, ...more }] });
    return (basins as { belief: Record<string, unknown>; habits: Record<string, unknown> }[])[0] as {
      belief: Record<string, unknown>;
      habits: Record<string, unknown>;
    };
  };
  const { belief, habits } = learned();
  const plan = (more: object) => ({
    water: { ...WATER, ph: 7.8, temperature: 26 },
    basin: { litres: 40_000, kind: "pool", surface: "plaster", outdoors: true },
    rangeSet: "outdoor-fixed-band",
    products: [
      { product: "sodium-hypochlorite", pricePerKg: 1.4 },
      { product: "hydrochloric-acid", pricePerKg: 1.1 },
    ],
    now: day(36),
    calls: [day(40), day(44)],
    ...more,
  });

  it("and back as it came, with the water of today", () => {
    const answer = ask("plan", plan({ belief }));
    expect(answer.error).toBeUndefined();
    const width = ({ promised }: Answer) => {
      const [{ ph }] = promised as [{ ph: { low: number; high: number } }];
      return ph.high - ph.low;
    };
    // A log makes the next pH surer than what is usual.
    expect(width(answer)).toBeLessThan(0.8 * width(ask("plan", plan({}))));
    expect(ask("plan", plan({ habits })).error).toBeUndefined();
    expect(answer.location).toEqual({ latitude: 40, longitude: 0 });
  });

  it("says where it takes the basin to be by the hour of now", () => {
    const night = ask("plan", plan({ now: "2026-06-06T02:00:00Z", calls: ["2026-06-10T02:00:00Z"] }));
    // Two in the morning by Greenwich is noon ten hours to the east.
    expect(night.location).toEqual({ latitude: 40, longitude: 150 });
  });

  it("with what its feeder was set to", () => {
    const settings = [
      { at: day(0), value: 1 },
      { at: day(16), value: 0.5 },
    ];
    expect(learned({ feeder: "pump", settings }).belief.setting).toBe(0.5);
    const refusedSetting = (one: object) =>
      refused("learn", { now: day(33), basins: [{ ...basin, settings: [one] }] });
    expect(refusedSetting({ at: day(0), value: -1 })).toBe("basins.0.settings.0.value too-low");
    expect(refusedSetting({ at: "then", value: 1 })).toBe("basins.0.settings.0.at malformed");
    expect(refusedSetting({ at: day(90), value: 1 })).toBe("basins.0.settings.0.at too-high");
  });

  const covariance = belief.covariance as number[][];
  it.each([
    [{ version: 0 }, "belief.version inconsistent"],
    [{ litres: 50_000 }, "belief.litres inconsistent"],
    [{ feeder: "pump" }, "belief.feeder inconsistent"],
    [{ outdoors: false }, "belief.outdoors inconsistent"],
    [{ at: day(90) }, "belief.at too-high"],
    [{ mean: [1, 2] }, "belief.mean malformed"],
    [{ names: ["alkalinity"] }, "belief.names inconsistent"],
    [{ covariance: covariance.slice(1) }, "belief.covariance malformed"],
    [
      { covariance: covariance.map((row, index) => (index === 2 ? row.map((one) => -one) : row)) },
      "belief.covariance.2.0 inconsistent",
    ],
    [
      {
        covariance: covariance.map((row, index) =>
          row.map((one, column) => (index === 12 && column === 12 ? -1 : one)),
        ),
      },
      "belief.covariance.12.12 too-low",
    ],
    [{ thirst: 1 }, "belief.thirst unknown"],
  ])("names a belief that is none for this basin, %#", (more, said) => {
    expect(refused("plan", plan({ belief: { ...belief, ...more } }))).toBe(said);
  });
});

describe("week", () => {
  const WATER_OF = { ...WATER, freeChlorine: 2 };
  const basin = (id: string, more: object = {}) => ({
    id,
    water: WATER_OF,
    basin: { litres: 40_000, kind: "pool" },
    products: ["sodium-hypochlorite", "hydrochloric-acid"],
    since: 3,
    most: 8,
    ...more,
  });
  const line = (basins: object[], more: object = {}) => ({
    from: "2026-06-01",
    basins,
    people: [{ id: "wren", hours: [300, 300, 300, 300, 300, 0, 0] }],
    turns: 2,
    ...more,
  });
  interface Drawn {
    calls: { day: string; person: string; basin: string }[];
    conflicts: object[];
    bound: number;
    worth: number;
  }

  it("calls at what does not last, on days that somebody works, and proves how good that is", () => {
    const { calls, bound, worth, conflicts } = ask(
      "week",
      line([
        basin("sunny"),
        basin("tub", { basin: { litres: 1500, kind: "spa" }, rangeSet: "spa-warm-water" }),
      ]),
    ) as unknown as Drawn;
    expect(conflicts).toEqual([]);
    expect(new Set(calls.map((call) => call.basin))).toEqual(new Set(["sunny", "tub"]));
    for (const { day } of calls) expect(["2026-06-06", "2026-06-07"]).not.toContain(day);
    expect(bound).toBeGreaterThanOrEqual(worth - 1e-6);
    expect(bound).toBeLessThan(1.05 * worth);
  });

  it("keeps as many calls as stand where no contract says how long a basin may be left", () => {
    const stands = ["2026-06-01", "2026-06-02", "2026-06-03", "2026-06-09"].map((day) => ({
      day,
      person: "wren",
      basin: "sunny",
    }));
    const drawn = (most: number | undefined) =>
      (ask("week", line([basin("sunny", { most })], { stands, minuteWorth: 1 })) as unknown as Drawn).calls;
    expect(drawn(undefined)).toHaveLength(3);
    expect(drawn(14).length).toBeLessThan(3);
  });

  it("says which rules do not hold together", () => {
    const answer = ask("week", line([basin("sunny", { fixed: [6] })])) as unknown as Drawn & {
      impossible: boolean;
    };
    expect(answer.impossible).toBe(true);
    expect(answer.conflicts).toMatchObject([
      {
        broken: { rule: "must", basin: "sunny", day: "2026-06-06" },
        against: [{ rule: "off", person: "wren" }],
      },
    ]);
  });

  it("names what it cannot take", () => {
    expect(refused("week", line([basin("a", { place: { latitude: 99, longitude: 0 } })]))).toBe(
      "basins.0.place.latitude too-high",
    );
    expect(refused("week", line([basin("a", { least: 5, most: 3 })]))).toBe("basins.0.most too-low");
    expect(refused("week", line([basin("a", { fixed: [8] })]))).toBe("basins.0.fixed.0 too-high");
    expect(refused("week", line([basin("a", { water: {} })]))).toBe("basins.0.water.ph missing");
    expect(refused("week", line([basin("a")], { days: 40 }))).toBe("days too-high");
    expect(refused("week", line([basin("a")], { people: [{ id: "wren", hours: [1] }] }))).toBe(
      "people.0.hours malformed",
    );
    expect(refused("week", line([basin("a")], { from: "2026-02-30" }))).toBe("from malformed");
    // Somebody without hours calls nowhere, and that is told.
    const idle = ask("week", line([basin("a")], { people: [{ id: "wren" }] })) as unknown as Drawn;
    expect(idle.calls).toEqual([]);
    expect(idle.conflicts.length).toBe(1);
  });
});
