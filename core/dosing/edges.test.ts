import { describe, expect, it } from "vitest";
import { findings } from "../judging/findings";
import type { Readings } from "../measure/quantity";
import {
  addTo,
  aerate,
  carbonDioxide,
  carbonDioxideAtRest,
  carbonDioxideShare,
  driveOut,
  effectOf,
  evaporate,
  spendChlorine,
  treat,
} from "../products/effects";
import { PRODUCTS, type ProductId } from "../products/products";
import { OUTDOOR_FIXED_BAND } from "../ranges/sets";
import { agreement, gramsByDemand } from "../reading/demand";
import {
  compareDemand,
  demandByDrops,
  demandByModel,
  demandEstimate,
  demandNotices,
  phByDemand,
} from "../reading/demand-model";
import { type DatedReading, waterFromReadings } from "../reading/from-readings";
import { readingsOf } from "../water/equilibrium";
import { carbonCharge, conditionsOf, type Sample, totalsOf } from "../water/sample";
import { POOL_WATER } from "../water/water.fixtures";
import { type Advice, adviseEach, BREAKPOINT_RATIO } from "./advice";
import { outcomeOf } from "./outcome";
import { onShelf } from "./plan/plan.fixtures";
import { gramsForChange, gramsForPh } from "./single";
import { amountsOf, whatIf } from "./what-if";

const of = (product: ProductId) => ({ product, strength: PRODUCTS[product].strength });
const made = (value: number): DatedReading => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  kind: "meter",
});
const RIGHT: Record<string, number> = {
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 300,
  cyanuricAcid: 40,
  freeChlorine: 3,
  combinedChlorine: 0.2,
  temperature: 26,
};
function advise(
  change: Record<string, number | undefined>,
  more: { shelf?: ProductId[]; fill?: number; bounded?: string } = {},
): Advice[] {
  const values = Object.entries({ ...RIGHT, ...change }).filter(([, value]) => value !== undefined);
  const readings = Object.fromEntries(
    values.map(([name, value]) => [name, made(value as number)]),
  ) as Readings;
  const known = waterFromReadings(readings as Record<string, DatedReading>, { kind: "pool", outdoors: true });
  return adviseEach({
    findings: findings(readings, OUTDOOR_FIXED_BAND, "plaster", known.water),
    readings,
    known,
    litres: 40_000,
    products: (more.shelf ?? ["sodium-hypochlorite", "hydrochloric-acid", "sodium-bicarbonate"]).map(of),
    ...(more.fill === undefined ? {} : { fill: { calciumHardness: more.fill } }),
  });
}

