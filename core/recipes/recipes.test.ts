import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { goalsOf } from "../dosing/plan/goals";
import { type Highs, solverOf } from "../dosing/plan/highs";
import { type PlanInput, WEIGHTS } from "../dosing/plan/input";
import { onShelf, WHOLE_SHELF } from "../dosing/plan/plan.fixtures";
import type { Solver } from "../dosing/plan/programme";
import { ACID_CHLORINE_MINUTES, type PlanStep } from "../dosing/plan/steps";
import { meetBadly, TRAITS } from "../products/traits";
import { OUTDOOR_FIXED_BAND, SPA_WARM_WATER } from "../ranges/sets";
import type { Sample } from "../water/sample";
import { POOL_WATER } from "../water/water.fixtures";
import { type NoRecipe, RECIPE_IDS, type Recipe, type RecipeId, type RecipeInput, recipeFor } from ".";

let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

const FILL: Sample = {
  ...POOL_WATER,
  ph: 7.6,
  totalAlkalinity: 45,
  calciumHardness: 60,
  cyanuricAcid: 0,
  freeChlorine: 0,
};
const SHELF = [...WHOLE_SHELF, onShelf("potassium-monopersulfate"), onShelf("sodium-thiosulfate")];

function given(
  water: Partial<Sample>,
  change: Partial<RecipeInput> = {},
  input: Partial<PlanInput> = {},
): RecipeInput {
  const sample = { ...POOL_WATER, ...water };
  const set = change.set ?? OUTDOOR_FIXED_BAND;
  return {
    input: {
      water: sample,
      litres: 40_000,
      goals: goalsOf(set, "plaster", sample),
      products: SHELF,
      fill: FILL,
      mostReplaced: 0.5,
      aeration: true,
      weights: WEIGHTS,
      ...input,
    },
    setting: { kind: "pool", freshFill: false, surface: "other", sanitiserFirst: false },
    set,
    surface: "plaster",
    combinedChlorine: 0.8,
    indoors: false,
    fillRate: 1500,
    persulfateDose: 24,
    ...change,
  };
}
const made = (id: RecipeId, of: RecipeInput): Recipe => {
  const recipe = recipeFor(id, of, solver);
  if (typeof recipe === "string") throw new Error(recipe);
  return recipe;
};
const why = (id: RecipeId, of: RecipeInput): NoRecipe | "made" => {
  const recipe = recipeFor(id, of, solver);
  return typeof recipe === "string" ? recipe : "made";
};
const doses = (steps: readonly PlanStep[]) => steps.filter((step) => step.kind === "dose");

describe("a fresh fill", () => {
  const spa = given(
    { ...FILL, temperature: 38 },
    {
      set: SPA_WARM_WATER,
      surface: "acrylic",
      setting: { kind: "spa", freshFill: true, surface: "other", sanitiserFirst: false },
    },
    { litres: 1500, goals: goalsOf(SPA_WARM_WATER, "acrylic", { ...FILL, temperature: 38 }) },
  );

  it("goes from calcium over alkalinity and pH to sanitiser, with a test between", () => {
    const { steps } = made("fresh-fill", spa);
    const groups = doses(steps).map((step) => TRAITS[step.compound].group);
    expect(groups[0]).toBe("calcium");
    expect(groups.at(-1)).toBe("sanitiser");
    const order = ["calcium", "alkalinity", "ph", "stabiliser", "sanitiser"];
    const places = groups.map((group) => order.indexOf(group));
    expect(places).toEqual([...places].sort((a, b) => a - b));
    const first = steps.findIndex((step) => step.kind === "dose");
    expect(steps[first + 1]).toMatchObject({ kind: "retest", quantities: ["calciumHardness"] });
    for (const step of doses(steps)) expect(step.waitMinutes).toBeGreaterThanOrEqual(20);
  });

  it("promises at each test what has gone in by then, and ends in range", () => {
    const { steps, after } = made("fresh-fill", spa);
    const [first] = steps.filter((step) => step.kind === "retest");
    expect(first?.promised?.calciumHardness?.before).toBe(60);
    expect(first?.promised?.calciumHardness?.promised).toBeGreaterThan(140);
    expect(after.ph).toBeGreaterThan(7.4);
    expect(after.ph).toBeLessThan(7.8 + 1e-6);
    expect(after.freeChlorine).toBeGreaterThan(3);
  });
});

