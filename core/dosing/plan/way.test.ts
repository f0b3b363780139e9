import { describe, expect, it } from "vitest";
import { addTo, carbonDioxide, carbonDioxideAtRest, driveOut } from "../../products/effects";
import type { ProductId } from "../../products/products";
import { OUTDOOR_FIXED_BAND } from "../../ranges/sets";
import { readingsOf } from "../../water/equilibrium";
import { totalsOf } from "../../water/sample";
import { POOL_WATER } from "../../water/water.fixtures";
import type { Amounts } from "./amounts";
import { goalsOf } from "./goals";
import { type PlanInput, WEIGHTS } from "./input";
import { onShelf, WHOLE_SHELF } from "./plan.fixtures";
import { ACID_CHLORINE_MINUTES, type PlanStep, type StepSetting, WAIT_MINUTES } from "./steps";
import { SAFE_WAY, safelyReplaced, stepsOf, wayOf } from "./way";

const LITRES = 40_000;
const input = (change: Partial<PlanInput> = {}): PlanInput => ({
  water: POOL_WATER,
  litres: LITRES,
  goals: goalsOf(OUTDOOR_FIXED_BAND, "plaster", POOL_WATER),
  products: WHOLE_SHELF,
  fill: null,
  mostReplaced: 0,
  aeration: true,
  weights: WEIGHTS,
  ...change,
});
const amounts = (grams: Partial<Record<ProductId, number>>, more: Partial<Amounts> = {}): Amounts => ({
  grams: new Map(Object.entries(grams)),
  replaced: 0,
  aerated: 0,
  ...more,
});
const POOL: StepSetting = { kind: "pool", freshFill: false, surface: "other", sanitiserFirst: false };
const EVERYTHING = amounts({
  "calcium-chloride": 3000,
  "sodium-hypochlorite": 700,
  "hydrochloric-acid": 900,
  "cyanuric-acid": 400,
  "sodium-bicarbonate": 2000,
});
const order = (steps: PlanStep[]) => steps.map((step) => (step.kind === "dose" ? step.compound : step.kind));

