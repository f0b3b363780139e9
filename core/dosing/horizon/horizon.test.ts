import { millisecondsInDay } from "date-fns/constants";
import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { drift } from "../../drift/drift";
import { surroundingsOf } from "../../drift/surroundings";
import { isAcid, isChlorine } from "../../products/traits";
import { SALT_CELL_SET } from "../../ranges/sets";
import { readingsOf } from "../../water/equilibrium";
import { totalsOf } from "../../water/sample";
import { type Highs, solverOf } from "../plan/highs";
import { onShelf, WHOLE_SHELF } from "../plan/plan.fixtures";
import type { Solver } from "../plan/programme";
import { ALKALINITY_A_CALL } from "./allowed";
import { minutesApart, minutesOf, shortestOrder, timed } from "./clock";
import { ahead, closedLoop, loopBasin, problemOf } from "./closed-loop.fixtures";
import { drawn } from "./draws";
import { feederMost } from "./feeders";
import { GRID_WATERS, gridBest, USUAL_AMOUNTS } from "./grid.fixtures";
import { FROM, LOCATION, problem, smallCase, WATER } from "./horizon.fixtures";
import { horizonPlan, horizonPlans } from "./plan";
import { ratesFrom } from "./rates";
import { breaches } from "./rules.fixtures";
import { solveHorizon } from "./solve";

let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

describe("the clock of a call", () => {
  const acid = { product: "a", compound: "hydrochloric-acid", grams: 1, how: "pour-along-returns" } as const;
  const chlorine = {
    product: "c",
    compound: "sodium-hypochlorite",
    grams: 1,
    how: "pour-at-return",
  } as const;
  const soda = { product: "b", compound: "sodium-bicarbonate", grams: 1, how: "broadcast" } as const;
  const calcium = { product: "h", compound: "calcium-chloride", grams: 1, how: "dissolve-first" } as const;

  it("keeps acid and chlorine, and two portions, half an hour apart, whatever comes between", () => {
    // Acid 0 to 3, soda 13 to 17, chlorine not before 33; a second acid not before 66.
    const times = timed([acid, soda, chlorine, acid], "pool").map(({ begins, ends }) => [begins, ends]);
    expect(times).toEqual([
      [0, 3],
      [13, 17],
      [33, 36],
      [66, 69],
    ]);
    expect(minutesOf(timed([acid, acid], "pool"))).toBe(36);
    expect(minutesOf([])).toBe(0);
  });

  it("finds the order that takes least: soda goes in while acid and chlorine wait for each other", () => {
    const anywhere = () => true;
    // Soda first is 0 to 4, acid 14 to 17, chlorine 47 to 50; in between it is 36.
    expect(minutesOf(timed([soda, acid, chlorine], "pool"))).toBe(50);
    const shortest = shortestOrder([soda, acid, chlorine], "pool", anywhere);
    expect(minutesOf(shortest ?? [])).toBe(36);
    expect(shortest?.[1]?.compound).toBe("sodium-bicarbonate");
    // Where nothing may stand before the soda, it goes first.
    const sodaFirst = (grams: ReadonlyMap<string, number>) => grams.has("b");
    expect(shortestOrder([soda, acid, chlorine], "pool", sodaFirst)?.[0]?.compound).toBe(
      "sodium-bicarbonate",
    );
    expect(shortestOrder([acid, chlorine], "pool", () => false)).toBeNull();
  });

  it("keeps calcium away from carbonate, and needs little between any other two in a spa", () => {
    expect(minutesApart("calcium-chloride", "sodium-bicarbonate", "pool")).toBe(30);
    expect(minutesApart(calcium.compound, acid.compound, "spa")).toBe(5);
    expect(minutesApart("cyanuric-acid", acid.compound, "pool")).toBe(0);
  });
});