describe("a shock", () => {
  it("raises free chlorine to ten times the combined", () => {
    const { facts, after, steps } = made("breakpoint", given({ freeChlorine: 2 }));
    expect(facts.freeChlorine).toBeCloseTo(8, 9);
    expect(after.freeChlorine).toBeCloseTo(8, 6);
    // 6 mg/L in 40 m³ are 240 g of chlorine; 125 g in a litre: 1.92 L of 1.168 g/mL
    expect(doses(steps)[0]?.grams).toBeCloseTo(1.92 * 1168, 0);
    const retest = steps.at(-1);
    expect(retest?.kind === "retest" && retest.quantities).toContain("combinedChlorine");
  });

  it("by persulfate goes by the label, and warns that it reads as combined", () => {
    const { steps, after } = made("persulfate", given({ freeChlorine: 2 }));
    expect(doses(steps)[0]?.grams).toBe(960);
    expect(steps.flatMap((step) => step.cautions)).toContain("reads-as-combined");
    const retest = steps.at(-1);
    expect(retest?.kind === "retest" && retest.quantities).not.toContain("combinedChlorine");
    expect(after.freeChlorine).toBeCloseTo(2, 9);
  });

  it("is not made up without a combined reading or a product", () => {
    expect(why("breakpoint", given({}, { combinedChlorine: null }))).toBe("needs-combined");
    expect(why("breakpoint", given({}, { combinedChlorine: 0 }))).toBe("nothing-to-do");
    expect(why("persulfate", given({}, {}, { products: WHOLE_SHELF }))).toBe("no-product");
  });

  it("is not made up on an unread chlorine, an unsure reading, a pH that is over, or past what anybody may bathe in", () => {
    const water = { freeChlorine: 2, ph: 7.5 };
    expect(why("breakpoint", given(water))).toBe("made");
    const unread = given(water);
    unread.input.goals.freeChlorine.known = false;
    expect(why("breakpoint", unread)).toBe("needs-free");
    expect(why("persulfate", unread)).toBe("needs-free");
    expect(why("breakpoint", given(water, { combinedUnsure: true }))).toBe("combined-unsure");
    expect(why("breakpoint", given({ ...water, ph: 8 }))).toBe("ph-first");
    // Ten times 1.2 are 12: over 10 nobody bathes, and less of it makes the air worse.
    expect(why("breakpoint", given(water, { combinedChlorine: 1.2 }))).toBe("combined-too-much");
    expect(why("breakpoint", given(water, { surface: "vinyl" }))).toBe("combined-too-much");
    expect(why("breakpoint", given(water, { surface: "vinyl", combinedChlorine: 0.5 }))).toBe("made");
  });

  it("leaves no cover off: watched while it is open, on again before leaving, and nobody in a hall", () => {
    const tasks = (recipe: Recipe) => recipe.steps.flatMap((one) => (one.kind === "task" ? [one.task] : []));
    for (const id of ["breakpoint", "persulfate", "opening"] as const) {
      const outside = tasks(made(id, given({ freeChlorine: 2 })));
      expect(outside.indexOf("cover-watched"), id).toBeGreaterThanOrEqual(0);
      expect(outside.indexOf("cover-again"), id).toBeGreaterThan(outside.indexOf("cover-watched"));
      expect(outside, id).toContain("evening");
      const inside = tasks(made(id, given({ freeChlorine: 2 }, { indoors: true })));
      expect(inside, id).toContain("hall-empty");
      expect(inside, id).not.toContain("evening");
    }
  });

  it("of a bromine basin is an oxidiser by its label, after a reading, and ends with a test of bromine", () => {
    const bromine = { value: 4, high: 6 };
    const { steps } = made("persulfate", given({ ph: 7.5 }, { bromine, combinedChlorine: null }));
    expect(doses(steps)[0]?.grams).toBe(960);
    expect(steps.at(-1)).toMatchObject({ kind: "retest", quantities: ["bromine", "ph"] });
    expect(why("persulfate", given({ ph: 7.5 }, { bromine: null }))).toBe("needs-bromine");
    expect(why("persulfate", given({ ph: 7.5 }, { bromine: { value: 7, high: 6 } }))).toBe("nothing-to-do");
    expect(why("persulfate", given({ ph: 8 }, { bromine }))).toBe("ph-first");
    expect(why("breakpoint", given({ ph: 7.5 }, { bromine }))).toBe("nothing-to-do");
  });

  it("that went too far is reduced by half, bromine as the chlorine that it is worth", () => {
    const { steps } = made("chlorine-too-high", given({}, { bromine: { value: 15, high: 6 } }));
    // 9 mg/L of bromine are 4 of chlorine (2.25): 160 g in 40 m³, 2.2565 mol; half of a mole of reducer for each two
    expect(doses(steps)[0]?.grams).toBeCloseTo(((160 / 70.906 / 2) * 248.18) / 0.99 / 2, 1);
    expect(steps.at(-1)).toMatchObject({ quantities: ["bromine", "ph"] });
    expect(why("chlorine-too-high", given({}, { bromine: { value: 5, high: 6 } }))).toBe("nothing-to-do");
    expect(why("chlorine-too-high", given({}, { bromine: null }))).toBe("needs-bromine");
  });

  it("that falls away is said: for want of a plain chlorine, or of a reading", () => {
    const tasks = (of: RecipeInput) =>
      made("opening", of).steps.flatMap((one) => (one.kind === "task" ? [one.task] : []));
    const plain = SHELF.filter(({ product }) => !product.endsWith("hypochlorite"));
    expect(tasks(given({ freeChlorine: 1 }, {}, { products: plain }))).toContain("no-plain-chlorine");
    const unread = given({ freeChlorine: 1 });
    unread.input.goals.freeChlorine.known = false;
    expect(tasks(unread)).toContain("read-free-first");
    expect(tasks(given({ freeChlorine: 1 }))).not.toContain("no-plain-chlorine");
  });
});