describe("the steps of a plan", () => {
  it("go from alkalinity to sanitiser in a running pool", () => {
    expect(order(stepsOf(input(), EVERYTHING, POOL))).toEqual([
      "sodium-bicarbonate",
      "hydrochloric-acid",
      "calcium-chloride",
      "cyanuric-acid",
      "sodium-hypochlorite",
      "retest",
    ]);
  });

  it("begin with calcium in a fresh fill, then alkalinity, then pH", () => {
    expect(order(stepsOf(input(), EVERYTHING, { ...POOL, freshFill: true })).slice(0, 3)).toEqual([
      "calcium-chloride",
      "sodium-bicarbonate",
      "hydrochloric-acid",
    ]);
  });

  it("begin with sanitiser below its floor, but for a pH over 8", () => {
    const first = { ...POOL, sanitiserFirst: true };
    const steps = stepsOf(input(), EVERYTHING, first);
    expect(order(steps)[0]).toBe("sodium-hypochlorite");
    expect(steps[0]?.cautions).toContain("closed-until");
    const high = input({ water: { ...POOL_WATER, ph: 8.2 } });
    expect(order(stepsOf(high, EVERYTHING, first)).slice(0, 2)).toEqual([
      "hydrochloric-acid",
      "sodium-hypochlorite",
    ]);
  });

  it("replace water before anything goes in, with what draining can do", () => {
    const fill = { ...POOL_WATER, freeChlorine: 0, cyanuricAcid: 0 };
    const [first] = stepsOf(input({ fill }), amounts({ "calcium-chloride": 500 }, { replaced: 0.3 }), {
      ...POOL,
      surface: "vinyl",
    });
    expect(first).toMatchObject({ kind: "replace-water", litres: 12_000 });
    expect(first?.cautions.slice(0, 3)).toEqual(["hydrostatic-lift", "liner-shrinks", "dechlorinate-drain"]);
    expect(first?.cautions).toEqual(expect.arrayContaining(["electric-off", "nobody-in", "closed-until"]));
  });

  it("keep nothing waiting behind air but the acid that needs it", () => {
    const steps = stepsOf(
      input(),
      amounts({ "hydrochloric-acid": 900, "calcium-chloride": 500 }, { aerated: 0.2 }),
      POOL,
    );
    expect(order(steps)).toEqual(["hydrochloric-acid", "calcium-chloride", "aerate", "retest"]);
    expect(order(stepsOf(input(), amounts({}, { aerated: 0.1 }), POOL))).toEqual(["aerate", "retest"]);
  });

  it("wait as the basin mixes, and longer between acid and chlorine in a spa", () => {
    const both = amounts({ "hydrochloric-acid": 20, "sodium-hypochlorite": 30 });
    const spa: StepSetting = { ...POOL, kind: "spa" };
    const [acid, chlorine] = stepsOf(input({ litres: 1500 }), both, spa);
    expect(acid?.waitMinutes).toBe(ACID_CHLORINE_MINUTES);
    expect(chlorine?.waitMinutes).toBe(WAIT_MINUTES.spa);
    const [inPool] = stepsOf(input(), both, POOL);
    expect(inPool?.waitMinutes).toBe(WAIT_MINUTES.pool);
  });

  it("come in portions that the water takes at once", () => {
    // 3 L of full-strength acid in 40 m³, at most 1 L at a time; 12 kg of flake, at most 5 kg.
    const water = { ...POOL_WATER, ph: 7.9, totalAlkalinity: 240, calciumHardness: 150 };
    const steps = stepsOf(
      input({ water }),
      amounts({ "hydrochloric-acid": 3480, "calcium-chloride": 12_000 }),
      POOL,
    );
    expect(steps[0]).toMatchObject({ portions: 3, portionGrams: 1160 });
    expect(steps[1]).toMatchObject({ portions: 3, portionGrams: 4000 });
  });

  it("test again just what was dosed; stabiliser reads only after days", () => {
    const retested = (grams: Partial<Record<ProductId, number>>) => {
      const last = stepsOf(input(), amounts(grams), POOL).at(-1);
      return last?.kind === "retest" ? last.quantities : null;
    };
    expect(retested({ "sodium-hypochlorite": 700 })).toEqual(["freeChlorine"]);
    expect(retested({ "hydrochloric-acid": 700 })).toEqual(["ph", "totalAlkalinity"]);
    expect(retested({ "calcium-chloride": 700 })).toEqual(["calciumHardness"]);
    expect(retested({ "cyanuric-acid": 700 })).toEqual([]);
    expect(stepsOf(input(), amounts({}), POOL)).toEqual([]);
  });

  it("say how each goes in, and never put a tablet into a bucket", () => {
    const how = (product: ProductId) => {
      const [step] = stepsOf(input({ products: [onShelf(product)] }), amounts({ [product]: 100 }), POOL);
      return step?.kind === "dose" ? { how: step.how, cautions: step.cautions } : null;
    };
    expect(how("trichlor")?.how).toBe("in-a-feeder");
    expect(how("trichlor")?.cautions).not.toContain("chemical-into-water");
    expect(how("trichlor")?.cautions).toContain("chlorines-apart");
    expect(how("calcium-hypochlorite")).toMatchObject({ how: "dissolve-first" });
    expect(how("calcium-hypochlorite")?.cautions).toContain("chemical-into-water");
    expect(how("calcium-chloride")?.cautions).toContain("heats");
    expect(how("cyanuric-acid")).toMatchObject({ how: "in-a-sock" });
    expect(how("sodium-hypochlorite")?.cautions).not.toContain("chemical-into-water");
  });
});

/** The water after each step's portion by mole balance, written out apart from what the planner does. */
const HIGH: Partial<PlanInput> = {
  water: { ...POOL_WATER, ph: 7.7, totalAlkalinity: 190, calciumHardness: 250 },
};