describe("a dose for one reading on its own", () => {
  it("waits for chlorine that is over, whatever is on the shelf", () => {
    expect(advise({ freeChlorine: 7 })).toMatchObject([
      { kind: "wait", aim: 3, finding: { code: "freeChlorine.high" } },
    ]);
  });
  it("covers low chlorine by the dose that burns off the combined", () => {
    const both = advise({ freeChlorine: 0.5, combinedChlorine: 1 });
    expect(both.map((one) => [one.finding.code, one.kind, one.kind === "none" ? one.reason : null])).toEqual([
      ["freeChlorine.low", "none", "covered"],
      ["combinedChlorine.high", "dose", null],
    ]);
    // 9.5 mg/L in 40 m³: 380 g of chlorine / (0.125 / 1.168)
    expect(both[1]).toMatchObject({ aim: BREAKPOINT_RATIO, grams: expect.closeTo(3550.7, 0) });
  });
  it("needs the free beside the combined, and waits where there is enough of it already", () => {
    expect(advise({ freeChlorine: undefined, combinedChlorine: 1 })).toMatchObject([
      { kind: "none", reason: "needs-free" },
    ]);
    const enough = advise({ freeChlorine: 10, combinedChlorine: 1 });
    expect(enough.find(({ finding }) => finding.code === "combinedChlorine.high")).toMatchObject({
      kind: "wait",
      aim: 10,
    });
  });
  it("sends acid after the pH, and none where that is low already", () => {
    expect(
      advise({ ph: 7.9, totalAlkalinity: 150 }).map((one) => (one.kind === "none" ? one.reason : one.kind)),
    ).toEqual(["after-ph", "dose"]);
    expect(
      advise({ ph: 7.1, totalAlkalinity: 150 }, { shelf: ["hydrochloric-acid", "sodium-carbonate"] }),
    ).toMatchObject([{ reason: "acid-conflict" }, { kind: "dose", product: "sodium-carbonate" }]);
    expect(advise({ ph: 7.2, totalAlkalinity: 150 })).toMatchObject([{ reason: "aerate-first" }]);
    expect(advise({ ph: 7.25, totalAlkalinity: 150 })).toMatchObject([{ reason: "aerate-first" }]);
    expect(advise({ ph: 7.26, totalAlkalinity: 150 })).toMatchObject([{ kind: "dose", limitedBy: "ph" }]);
    expect(advise({ ph: undefined, totalAlkalinity: 150 })).toMatchObject([{ reason: "needs-reading" }]);
  });
  it("lowers alkalinity as far as the pH goes, and tells how far that is", () => {
    const [part] = advise({ totalAlkalinity: 180 });
    if (part?.kind !== "dose") throw new Error("no dose");
    const whole = gramsForChange(of("hydrochloric-acid"), "totalAlkalinity", -80, 40_000);
    expect(part.aim).toBeCloseTo(180 - (80 * part.grams) / whole, 6);
  });
  it("replaces water for what only other water lowers", () => {
    expect(advise({ calciumHardness: 500 }, { fill: 400 })).toMatchObject([{ reason: "fill-no-better" }]);
    expect(advise({ calciumHardness: 500 }, { fill: 100 })).toMatchObject([
      { kind: "replace-water", fraction: 0.25, litres: 10_000, aim: 400 },
    ]);
    expect(advise({ calciumHardness: 500 })).toMatchObject([{ reason: "needs-reading" }]);
    expect(advise({ cyanuricAcid: 80 })).toMatchObject([{ kind: "replace-water", fraction: 0.375 }]);
  });
  it("says when readings fit no water, and when nothing is there", () => {
    expect(advise({ ph: 8, totalAlkalinity: 82, cyanuricAcid: 50 }, { shelf: [] })).toMatchObject([
      { reason: "no-product" },
    ]);
    expect(
      advise({ ph: 8, totalAlkalinity: 10, cyanuricAcid: 200 }).find(
        ({ finding }) => finding.code === "ph.high",
      ),
    ).toMatchObject({ reason: "needs-reading" });
  });
});