describe("lowering what does not evaporate", () => {
  it("replaces the share that leaves the limit, in turns above half", () => {
    const { facts, after, steps } = made("lower-stabiliser", given({ cyanuricAcid: 90 }));
    // f = (90 − 50) / 90
    expect(facts.fraction).toBeCloseTo(4 / 9, 9);
    expect(facts.litres).toBeCloseTo((4 / 9) * 40_000, 6);
    expect(facts.hours).toBeCloseTo(((4 / 9) * 40_000) / 1500, 6);
    expect(after.cyanuricAcid).toBeCloseTo(50, 6);
    expect(steps.flatMap((step) => step.cautions)).toContain("hydrostatic-lift");
    expect(steps[0]).toMatchObject({ kind: "task", task: "chlorine-gone-before-drain" });

    const most = made("lower-stabiliser", given({ cyanuricAcid: 200 }));
    // Two turns of half the water each leave a quarter of 200.
    expect(most.facts.fraction).toBeCloseTo(0.5, 9);
    expect(most.facts.litres).toBeCloseTo(40_000, 4);
    expect(most.after.cyanuricAcid).toBeCloseTo(50, 6);
  });

  it("never takes more at a time than a shell stands, with the plant off and nobody in", () => {
    for (const [surface, most] of [
      ["plaster", 1 / 2],
      ["vinyl", 1 / 3],
      ["fibreglass", 1 / 3],
    ] as const)
      for (const cyanuricAcid of [60, 90, 130, 200]) {
        const { facts, steps } = made("lower-stabiliser", given({ cyanuricAcid }, { surface }));
        expect(facts.fraction, `${surface} ${cyanuricAcid}`).toBeLessThanOrEqual(most + 1e-9);
        const drains = steps.filter((one) => one.kind === "replace-water");
        for (const { cautions } of drains)
          expect(cautions).toEqual(
            expect.arrayContaining(["pump-off", "electric-off", "nobody-in", "closed-until"]),
          );
        const tasks = steps.flatMap((one) => (one.kind === "task" ? [one.task] : []));
        expect(tasks.indexOf("plant-on")).toBeGreaterThan(tasks.indexOf("plant-off"));
        // Turn by turn it comes to the limit: each leaves (1 − share) of what was.
        expect(cyanuricAcid * (1 - (facts.fraction ?? 0)) ** drains.length).toBeCloseTo(50, 6);
      }
  });

  it("says when the fill water cannot do it", () => {
    const hard = { ...FILL, calciumHardness: 450 };
    expect(why("lower-calcium", given({ calciumHardness: 500 }, {}, { fill: hard }))).toBe("fill-no-better");
    expect(why("lower-calcium", given({ calciumHardness: 500 }, {}, { fill: null }))).toBe("fill-unknown");
    expect(why("lower-calcium", given({ calciumHardness: 300 }))).toBe("nothing-to-do");
  });
});

