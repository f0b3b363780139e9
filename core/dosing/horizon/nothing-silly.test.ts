import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf } from "../../dosing/plan/highs";
import { SPA_WARM_WATER } from "../../ranges/sets";
import { readingsOf } from "../../water/equilibrium";
import type { Totals } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { goalsOf } from "../plan/goals";
import { onShelf } from "../plan/plan.fixtures";
import type { Solver } from "../plan/programme";
import { turnsFor } from "../turns";
import { Ahead } from "./ahead";
import { problem, WATER } from "./horizon.fixtures";
import { horizonPlan } from "./plan";
import type { HorizonProblem } from "./problem";
import { projectsOf } from "./projects";

/** What a colleague would not understand. */
let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

const grams = (posed: HorizonProblem, product: string) =>
  horizonPlan(posed, solver)
    .pours.filter(({ compound }) => compound === product)
    .reduce((sum, pour) => sum + pour.grams, 0);

describe("a plan", () => {
  it("puts all of the stabiliser into a sock that takes days, whatever it would do to the pH at once", () => {
    // 3/7.4/80/300/0 in 57 m³: 40 mg/L of stabiliser is 2.3 kg as sold.
    const water = { freeChlorine: 3, ph: 7.4, totalAlkalinity: 80, calciumHardness: 300, cyanuricAcid: 0 };
    const posed = problem({ water, calls: [7, 14], minutes: 40 });
    const litres = 57_000;
    const large = { ...posed, still: { ...posed.still, input: { ...posed.still.input, litres } } };
    const whole = (30 * litres) / 1000 / 0.99;
    expect(grams(large, "cyanuric-acid")).toBeGreaterThan(whole);
  });

  it("lifts alkalinity beside a sock that would take a soft water down to where it bites, and no acid with it", () => {
    const water = { freeChlorine: 2, ph: 7.6, totalAlkalinity: 50, calciumHardness: 300, cyanuricAcid: 0 };
    const plan = horizonPlan(problem({ water, calls: [7, 14], minutes: 60 }), solver);
    const poured = plan.pours.map(({ compound }) => compound);
    expect(poured).toContain("cyanuric-acid");
    expect(poured).toContain("sodium-bicarbonate");
    expect(poured).not.toContain("hydrochloric-acid");
    expect(plan.leftOut).toEqual([]);
    // Dissolved to the last crumb, with nothing gone to the air.
    expect(plan.now.after.ph).toBeGreaterThan(6.97);
  });

  it("leaves alkalinity low on purpose where air drives the pH up anyway, and says so", () => {
    const water = { freeChlorine: 4, ph: 8, totalAlkalinity: 72, calciumHardness: 300, cyanuricAcid: 40 };
    const still = problem({ water, calls: [7, 14], minutes: 120 });
    const posed = { ...still, rates: { ...still.rates, gasExchange: 4 * still.rates.gasExchange } };
    const plan = horizonPlan(posed, solver);
    expect(plan.pours.map(({ compound }) => compound)).not.toContain("sodium-bicarbonate");
    expect(plan.open).toContainEqual(
      expect.objectContaining({ quantity: "totalAlkalinity", becomes: "conflict" }),
    );
    // As it says: bicarbonate that brought it to its limit would leave the pH farther over at the next call.
    const bicarbonate = posed.still.input.products.find(({ product }) => product === "sodium-bicarbonate");
    const lacking = (80 - plan.now.after.totalAlkalinity) * 1.68 * (posed.still.input.litres / 1000);
    const ahead = new Ahead(posed);
    const phThen = (more: number) => {
      const today = new Map(plan.pours.map(({ product, grams }) => [product, grams]));
      today.set(bicarbonate?.key ?? "", more);
      const { found } = ahead.course({ grams: [today], aired: [], fed: 0 });
      return readingsOf(found[1] as Totals).ph;
    };
    expect(phThen(0)).toBeGreaterThan(7.8);
    expect(phThen(lacking)).toBeGreaterThan(phThen(0) + 0.02);
    // Without anything for it on the shelf that is what is said.
    const without = {
      ...posed.still.input,
      products: posed.still.input.products.filter((one) => one !== bicarbonate),
    };
    expect(horizonPlan({ ...posed, still: { ...posed.still, input: without } }, solver).open).toContainEqual(
      expect.objectContaining({ quantity: "totalAlkalinity", becomes: "no-product" }),
    );
  });

  it("says so where chlorine for the floor takes a water that scales farther", () => {
    // Hypochlorite alone is on the shelf: it lifts the pH, and the index with it.
    const water = { freeChlorine: 0, ph: 7.7, totalAlkalinity: 120, calciumHardness: 600, cyanuricAcid: 30 };
    const products = [onShelf("sodium-hypochlorite")];
    const plan = horizonPlan(problem({ water, products, minutes: 60 }), solver);
    expect(plan.pours.map(({ compound }) => compound)).toEqual(["sodium-hypochlorite"]);
    const { from, to, limit } = plan.indexMoved as NonNullable<typeof plan.indexMoved>;
    expect(from).toBeCloseTo(saturation({ ...WATER, ...water }).full.corrected, 6);
    expect(to).toBeCloseTo(saturation(plan.now.after).full.corrected, 2);
    expect(to).toBeGreaterThan(from + 0.02);
    expect(from).toBeGreaterThan(limit);
    // And nothing of it where acid takes it down.
    expect(horizonPlan(problem({ water, minutes: 120 }), solver).indexMoved).toBeNull();
  });

  it("gives acid first where a tub's pH stands so high that chlorine has to wait for it", () => {
    const posed = problem({ calls: [6, 9], minutes: 32 });
    const water = {
      ...WATER,
      ph: 8.27,
      totalAlkalinity: 42,
      calciumHardness: 158,
      cyanuricAcid: 22,
      freeChlorine: 1.4,
      temperature: 36,
    };
    const goals = goalsOf(SPA_WARM_WATER, "acrylic", water, null, { kind: "spa", outdoors: true });
    const setting = { ...posed.still.setting, kind: "spa" as const, sanitiserFirst: true };
    const input = { ...posed.still.input, water, goals, litres: 5400 };
    const plan = horizonPlan({ ...posed, still: { ...posed.still, setting, input } }, solver);
    expect(plan.pours[0]?.compound).toBe("hydrochloric-acid");
    expect(plan.minutes).toBeLessThanOrEqual(32);
  });

  it("gives some acid and then some chlorine where the minutes hold neither whole", () => {
    const water = { ph: 8.4, totalAlkalinity: 138, freeChlorine: 0.9, cyanuricAcid: 60 };
    const posed = problem({ water, calls: [], minutes: 42 });
    const setting = { ...posed.still.setting, sanitiserFirst: true };
    const input = { ...posed.still.input, litres: 136_000 };
    const plan = horizonPlan({ ...posed, still: { ...posed.still, setting, input } }, solver);
    const [acid, chlorine, ...more] = plan.pours;
    expect([acid?.compound, chlorine?.compound]).toEqual(["hydrochloric-acid", "sodium-hypochlorite"]);
    expect(more).toEqual([]);
    expect((chlorine?.begins ?? 0) - (acid?.ends ?? 0)).toBeGreaterThanOrEqual(30);
    expect(plan.minutes).toBeLessThanOrEqual(42);
    expect(plan.now.after.ph).toBeLessThan(8.4);
  });

  it("gives no more acid than the smaller of drops and calculation where they disagree, and asks for a test", () => {
    const posed = problem({ water: { ph: 8.1 }, calls: [7] });
    const free = grams(posed, "hydrochloric-acid");
    expect(free).toBeGreaterThan(0);
    // A third of what the plan gives, in meq/L of 40 m³.
    const most = (free * 0.3145) / 36.461 / 40 / 3;
    const doubtful = { ...posed, doubtfulDemand: { use: "acid" as const, most } };
    const plan = horizonPlan(doubtful, solver);
    const given = plan.pours
      .filter(({ compound }) => compound === "hydrochloric-acid")
      .reduce((sum, pour) => sum + pour.grams, 0);
    expect(given).toBeLessThanOrEqual(free / 3 + 1);
    expect(plan.leave.map(({ code }) => code)).toContain("test-ph-again");
    expect(horizonPlan(posed, solver).leave.map(({ code }) => code)).not.toContain("test-ph-again");
    // None by the drops: none is poured.
    expect(grams({ ...posed, doubtfulDemand: { use: "acid", most: 0 } }, "hydrochloric-acid")).toBe(0);
  });

  it("takes dichlor for a tub whose firm allows it, up to the stabiliser that the set bears", () => {
    const tub = (cyanuricAcid: number, stabilisedChlorine: boolean): HorizonProblem => {
      const posed = problem({ calls: [2, 4], products: [onShelf("dichlor")] });
      const water = { ...WATER, cyanuricAcid, freeChlorine: 0, temperature: 38 };
      const place = { kind: "spa", outdoors: false } as const;
      const goals = goalsOf(SPA_WARM_WATER, "acrylic", water, null, place);
      const input = { ...posed.still.input, water, goals, litres: 1500, stabilisedChlorine };
      const still = { ...posed.still, set: SPA_WARM_WATER, input };
      return { ...posed, outdoors: false, still };
    };
    expect(grams(tub(0, true), "dichlor")).toBeGreaterThan(0);
    expect(grams(tub(0, false), "dichlor")).toBe(0);
    expect(grams(tub(35, true), "dichlor")).toBe(0);
  });
});