describe("rates by what a log tells", () => {
  it("lose, rise and climb as they were told", () => {
    const place = { kind: "pool", outdoors: true, feeder: "none" } as const;
    const around = surroundingsOf(place, LOCATION, [], [{ at: FROM, value: 26 }]);
    const fill = totalsOf({
      ...WATER,
      ph: 7.6,
      totalAlkalinity: 80,
      calciumHardness: 150,
      cyanuricAcid: 0,
      freeChlorine: 0,
    });
    const figure = (value: number) => ({ value, low: value * 0.8, high: value * 1.2 });
    const { rates, unsure } = ratesFrom(
      { chlorineLoss: figure(0.45), phRise: figure(0.04), calciumClimb: figure(9) },
      place,
      WATER,
      fill,
      around,
      FROM,
    );
    const run = (days: number) =>
      drift(totalsOf(WATER), rates, "none", fill, around, FROM, FROM + days * millisecondsInDay);
    expect(1 - readingsOf(run(1)).freeChlorine / 3).toBeCloseTo(0.45, 2);
    expect((readingsOf(run(7)).ph - 7.5) / 7).toBeCloseTo(0.04, 2);
    expect(((readingsOf(run(7)).calciumHardness - 280) / 7) * 30).toBeCloseTo(9, 0);
    // ln(1/0.46) and ln(1/0.64) lie 0.33 apart, over twice 1.645 and the rate 0.60 itself.
    expect(unsure.darkDemand).toBeCloseTo(Math.log(0.64 / 0.46) / 3.29 / -Math.log(0.55), 2);
  });
});