describe("chlorine too high", () => {
  it("waits while it is not far over, and tells how long", () => {
    const { steps, facts } = made("chlorine-too-high", given({ freeChlorine: 8 }));
    expect(doses(steps)).toHaveLength(0);
    expect(facts.days).toBeCloseTo(Math.log(2) / -Math.log(0.65), 9);
  });

  it("takes half of the reducer, then tests", () => {
    const { steps } = made("chlorine-too-high", given({ freeChlorine: 24 }));
    // 20 mg/L in 40 m³ are 800 g of chlorine, 11.28 mol; a mole of thiosulfate takes two: 5.64 mol; half of 248.18 g/mol at 99 %
    expect(doses(steps)[0]?.grams).toBeCloseTo(((800 / 70.906 / 2) * 248.18) / 0.99 / 2, 1);
    expect(steps.at(-1)?.kind).toBe("retest");
  });
});

describe("every recipe", () => {
  const waters: Partial<Sample>[] = [
    { ph: 8.3, totalAlkalinity: 160, freeChlorine: 0.2, cyanuricAcid: 90, calciumHardness: 480 },
    { ph: 7, totalAlkalinity: 50, freeChlorine: 15, cyanuricAcid: 0, calciumHardness: 90 },
    { ph: 8.1, totalAlkalinity: 90, freeChlorine: 0, cyanuricAcid: 20, calciumHardness: 200 },
  ];
  it("keeps acid and chlorine apart, within portions, and drains with its cautions", () => {
    for (const kind of ["spa", "pool"] as const)
      for (const water of waters)
        for (const id of RECIPE_IDS) {
          const recipe = recipeFor(
            id,
            given(water, { setting: { kind, freshFill: false, surface: "vinyl", sanitiserFirst: false } }),
            solver,
          );
          if (typeof recipe === "string") continue;
          recipe.steps.forEach((step, index) => {
            if (step.kind === "replace-water")
              expect(step.cautions).toEqual(
                expect.arrayContaining(["hydrostatic-lift", "liner-shrinks", "dechlorinate-drain"]),
              );
            if (step.kind !== "dose") return;
            expect(step.grams).toBeGreaterThan(0);
            recipe.steps.slice(index + 1).forEach((later, offset) => {
              if (later.kind !== "dose" || !meetBadly(step.compound, later.compound)) return;
              const between = recipe.steps
                .slice(index, index + 1 + offset)
                .reduce((sum, one) => sum + one.waitMinutes, 0);
              expect(between, `${id} ${kind}`).toBeGreaterThanOrEqual(ACID_CHLORINE_MINUTES);
            });
          });
        }
  });

  it("of the season covers, opens, shocks and tests", () => {
    const opened = made("opening", given({ freeChlorine: 0, ph: 8.1 }));
    expect(opened.steps[0]).toMatchObject({ task: "uncover" });
    expect(opened.after.freeChlorine).toBeGreaterThan(4);
    const closed = made("closing", given({ freeChlorine: 2 }));
    expect(closed.steps.at(-1)).toMatchObject({ task: "cover-on" });
  });
});