describe("drops beside the model", () => {
  const water: Sample = { ...POOL_WATER, ph: 8, cyanuricAcid: 30 };
  const exact = { low: 1, high: 1, deviation: 0 };
  const spreads = {
    ph: { low: 7.9, high: 8.1, deviation: 0 },
    totalAlkalinity: { ...exact, low: 100, high: 100, deviation: 0.05 },
    calciumHardness: exact,
    cyanuricAcid: { low: 30, high: 30, deviation: 0 },
    freeChlorine: exact,
  };
  const drops = (value: number) => ({
    ...made(value),
    unit: "meq/L" as const,
    low: value - 0.05,
    high: value,
  });

  it("adds each reading's own uncertainty in squares", () => {
    const at = (change: Partial<Sample>) => demandByModel({ ...water, ...change }, 7.4);
    const byPh = ((at({ ph: 8.0001 }) - at({})) / 1e-4) * (0.2 / Math.sqrt(12));
    const byAlkalinity = ((at({ totalAlkalinity: 100.01 }) - at({})) / 1e-2) * 5;
    const estimate = demandEstimate(water, spreads, 7.4);
    expect(estimate.deviation).toBeCloseTo(Math.hypot(byPh, byAlkalinity), 6);
    expect([estimate.low, estimate.high]).toEqual([
      estimate.value - 2 * estimate.deviation,
      estimate.value + 2 * estimate.deviation,
    ]);
  });
  it("takes a bare number where a count has no bracket", () => {
    expect(demandByDrops({ low: null, high: null, value: 0.2 })).toMatchObject({ value: 0.2 });
    const { deviation } = demandByDrops(drops(0.3));
    expect(deviation).toBeCloseTo(Math.hypot(0.05 / Math.sqrt(12), 0.275 * 0.05, 0.275 * 0.02), 9);
  });
  it("holds base drops against a base that the model asks for", () => {
    const sour = { ...water, ph: 7 };
    const base = compareDemand(sour, spreads, { baseDemand: drops(0.3) }, 7.4);
    expect(base?.quantity).toBe("baseDemand");
    expect(base?.byModel.value).toBeCloseTo(-demandByModel(sour, 7.4), 9);
    expect(base?.byModel.value).toBeGreaterThan(0);
    expect(compareDemand(water, spreads, {}, 7.4)).toBeNull();
    expect(
      compareDemand({ ...water, totalAlkalinity: 1 }, spreads, { acidDemand: drops(0.3) }, 7.4),
    ).toBeNull();
    expect(demandNotices(water, spreads, {}, 7.4)).toEqual([]);
    expect(demandNotices(water, spreads, { acidDemand: drops(9) }, 7.4)).toMatchObject([
      { code: "demand.disagrees", quantity: "acidDemand", byDrops: 8.975 },
    ]);
    expect(demandNotices(water, spreads, { acidDemand: drops(9) }, 7.4)[0]?.deviations).toBeLessThanOrEqual(
      99,
    );
  });
  it("finds the pH that asks for as much, on either side of the target", () => {
    const rest = { ...water };
    for (const ph of [6.6, 7.0, 7.9, 8.7])
      expect(phByDemand(rest, demandByModel({ ...water, ph }, 7.4), 7.4)).toBeCloseTo(ph, 4);
    expect(phByDemand(rest, 0, 7.4)).toBeCloseTo(7.4, 6);
    expect(phByDemand(rest, 50, 7.4)).toBeNull();
    expect(phByDemand({ ...rest, totalAlkalinity: 5, cyanuricAcid: 200 }, 0.3, 7.4)).toBeNull();
  });
  it("weighs amounts by their joint uncertainty", () => {
    const at = (value: number, deviation: number) => ({ value, deviation, low: 0, high: 0 });
    expect(agreement(at(10, 0), at(10, 0))).toMatchObject({ agree: true, deviations: 0, ratio: 1 });
    expect(agreement(at(10, 0), at(11, 0))).toMatchObject({
      agree: false,
      deviations: Number.POSITIVE_INFINITY,
    });
    expect(agreement(at(10, 3), at(20, 4))).toMatchObject({ agree: true, deviations: 2, ratio: 0.5 });
    expect(agreement(at(10, 3), at(20.1, 4)).agree).toBe(false);
    const acid = of("hydrochloric-acid");
    expect(() => gramsByDemand(2.5, 0.05, acid, 1000)).toThrow("drops: not-a-whole-number");
    expect(() => gramsByDemand(2, 0, acid, 1000)).toThrow("perDrop: too-low");
    expect(() => gramsByDemand(2, 0.05, acid, 1)).toThrow("litres: too-low");
    expect(gramsByDemand(0, 0.05, acid, 1000)).toEqual({ value: 0, deviation: 0, low: 0, high: 0 });
    expect(gramsByDemand(1, 0.05, acid, 1000).low).toBe(0);
  });
});