describe("water replaced in turns", () => {
  it("compounds: two halves leave a quarter of what was there", () => {
    expect(turnsFor(0.75, 0.5)).toEqual({ turns: 2, each: 0.5 });
    // By hand: 1 − (1 − 0.4)³ = 0.784.
    const { turns, each } = turnsFor(0.784, 0.4);
    expect(turns).toBe(3);
    expect(each).toBeCloseTo(0.4, 9);
    expect(turnsFor(0.3, 0.5)).toEqual({ turns: 1, each: expect.closeTo(0.3, 9) });
  });

  it("ends inside the limit when it is walked, by the basin's own tap", () => {
    const fill = { ...WATER, calciumHardness: 80, cyanuricAcid: 0 };
    const posed = problem({ water: { calciumHardness: 850, cyanuricAcid: 130 }, fill });
    const [project] = projectsOf({ ...posed, fillRate: 3000 });
    const { turns = 0, each = 0, litres = 0, hours = 0 } = project ?? {};
    let [calcium, stabiliser] = [850, 130];
    for (let turn = 0; turn < turns; turn++) {
      calcium += (each ?? 0) * (80 - calcium);
      stabiliser -= (each ?? 0) * stabiliser;
    }
    expect(calcium).toBeLessThanOrEqual(400);
    expect(stabiliser).toBeLessThanOrEqual(50);
    expect(each).toBeLessThanOrEqual(0.5 + 1e-9);
    expect(litres).toBeCloseTo(turns * (each ?? 0) * 40_000, 6);
    // Out and in again at 3000 L an hour.
    expect(hours).toBeCloseTo((2 * litres) / 3000, 6);
  });
});
