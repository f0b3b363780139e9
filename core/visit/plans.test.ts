import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { horizonPlan, horizonPlans } from "../dosing/horizon/plan";
import { type Highs, solverOf } from "../dosing/plan/highs";
import type { Solver } from "../dosing/plan/programme";
import type { PlanProblem } from "../dosing/plan/shown";
import { recipesFor } from "../recipes";
import { DOUBT_CODES } from "../testing/doubt";
import { commandOf, decide } from "./decide";
import { afterCommand } from "./facts";
import { horizonOf } from "./horizon";
import { contentOfHorizon, contentOfRecipe, planKept, problemOrThrow } from "./plans";
import { problemOf, recipeInputOf } from "./problem";
import { visitOf } from "./visit";
import { brought, STARTED, uuidOf, WREN } from "./visit.fixtures";
import { NOTHING_WRITTEN, type PlanContent, type Written } from "./written";

/** A plan that a device found is held to the water, the amounts and the way before anybody is led through it. */
const BROUGHT = brought();
const drops = (id: number, methodId: string, count: number) => ({
  id: uuidOf(id),
  methodId,
  seen: { kind: "drops" as const, count, sample: 25 },
});

let solver: Solver;
let written: Written;
let problem: PlanProblem;
let content: PlanContent;

beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
  const tests = [
    drops(20, "free-chlorine-fas-dpd", 10),
    drops(21, "total-alkalinity", 6),
    drops(22, "calcium-hardness", 30),
    {
      id: uuidOf(23),
      methodId: "ph-phenol-red",
      seen: { kind: "place" as const, place: { from: 8, to: 8 } },
    },
    {
      id: uuidOf(24),
      methodId: "cyanuric-acid-tube",
      seen: { kind: "place" as const, place: { from: 40, to: 40 } },
    },
  ];
  const frame = { id: uuidOf(25), by: WREN, at: STARTED };
  written = afterCommand(
    NOTHING_WRITTEN,
    decide(BROUGHT, NOTHING_WRITTEN, commandOf("read", { tests }, frame)),
  );
  const opened = visitOf(BROUGHT, written, STARTED);
  problem = problemOrThrow(problemOf(opened));
  const horizon = horizonOf(opened, 120);
  if ("reason" in horizon) throw new Error("no plan");
  content = contentOfHorizon(horizon, horizonPlan(horizon, solver));
});

const kept = (change: Partial<PlanContent>, unseen = false) =>
  planKept(problem, { origin: "alternative", name: "balanced", content: { ...content, ...change } }, unseen);