describe("what is done to a water", () => {
  const totals = totalsOf(POOL_WATER);
  it("counts its dissolved solids and its chloride", () => {
    // 1 kg of 99 % bicarbonate in 10 m³: 99 mg/L; 1 kg of 77 % calcium chloride: 6.94 mol, two chlorides each
    expect(
      addTo(totals, [{ ...of("sodium-bicarbonate"), grams: 1000 }], 10_000).totals.totalDissolvedSolids,
    ).toBeCloseTo(1099, 6);
    expect(addTo(totals, [{ ...of("calcium-chloride"), grams: 1000 }], 10_000).chloride).toBeCloseTo(
      (2 * 770) / 110.98 / 10_000,
      9,
    );
    const reduced = addTo(totals, [{ ...of("sodium-thiosulfate"), grams: 100 }], 40_000);
    expect(reduced.chloride).toBeCloseTo(totals.chlorine - reduced.totals.chlorine, 15);
    expect(reduced.chloride).toBeGreaterThan(0);
    expect(() => addTo(totals, [], 0)).toThrow("litres: too-low");
    expect(() => addTo(totals, [{ ...of("dichlor"), strength: 9, grams: 1 }], 1000)).toThrow(
      "additions.0.strength: too-high",
    );
  });
  it("comes in the order replaced, dosed, aired", () => {
    const fill = totalsOf({ ...POOL_WATER, calciumHardness: 100, freeChlorine: 0 });
    const { totals: after } = treat(
      totals,
      {
        replaced: { fraction: 0.5, fill },
        additions: [{ ...of("calcium-chloride"), grams: 1000 }],
        drivenOut: 1e-5,
      },
      40_000,
    );
    const read = readingsOf(after);
    // (300 + 100) / 2 and 770 g / 110.98 × 100.09 / 40 m³
    expect(read.calciumHardness).toBeCloseTo(200 + 17.36, 1);
    expect(after.inorganicCarbon).toBeCloseTo((totals.inorganicCarbon + fill.inorganicCarbon) / 2 - 1e-5, 12);
    expect(treat(totals, { additions: [] }, 40_000).totals).toEqual(totals);
  });
  it("knows how much of the carbon is dissolved CO2", () => {
    const { k1, k2 } = conditionsOf(totals);
    const h = 10 ** -7.5;
    expect(carbonDioxideShare({ k1, k2 }, h)).toBeCloseTo(1 / (1 + k1 / h + (k1 * k2) / h ** 2), 15);
    expect(carbonDioxideShare({ k1, k2: 1e-3 }, 1e-3)).toBeCloseTo(1 / (1 + 2 * (k1 / 1e-3)), 9);
    expect(driveOut(totals, 0)).toBe(totals);
    expect(driveOut(totals, -1)).toBe(totals);
    const all = driveOut(totals, totals.inorganicCarbon * 2);
    expect(carbonDioxide(all)).toBeCloseTo(carbonDioxideAtRest(25), 12);
    expect(() => aerate(totals, 1)).toThrow("carbonDioxide: too-high");
    expect(() => aerate({ ...totals, alkalinity: -0.5 }, 1e-5)).toThrow("carbonDioxide: inconsistent");
  });
  it("spends and evaporates within reason", () => {
    expect(spendChlorine(totals).chlorine).toBe(0);
    expect(() => spendChlorine(totals, 2)).toThrow("share: too-high");
    expect(() => evaporate(totals, totals, 0.3, 1)).toThrow("perDay: too-high");
    expect(() => evaporate(totals, totals, 0.01, -1)).toThrow("days: too-low");
    expect(evaporate(totals, totals, 0.01, 10).totalDissolvedSolids).toBeCloseTo(1100, 9);
    const spent = effectOf({ water: POOL_WATER, litres: 1000, additions: [], chlorineSpent: true });
    expect(spent.chlorideAdded).toBeCloseTo(1.5, 9); // 3 mg/L as Cl2 is half as much of chloride
  });
});

describe("an amount for one reading", () => {
  it("is nothing for no change, and refuses what moves the other way or not at all", () => {
    expect(gramsForChange(of("sodium-bicarbonate"), "totalAlkalinity", 0, 1000)).toBe(0);
    expect(() => gramsForChange(of("sodium-bicarbonate"), "totalAlkalinity", -5, 1000)).toThrow(
      "product: inconsistent",
    );
    expect(() => gramsForChange(of("sodium-bicarbonate"), "calciumHardness", 5, 1000)).toThrow(
      "product: inconsistent",
    );
    expect(() => gramsForChange(of("sodium-bicarbonate"), "totalAlkalinity", 9000, 1000)).toThrow(
      "change: too-high",
    );
    expect(() => gramsForChange(of("sodium-bicarbonate"), "totalAlkalinity", 5, 1)).toThrow(
      "litres: too-low",
    );
  });
  it("brings a base up and an acid down to the very pH, and nothing where it is there", () => {
    for (const [id, from, to] of [
      ["sodium-carbonate", 7.1, 7.6],
      ["sodium-bicarbonate", 7.1, 7.3],
      ["borax", 7.2, 7.6],
      ["sodium-bisulfate", 8.2, 7.4],
    ] as const) {
      const water = { ...POOL_WATER, ph: from };
      const grams = gramsForPh(of(id), water, to, 10_000);
      expect(grams).toBeGreaterThan(10);
      expect(effectOf({ water, litres: 10_000, additions: [{ ...of(id), grams }] }).ph, id).toBeCloseTo(
        to,
        6,
      );
    }
    expect(
      gramsForPh(of("hydrochloric-acid"), POOL_WATER, readingsOf(totalsOf(POOL_WATER)).ph, 1000),
    ).toBeCloseTo(0, 6);
    for (const id of ["calcium-chloride", "cyanuric-acid", "sodium-hypochlorite", "dichlor"] as const)
      expect(() => gramsForPh(of(id), POOL_WATER, 7.4, 1000)).toThrow("product: inconsistent");
    expect(() => gramsForPh(of("sodium-carbonate"), POOL_WATER, 7.2, 1000)).toThrow("product: inconsistent");
    expect(() => gramsForPh(of("hydrochloric-acid"), POOL_WATER, 7.2, 1)).toThrow("litres: too-low");
  });
  it("needs less bicarbonate than its alkalinity says, by the carbon that comes along", () => {
    const water = { ...POOL_WATER, ph: 7.2, freeChlorine: 0 };
    const totals = totalsOf(water);
    const z = carbonCharge(conditionsOf(totals), 7.3);
    // n (1 − z) = charge at 7.3 − alkalinity, to a hundredth
    const grams = gramsForPh({ product: "sodium-bicarbonate", strength: 1 }, water, 7.3, 10_000);
    const moles = grams / 84.007 / 10_000;
    const gap = totals.inorganicCarbon * z - totals.alkalinity;
    expect((moles * (1 - z)) / gap).toBeCloseTo(1, 1);
  });
});