describe("a plan over the next calls", () => {
  it("pours nothing where all is in range and stays there", () => {
    const plan = horizonPlan(problem({ water: { freeChlorine: 3.6, ph: 7.35 }, calls: [1] }), solver);
    expect(plan.pours).toEqual([]);
    expect(plan.minutes).toBe(0);
    expect(plan.open).toEqual([]);
  });

  it("leaves as much chlorine as stands over its floor at the next call, with nine chances in ten", () => {
    const asked = problem({ water: { freeChlorine: 1.2 }, calls: [2, 4] });
    const plan = horizonPlan(asked, solver);
    expect(plan.pours.every(({ compound }) => isChlorine(compound))).toBe(true);
    const floor = asked.still.input.goals.freeChlorine.low ?? 0;
    const solved = solveHorizon(asked, solver);
    const found = drawn(solved.ahead, solved.schedule, 400).found[1]?.freeChlorine ?? new Float64Array();
    expect(found.filter((value) => value < floor).length / found.length).toBeLessThan(0.15);
    expect(plan.now.after.freeChlorine).toBeLessThanOrEqual(
      (asked.still.input.goals.freeChlorine.high ?? 0) + 1e-6,
    );
  });

  it("brings a pH that is over into its range whatever a feeder does that this call may not change", () => {
    // The feeder takes the chlorine over its limit only after the next call: that is the next call's to mend, and a
    // pH of 8 holds chlorine down by a hundredth of a ppm. Weighed against it, no acid was given.
    for (const next of [0.5, 0.85, 1, 1.15, 2]) {
      const asked = problem({
        water: { ph: 8, calciumHardness: 300, temperature: 20 },
        calls: [next, next + 1, next + 2],
        feeder: "tablets",
        fed: 1.5,
      });
      const { schedule, readings } = solveHorizon(asked, solver);
      const over = asked.still.input.goals.ph.high as number;
      expect((schedule.grams[0] as ReadonlyMap<string, number>).size, `${next} days`).toBeGreaterThan(0);
      expect(readings.after[0]?.ph, `${next} days`).toBeLessThan(over);
      expect(readings.found[1]?.ph, `${next} days`).toBeLessThan(over);
    }
  });

  it("steers a pH that would leave its range before the next call, and no other", () => {
    const rising = horizonPlan(problem({ water: { ph: 7.75, freeChlorine: 3.8 }, calls: [5] }), solver);
    expect(rising.pours.some(({ compound }) => isAcid(compound))).toBe(true);
    expect(rising.reasons.find(({ quantity }) => quantity === "ph")?.without).toBeGreaterThan(7.8);
    const calm = horizonPlan(problem({ water: { ph: 7.4, freeChlorine: 3.8 }, calls: [1] }), solver);
    expect(calm.pours).toEqual([]);
    // By what is usual alone nothing is poured for a pH that is right today.
    const unknown = horizonPlan(
      problem({ water: { ph: 7.75, freeChlorine: 3.8 }, calls: [5], gas: 0.6 }),
      solver,
    );
    expect(unknown.pours.some(({ compound }) => isAcid(compound))).toBe(false);
  });

  it("airs where alkalinity is over and the pH has room above", () => {
    for (const seed of [3, 10]) {
      const basin = loopBasin(seed);
      const { leave, promised } = horizonPlan(problemOf(basin, basin.start, FROM, basin.told.feeder), solver);
      expect(promised[0]?.readings.ph.value).toBeLessThan(7.8);
      const air = leave.find((one) => one.code === "air");
      expect(air?.code === "air" && air.untilPh).toBeGreaterThan(7.2);
      expect(air?.code === "air" && air.untilPh).toBeLessThan(7.8);
    }
  });

  it("brings alkalinity down call by call, at most as far a call as is safe", () => {
    const asked = problem({ water: { totalAlkalinity: 180, ph: 7.6, freeChlorine: 3.5 } });
    const plan = horizonPlan(asked, solver);
    expect(plan.now.after.totalAlkalinity).toBeGreaterThan(180 - ALKALINITY_A_CALL - 1);
    expect(plan.now.after.totalAlkalinity).toBeLessThan(175);
    expect(plan.now.after.ph).toBeGreaterThanOrEqual(7.2 - 1e-6);
    expect(plan.leave.map(({ code }) => code)).toEqual(expect.arrayContaining(["cover-watched", "pump-on"]));
    const found = plan.promised.map(({ readings }) => readings.totalAlkalinity.value);
    expect(found[2]).toBeLessThan((found[0] ?? 0) - 15);
    expect(plan.open.map(({ quantity }) => quantity)).toContain("totalAlkalinity");
  });

  it("in a salt pool turns the cell up, and takes a jug only up to the floor", () => {
    const under = horizonPlan(
      problem({
        water: { freeChlorine: 1, totalAlkalinity: 70 },
        set: SALT_CELL_SET,
        feeder: "saltCell",
        fed: 0.6,
      }),
      solver,
    );
    const set = under.leave.find((one) => one.code === "feeder");
    expect(set?.code === "feeder" && set.to).toBeGreaterThan(0.6);
    const poured = under.pours.filter(({ compound }) => isChlorine(compound));
    expect(poured.length).toBe(1);
    expect(poured[0]?.compound).not.toBe("calcium-hypochlorite");
    expect(under.now.after.freeChlorine).toBeLessThan(under.now.before.freeChlorine + 2.6);
    const fine = horizonPlan(
      problem({
        water: { freeChlorine: 3.4, totalAlkalinity: 70 },
        set: SALT_CELL_SET,
        feeder: "saltCell",
        fed: 1.2,
      }),
      solver,
    );
    expect(fine.pours.filter(({ compound }) => isChlorine(compound))).toEqual([]);
  });

  const salt = (freeChlorine: number, fed: number) =>
    problem({ water: { freeChlorine, totalAlkalinity: 70 }, set: SALT_CELL_SET, feeder: "saltCell", fed });

  it("turns a cell that stands still on again, so that chlorine lasts as often as it may come", () => {
    const usual = salt(1, 1.5);
    const off = {
      ...usual,
      rates: { ...usual.rates, feeder: 0 },
      feeder: { kind: "saltCell", most: feederMost(0), pricePerKg: 9 } as const,
    };
    const on = horizonPlan(off, solver);
    const set = on.leave.find((one) => one.code === "feeder");
    expect(set?.code === "feeder" && set.to).toBeGreaterThan(0.4);
    // What it gives from now on is in each draw: the next call finds more than one whose cell cannot be turned on.
    const broken = horizonPlan({ ...off, feeder: { ...off.feeder, most: 0 } }, solver);
    const nextOf = ({ promised }: typeof on) => promised.at(-1)?.readings.freeChlorine.high ?? 0;
    expect(nextOf(on)).toBeGreaterThan(1.5 * nextOf(broken));
  });

  it("turns a feeder up before chlorine is likely to be under its floor, not once it is expected there", () => {
    for (const fed of [0.5, 0.6, 0.7, 0.8]) {
      const { leave } = horizonPlan(salt(3.4, fed), solver);
      const short = leave.find((one) => one.code === "chlorine-short");
      expect(short?.code === "chlorine-short" ? short.chance : 0).toBeLessThan(0.22);
    }
    expect(horizonPlan(salt(3.4, 1.3), solver).leave.map(({ code }) => code)).not.toContain("feeder");
  });

  it("never takes more minutes than there are, and says what it left out", () => {
    const short = { water: { ph: 7.9, freeChlorine: 0.4, totalAlkalinity: 110 } };
    const long = horizonPlan(problem({ ...short, minutes: 60 }), solver);
    expect(long.pours.some(({ compound }) => isAcid(compound))).toBe(true);
    expect(long.pours.some(({ compound }) => isChlorine(compound))).toBe(true);
    const brief = horizonPlan(problem({ ...short, minutes: 15 }), solver);
    expect(brief.minutes).toBeLessThanOrEqual(15);
    expect(brief.leftOut.length).toBeGreaterThan(0);
    expect(brief.leftOut.every(({ why }) => why === "minutes")).toBe(true);
    // Chlorine under its floor comes before all else.
    expect(brief.pours.every(({ compound }) => isChlorine(compound))).toBe(true);
    expect(brief.pours.length).toBeGreaterThan(0);
  });

  it("puts replaced water among the projects, and doses for the water as it is", () => {
    const fill = {
      ...WATER,
      ph: 7.6,
      totalAlkalinity: 60,
      calciumHardness: 80,
      cyanuricAcid: 0,
      freeChlorine: 0,
    };
    const plan = horizonPlan(problem({ water: { calciumHardness: 450 }, fill }), solver);
    // Acid for the pH, which climbs, and for the index: nothing is poured against the calcium.
    expect(plan.pours.every(({ compound }) => isAcid(compound) || isChlorine(compound))).toBe(true);
    // To 375: a quarter of the way from the limit of 400 to the aim of 300; (450 − 375)/(450 − 80).
    expect(plan.projects[0]?.fraction).toBeCloseTo(75 / 370, 6);
    expect(plan.projects[0]).toMatchObject({
      kind: "replace-water",
      quantities: ["calciumHardness"],
      turns: 1,
    });
    expect(plan.open).toMatchObject([{ quantity: "calciumHardness", becomes: "project" }]);
  });

  it("says what to fetch where the shelf lacks it, and nothing where it does not", () => {
    const acidless = WHOLE_SHELF.filter(({ product }) => !isAcid(product));
    const plan = horizonPlan(problem({ water: { ph: 8.2 }, products: acidless }), solver);
    expect(plan.open).toMatchObject([{ quantity: "ph", becomes: "no-product" }]);
    expect(plan.fetch).toMatchObject([{ product: "hydrochloric-acid", strength: 0.3145 }]);
    // About what 40 m³ of this water take from 8.2 to the middle of the sevens: 1 to 2 kg.
    const whole = horizonPlan(problem({ water: { ph: 8.2 } }), solver);
    const acid = whole.pours
      .filter(({ compound }) => isAcid(compound))
      .reduce((sum, { grams }) => sum + grams, 0);
    expect(plan.fetch[0]?.grams).toBeGreaterThan(0.8 * acid);
    expect(plan.fetch[0]?.grams).toBeLessThan(1.6 * acid);
    expect(whole.fetch).toEqual([]);
    const few = WHOLE_SHELF.map((one) => (isChlorine(one.product) ? { ...one, stock: 0.1 } : one));
    const short = horizonPlan(problem({ water: { freeChlorine: 0.2 }, products: few }), solver);
    expect(short.fetch.some(({ product }) => isChlorine(product))).toBe(true);
  });

  it("lets acid follow where chlorine lifts a pH that is right over its limit", () => {
    // 0 to 3 mg/L of chlorine out of hypochlorite lifts 7.8 to about 8.1: acid is on the shelf, and there is time.
    const asked = { water: { freeChlorine: 0, ph: 7.8 }, minutes: 40 };
    const plan = horizonPlan(problem(asked), solver);
    expect(plan.pours.some(({ compound }) => isChlorine(compound))).toBe(true);
    expect(plan.pours.some(({ compound }) => isAcid(compound))).toBe(true);
    expect(plan.now.after.ph).toBeLessThan(7.8);
    expect(plan.open.some(({ quantity }) => quantity === "ph")).toBe(false);
    // In half an hour only one of them fits: chlorine, and the acid is named.
    const brief = horizonPlan(problem({ water: { freeChlorine: 0.8, ph: 7.9 }, minutes: 30 }), solver);
    expect(brief.pours.every(({ compound }) => isChlorine(compound))).toBe(true);
    expect(brief.leftOut).toMatchObject([{ compound: "hydrochloric-acid", why: "minutes" }]);
  });

  it("lifts a pH that is under with bicarbonate where no base is on the shelf, and never takes it down", () => {
    const baseless = WHOLE_SHELF.filter(({ product }) => product !== "sodium-carbonate");
    const plan = horizonPlan(
      problem({ water: { ph: 6.9, totalAlkalinity: 89 }, products: baseless }),
      solver,
    );
    expect(plan.pours.some(({ compound }) => compound === "sodium-bicarbonate")).toBe(true);
    expect(plan.now.after.totalAlkalinity).toBeLessThanOrEqual(120 + 1);
    expect(plan.reasons.find(({ product }) => product === "sodium-bicarbonate")).toMatchObject({
      quantity: "ph",
      limit: 7.2,
    });
    const over = horizonPlan(problem({ water: { ph: 6.83, totalAlkalinity: 181 } }), solver);
    expect(over.pours.some(({ compound }) => isAcid(compound))).toBe(false);
    expect(over.now.after.ph).toBeGreaterThan(6.83);
  });

  it("has no acid and base at one call, a later one neither", () => {
    for (const ph of [6.9, 7.1, 7.5, 8.1]) {
      const { calls } = horizonPlan(problem({ water: { ph, totalAlkalinity: 70 } }), solver);
      for (const { doses } of calls) {
        const compounds = doses.map(({ compound }) => compound);
        expect(compounds.some(isAcid) && compounds.includes("sodium-carbonate")).toBe(false);
      }
    }
  });

  it("names the chlorine to fetch where the shelf has too little of it to pour", () => {
    const products = WHOLE_SHELF.filter(({ product }) => !isChlorine(product)).concat(
      onShelf("sodium-hypochlorite", 50),
    );
    const plan = horizonPlan(problem({ water: { freeChlorine: 0, cyanuricAcid: 0 }, products }), solver);
    expect(plan.fetch.some(({ product }) => isChlorine(product))).toBe(true);
  });

  it("without a next call is for today alone", () => {
    const plan = horizonPlan(
      problem({ water: { ph: 8.1, freeChlorine: 0.5 }, calls: [], minutes: 60 }),
      solver,
    );
    expect(plan.promised).toEqual([]);
    expect(plan.now.after.ph).toBeGreaterThan(7.2 - 1e-6);
    expect(plan.now.after.ph).toBeLessThan(7.8);
    expect(plan.now.after.freeChlorine).toBeGreaterThan(1);
  });

  it("offers other ways only where they differ, and is the same each time", () => {
    const asked = problem({ water: { ph: 8.0, freeChlorine: 1.5, totalAlkalinity: 110 } });
    const plans = horizonPlans(asked, solver);
    expect(plans.map(({ name }) => name)).toContain("no-acid");
    const amounts = plans.map(({ pours }) => JSON.stringify(pours));
    expect(new Set(amounts).size).toBe(plans.length);
    expect(horizonPlans(asked, solver)).toEqual(plans);
    expect(plans.find(({ name }) => name === "no-acid")?.pours.some(({ compound }) => isAcid(compound))).toBe(
      false,
    );
  });

  it.each([0, 2])("is beaten by no choice on a grid of acid and chlorine at two calls, water %d", (index) => {
    const { posed, solved } = smallCase(GRID_WATERS[index] ?? {}, solver);
    const best = gridBest(posed, solved, USUAL_AMOUNTS, 6);
    expect(solved.settled).toBe(true);
    expect(solved.worth).toBeLessThan(best.worth + 0.01);
  });
});

describe("calls one after another, with a water that is not as it was told", () => {
  it.each([0, 1, 4, 6, 8, 11, 14, 18, 23, 29, 31, 37])("does nothing that hurts at basin %d", (seed) => {
    const basin = loopBasin(seed);
    const { done } = closedLoop(basin, ahead, solver, 4);
    expect(done.map((one) => breaches(one, basin.litres))).toEqual([[], [], [], []]);
  });

  it("is caught where it would hurt", () => {
    const basin = loopBasin(1);
    const done = closedLoop(basin, ahead, solver, 4).done.find(({ plan }) => plan && plan.pours.length > 0);
    const pour = done?.plan?.pours[0];
    if (!done?.plan || !pour) throw new Error("nothing was poured");
    const twice = {
      ...done,
      plan: { ...done.plan, pours: [...done.plan.pours, { ...pour, grams: 5 * pour.grams }] },
    };
    expect(breaches(twice, basin.litres).join()).toMatch(/apart /);
  });
});