describe("a plan from a device", () => {
  it("is kept as it was found, over a wire too", () => {
    expect(kept({}).content).toEqual(content);
    expect(kept(JSON.parse(JSON.stringify(content))).content.steps).toHaveLength(content.steps.length);
  });

  it("is kept whatever alternative or recipe it is, of many waters", () => {
    let begun = 0;
    for (const fill of [null, { totalAlkalinity: 60, calciumHardness: 80 }])
      for (const [ph, alkalinity, hardness, stabiliser, chlorine] of [
        [7.4, 100, 300, 40, 3],
        [8, 160, 450, 90, 1],
        [7.2, 50, 120, 30, 0.4],
        [8.2, 200, 250, 40, 12],
        [7.6, 100, 450, 70, 2],
        [7.4, 120, 250, 40, 3],
      ] as const) {
        const site = {
          ...BROUGHT.basin.site,
          fillAlkalinity: fill?.totalAlkalinity ?? null,
          fillHardness: fill?.calciumHardness ?? null,
        };
        const here = brought({ basin: { ...BROUGHT.basin, site } });
        const seen = (id: number, methodId: string, from: number) => ({
          id: uuidOf(id),
          methodId,
          seen: { kind: "place" as const, place: { from, to: from } },
          confirmed: [...DOUBT_CODES],
        });
        const tests = [
          { ...drops(20, "free-chlorine-fas-dpd", chlorine / 0.2), confirmed: [...DOUBT_CODES] },
          { ...drops(26, "combined-chlorine-fas-dpd", 4), confirmed: [...DOUBT_CODES] },
          { ...drops(21, "total-alkalinity", alkalinity / 10), confirmed: [...DOUBT_CODES] },
          drops(22, "calcium-hardness", hardness / 10),
          seen(23, "ph-phenol-red", ph),
          seen(24, "cyanuric-acid-tube", stabiliser),
        ];
        const frame = { id: uuidOf(25), by: WREN, at: STARTED };
        const standing = afterCommand(
          NOTHING_WRITTEN,
          decide(here, NOTHING_WRITTEN, commandOf("read", { tests }, frame)),
        );
        const opened = visitOf(here, standing, STARTED);
        const asked = problemOf(opened);
        if ("reason" in asked) continue;
        const horizon = horizonOf(opened);
        if ("reason" in horizon) continue;
        for (const plan of horizonPlans(horizon, solver)) {
          const content = contentOfHorizon(horizon, plan);
          planKept(asked, { origin: "alternative", name: plan.name, content });
          begun += 1;
        }
        const input = recipeInputOf(opened);
        if ("reason" in input) continue;
        for (const { id, recipe } of recipesFor(input, solver)) {
          if (typeof recipe === "string") continue;
          planKept(asked, { origin: "recipe", name: id, content: contentOfRecipe(asked, recipe) });
          begun += 1;
        }
      }
    expect(begun).toBeGreaterThan(30);
  });

  it("is refused when it was found for another water, volume or product", () => {
    const { basis } = content;
    expect(() => kept({ basis: { ...basis, water: { ...basis.water, ph: 7.9 } } })).toThrow(
      "readings: changed",
    );
    expect(() => kept({ basis: { ...basis, litres: 41_000 } })).toThrow("litres: changed");
    const products = basis.products.map((one) => ({ ...one, strength: one.strength / 2 }));
    expect(() => kept({ basis: { ...basis, products } })).toThrow("product: changed");
  });

  it("is refused when a portion is more than the water takes, or the end is not where it says", () => {
    const dose = content.steps.findIndex((step) => step.kind === "dose" && step.portions > 0);
    const step = content.steps[dose];
    if (step?.kind !== "dose") throw new Error("no dose");
    const changed = (part: object) =>
      content.steps.map((one, index) => (index === dose ? { ...one, ...part } : one)) as PlanContent["steps"];
    expect(() => kept({ steps: changed({ grams: step.grams * 60, portions: 1 }) })).toThrow(/too-(high|low)/);
    expect(() => kept({ after: { ...content.after, totalAlkalinity: 150 } })).toThrow(
      "after.totalAlkalinity: inconsistent",
    );
    // Whatever else the device sends along: facts are a recipe's, and a task changes no water.
    const wrong = { ...content.after, ph: content.after.ph + 0.1 };
    const task = { kind: "task", task: "brush", waitMinutes: 0, cautions: [] } as const;
    for (const beside of [
      {},
      { facts: { days: 1 } },
      { heldBack: [{ grams: 1 }] },
      { steps: [...content.steps, task] },
    ])
      expect(() => kept({ after: wrong, ...beside } as Partial<PlanContent>)).toThrow(
        "after.ph: inconsistent",
      );
  });

  it("that was found without knowing of another's reading is held to the water it was found for", () => {
    const { basis } = content;
    const other = { ...basis, water: { ...basis.water, freeChlorine: basis.water.freeChlorine - 0.05 } };
    expect(() => kept({ basis: other })).toThrow("changed");
    expect(kept({ basis: other }, true).content.basis).toBe(other);
  });

  it("has a name that there is, and comes with its content", () => {
    expect(() => planKept(problem, { origin: "alternative", name: "daring", content })).toThrow(
      "name: unknown",
    );
    expect(() => planKept(problem, { origin: "alternative", name: "balanced" })).toThrow("content: missing");
  });

  it("is begun, ends the one before, and its doses go under their steps", () => {
    const frame = (id: number) => ({ id: uuidOf(id), by: WREN, at: STARTED });
    const begin = (standing: Written, id: number) =>
      afterCommand(
        standing,
        decide(
          BROUGHT,
          standing,
          commandOf("begin-plan", { origin: "alternative", name: "balanced", content }, frame(id)),
        ),
      );
    const once = begin(written, 40);
    const twice = begin(once, 41);
    expect(twice.plans.map(({ endedAt }) => endedAt === null)).toEqual([false, true]);
    const position = content.steps.findIndex(({ kind }) => kind === "dose");
    const settle = (grams: number, id: number) => ({
      planId: uuidOf(41),
      position,
      state: "done" as const,
      why: "",
      dose: { id: uuidOf(id), givenGrams: grams },
    });
    const given = afterCommand(
      twice,
      decide(BROUGHT, twice, commandOf("settle-step", settle(500, 50), frame(60))),
    );
    const put = afterCommand(
      given,
      decide(BROUGHT, given, commandOf("settle-step", settle(450, 51), frame(61))),
    );
    expect(put.doses).toMatchObject([
      { id: uuidOf(51), givenGrams: 450, code: `plan.${uuidOf(41)}.${position}` },
    ]);
    expect(put.plans[1]?.settled).toMatchObject([{ position, state: "done" }]);
  });
});