describe("the way of a plan", () => {
  it("takes alkalinity down by acid and air in turns, each told where to stop", () => {
    // 1.5 mmol/L of acid at once would end far under pH 6.8: 1.5 × 36.461 / 0.3145 × 40 m³ = 6956 g
    const asked = amounts({ "hydrochloric-acid": 6956 }, { aerated: 1.35 });
    const { steps, waters, complete, given } = wayOf(input(HIGH), asked, POOL);
    expect(complete).toBe(true);
    expect(given.grams.get("hydrochloric-acid")).toBeCloseTo(6956, 3);
    expect(given.aerated).toBeCloseTo(1.35, 6);
    const kinds = order(steps).slice(0, -1);
    expect(kinds.filter((kind) => kind === "aerate").length).toBeGreaterThan(1);
    for (const [index, kind] of kinds.entries())
      if (index > 0) expect(kind === "aerate").toBe(kinds[index - 1] !== "aerate");
    for (const { ph } of waters) {
      expect(ph).toBeGreaterThanOrEqual(SAFE_WAY.ph.low);
      expect(ph).toBeLessThanOrEqual(SAFE_WAY.ph.high);
    }
    for (const step of steps)
      if (step.kind === "aerate") {
        expect(step.untilPh).toBeGreaterThan(7.2);
        expect(step.minutes).toBeGreaterThan(60);
        expect(step.minutes).toBeLessThan(20 * 24 * 60);
      }
  });

  it("has air take longer in a pool than under a spa's jets, and longer the less there is too much of", () => {
    const minutes = (aerated: number, setting = POOL) => {
      const [step] = stepsOf(input(HIGH), amounts({}, { aerated }), setting);
      return step?.kind === "aerate" ? (step.minutes ?? 0) : 0;
    };
    expect(minutes(0.05) / minutes(0.05, { ...POOL, kind: "spa" })).toBeCloseTo(8, 6);
    expect(minutes(0.1)).toBeGreaterThan(2 * minutes(0.05));
    // pH 7.7, TA 190, 26 °C: about 0.150 mmol/L of carbon dioxide, 0.014 at rest: 0.05 / (0.125 × 0.12 a h)
    expect(minutes(0.05) / 60).toBeGreaterThan(2.5);
    expect(minutes(0.05) / 60).toBeLessThan(4);
  });

  it("stops where air takes no more, and says that not all can be had", () => {
    const { given, complete, waters } = wayOf(input(), amounts({}, { aerated: 5 }), POOL);
    expect(complete).toBe(false);
    expect(given.aerated).toBeLessThan(0.5);
    expect(waters.at(-1)?.ph).toBeLessThanOrEqual(SAFE_WAY.ph.high + 1e-6);
  });

  it("gives what is safe of a dose that is not, and nothing of one that never is", () => {
    const much = wayOf(input(), amounts({ "hydrochloric-acid": 20_000 }), POOL);
    expect(much.complete).toBe(false);
    expect(much.given.grams.get("hydrochloric-acid")).toBeLessThan(20_000);
    expect(Math.min(...much.waters.map(({ ph }) => ph))).toBeGreaterThanOrEqual(SAFE_WAY.ph.low);
    const shock = wayOf(input(), amounts({ "sodium-hypochlorite": 20_000 }), POOL);
    expect(Math.max(...shock.waters.map(({ freeChlorine }) => freeChlorine))).toBeLessThanOrEqual(10);
  });

  it("lets a water that began outside go no farther out", () => {
    const sour = { ...POOL_WATER, ph: 6.5, freeChlorine: 14, cyanuricAcid: 0 };
    const { waters } = wayOf(
      input({ water: sour }),
      amounts({ "hydrochloric-acid": 100, "sodium-carbonate": 2000, "sodium-hypochlorite": 500 }),
      POOL,
    );
    for (const water of waters) {
      expect(water.ph).toBeGreaterThanOrEqual(6.5);
      expect(water.freeChlorine).toBeLessThanOrEqual(14 + 1e-9);
    }
  });

  it("lets calcium go before acid where the water would etch", () => {
    const soft = { ...POOL_WATER, ph: 7.5, totalAlkalinity: 70, calciumHardness: 40 };
    const { steps, waters } = wayOf(
      input({ water: soft }),
      amounts({ "hydrochloric-acid": 500, "calcium-chloride": 12_000 }),
      POOL,
    );
    expect(order(steps)[0]).toBe("calcium-chloride");
    expect(Math.min(...waters.map(({ saturation }) => saturation))).toBeGreaterThanOrEqual(-1);
  });

  it("replaces no more water at once than leaves it safe", () => {
    const fill = {
      ...POOL_WATER,
      ph: 7,
      totalAlkalinity: 20,
      calciumHardness: 10,
      freeChlorine: 0,
      cyanuricAcid: 0,
    };
    const hard = input({ water: { ...POOL_WATER, calciumHardness: 600 }, fill });
    const share = safelyReplaced(hard, 0.9);
    expect(share).toBeGreaterThan(0.3);
    expect(share).toBeLessThan(0.9);
    expect(wayOf(hard, amounts({}, { replaced: share }), POOL).complete).toBe(true);
    expect(wayOf(hard, amounts({}, { replaced: 0.9 }), POOL)).toMatchObject({
      complete: false,
      given: { replaced: 0 },
    });
    expect(safelyReplaced(hard, 0.2)).toBe(0.2);
    expect(safelyReplaced(input(), 0.2)).toBe(0);
  });

  it("cuts what does not fit a hundredth inside its edge, whichever edge that is", () => {
    const ends = (grams: Partial<Record<ProductId, number>>, water = POOL_WATER) => {
      const way = wayOf(input({ water }), amounts(grams), POOL);
      expect(way.complete).toBe(false);
      const last = way.waters.at(-1);
      if (!last) throw new Error("nothing was given");
      return last;
    };
    expect(ends({ "hydrochloric-acid": 20_000 }).ph).toBeCloseTo(6.81, 3);
    expect(ends({ "sodium-carbonate": 30_000 }, { ...POOL_WATER, calciumHardness: 60 }).ph).toBeCloseTo(
      8.19,
      3,
    );
    expect(ends({ "sodium-hypochlorite": 20_000 }).freeChlorine).toBeCloseTo(9.95, 2);
    const basic = { ...POOL_WATER, ph: 7.9, totalAlkalinity: 200 };
    expect(ends({ "calcium-chloride": 100_000 }, basic).saturation).toBeCloseTo(0.99, 3);
    const soft = { ...POOL_WATER, ph: 7.6, totalAlkalinity: 60, calciumHardness: 60 };
    expect(ends({ "sodium-bisulfate": 9000 }, soft).saturation).toBeCloseTo(-0.99, 3);
  });

  it("gives nothing that would take a water farther out, and tests again only what went in", () => {
    const sour = { ...POOL_WATER, ph: 6.75 };
    const { steps, given, complete } = wayOf(
      input({ water: sour }),
      amounts({ "hydrochloric-acid": 500, "sodium-hypochlorite": 500, "sodium-carbonate": 0 }),
      POOL,
    );
    expect(complete).toBe(false);
    expect([...given.grams.keys()]).toEqual(["sodium-hypochlorite"]);
    expect(steps.at(-1)).toMatchObject({ kind: "retest", quantities: ["freeChlorine"] });
    const basic = { ...POOL_WATER, ph: 8.4 };
    expect(wayOf(input({ water: basic }), amounts({ "sodium-carbonate": 500 }), POOL).steps).toEqual([]);
  });

  it("tests everything again after water was replaced", () => {
    const fill = { ...POOL_WATER, totalAlkalinity: 60, freeChlorine: 0 };
    const { steps } = wayOf(input({ fill }), amounts({}, { replaced: 0.2 }), POOL);
    const last = steps.at(-1);
    expect(last?.kind === "retest" ? last.quantities : []).toContain("totalAlkalinity");
  });

  it("passes through the water of every portion", () => {
    const water = { ...POOL_WATER, ph: 7.9, totalAlkalinity: 240, calciumHardness: 150 };
    const { waters } = wayOf(input({ water }), amounts({ "hydrochloric-acid": 3480 }), POOL);
    expect(waters.map(({ portion }) => portion)).toEqual([1, 2, 3]);
    waters.forEach(({ ph }, index) => {
      const acid = { ...onShelf("hydrochloric-acid"), grams: 1160 * (index + 1) };
      expect(ph).toBeCloseTo(readingsOf(addTo(totalsOf(water), [acid], LITRES).totals).ph, 9);
    });
  });

  it("stops acid at 7 and air at 7.8 while there is more acid to come, and no sooner after it", () => {
    const asked = amounts({ "hydrochloric-acid": 6956 }, { aerated: 1.35 });
    const { steps, waters } = wayOf(input(HIGH), asked, POOL);
    const airs = steps.flatMap((step) => (step.kind === "aerate" ? [step.untilPh ?? 0] : []));
    for (const ph of airs.slice(0, -1)) expect(ph).toBeCloseTo(7.8, 3);
    steps.forEach((step, index) => {
      if (step.kind !== "dose") return;
      const ph = waters.filter((water) => water.step === index).at(-1)?.ph ?? 0;
      const isLast = !steps.slice(index + 1).some(({ kind }) => kind === "dose");
      if (isLast) expect(ph).toBeGreaterThanOrEqual(7);
      // Cut where the walls still stand it, with nothing to spare.
      else expect(ph).toBeCloseTo(7, 2);
    });
  });

  it("pours acid without air where air has nothing to take", () => {
    const water = { ...POOL_WATER, ph: 7.05 };
    const { steps, waters } = wayOf(
      input({ water }),
      amounts({ "hydrochloric-acid": 400 }, { aerated: 1e-7 }),
      POOL,
    );
    expect(order(steps)).toEqual(["hydrochloric-acid", "retest"]);
    expect(waters.at(-1)?.ph).toBeLessThan(7);
    // At rest already: there is nothing for air to do.
    const rest = { ...POOL_WATER, ph: 8.6, totalAlkalinity: 90 };
    expect(carbonDioxide(totalsOf(rest))).toBeLessThan(carbonDioxideAtRest(rest.temperature));
    expect(wayOf(input({ water: rest }), amounts({}, { aerated: 0.1 }), POOL).steps).toEqual([]);
  });

  it("has air take as long as its excess over rest says", () => {
    // dC/dt = −k (C − rest), summed in a thousand parts; k is an eighth of the excess an hour in a pool.
    const start = totalsOf({ ...POOL_WATER, ...HIGH.water });
    const rest = carbonDioxideAtRest(start.temperature);
    let hours = 0;
    for (let part = 0; part < 1000; part++) {
      const now = driveOut(start, (0.1e-3 * (part + 0.5)) / 1000);
      hours += 0.1e-3 / 1000 / (0.125 * (carbonDioxide(now) - rest));
    }
    const [step] = stepsOf(input(HIGH), amounts({}, { aerated: 0.1 }), POOL);
    expect(step?.kind === "aerate" ? (step.minutes ?? 0) / 60 / hours : 0).toBeCloseTo(1, 2);
  });
});