describe("what if", () => {
  const asked = {
    water: POOL_WATER,
    litres: 40_000,
    products: [onShelf("hydrochloric-acid")],
    fill: null,
    grams: { "hydrochloric-acid": 500 },
    replaced: 0,
    aerated: 0,
  };
  it("counts what is poured, and what it costs, and leaves out what stands at nothing", () => {
    expect([...amountsOf({ grams: { a: 0, b: 5, c: -1 }, replaced: 0.1, aerated: 0.2 }).grams]).toEqual([
      ["b", 5],
    ]);
    const answer = whatIf(asked);
    expect("cost" in answer && answer.cost).toBeCloseTo(0.5 * 1.1, 9);
    expect("cost" in answer && answer.after.ph).toBeLessThan(7.3);
    const nothing = whatIf({ ...asked, grams: {} });
    expect("cost" in nothing && nothing.cost).toBe(0);
  });
  it("says which number makes no water, and faults on nothing that a reducer cannot find", () => {
    expect(whatIf({ ...asked, litres: 0 })).toMatchObject({ field: "litres", code: "too-low" });
    const reducer = whatIf({
      ...asked,
      products: [onShelf("sodium-thiosulfate")],
      grams: { "sodium-thiosulfate": 5000 },
    });
    expect("after" in reducer && reducer.after.freeChlorine).toBe(0);
    expect(() => whatIf({ ...asked, products: null as never })).toThrow(TypeError);
  });
});

describe("a retest against its promise", () => {
  const promise = { before: 60, promised: 100, low: 92, high: 108 };
  const read = (value: number, low: number | null = value, high: number | null = value) =>
    outcomeOf(promise, { value, low, high });
  it("meets it where the brackets touch", () => {
    expect(read(92).verdict).toBe("as-promised");
    expect(read(108).verdict).toBe("as-promised");
    expect(read(91.9).verdict).toBe("fell-short");
    expect(read(108.1).verdict).toBe("went-beyond");
    expect(read(80, 70, null).verdict).toBe("as-promised");
    expect(read(80, null, 80).verdict).toBe("fell-short");
  });
  it("turns about where it was to fall, and has no ratio where next to nothing was promised", () => {
    const down = { before: 8, promised: 7.5, low: 7.4, high: 7.6 };
    expect(outcomeOf(down, { value: 7.8, low: 7.7, high: 7.9 }).verdict).toBe("fell-short");
    expect(outcomeOf(down, { value: 7.2, low: 7.1, high: 7.3 }).verdict).toBe("went-beyond");
    expect(
      outcomeOf({ before: 96, promised: 100, low: 92, high: 108 }, { value: 100, low: 100, high: 100 }).ratio,
    ).toBeNull();
    expect(
      outcomeOf({ before: 95, promised: 100, low: 92, high: 108 }, { value: 100, low: 100, high: 100 }).ratio,
    ).toBe(1);
    expect(
      outcomeOf({ before: 100, promised: 100, low: 100, high: 100 }, { value: 101, low: 101, high: 101 }),
    ).toMatchObject({ ratio: null, verdict: "went-beyond" });
    // 7 drops before, 10 after, 30 promised: all of it
    expect(
      outcomeOf({ before: 70, promised: 100, low: 92, high: 108 }, { value: 100, low: 90, high: 100 }).ratio,
    ).toBe(1);
  });
});
