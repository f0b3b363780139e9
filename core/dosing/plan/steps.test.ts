import { describe, expect, it } from "vitest";
import { OUTDOOR_FIXED_BAND } from "../../judging/sets";
import { POOL_WATER } from "../../water/water.fixtures";
import type { ProductId } from "../products";
import { goalsOf } from "./goals";
import { type PlanInput, WEIGHTS } from "./input";
import { onShelf, WHOLE_SHELF } from "./plan.fixtures";
import type { Amounts } from "./solve";
import {
  ACID_CHLORINE_MINUTES,
  groupOf,
  type PlanStep,
  type StepSetting,
  stepsOf,
  WAIT_MINUTES,
} from "./steps";

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
    const [first] = stepsOf(input(), amounts({ "calcium-chloride": 500 }, { replaced: 0.3 }), {
      ...POOL,
      surface: "vinyl",
    });
    expect(first).toMatchObject({ kind: "replace-water", litres: 12_000 });
    expect(first?.cautions).toEqual(["hydrostatic-lift", "liner-shrinks", "dechlorinate-drain"]);
  });

  it("put air after the acid that needs it", () => {
    const steps = stepsOf(
      input(),
      amounts({ "hydrochloric-acid": 900, "calcium-chloride": 500 }, { aerated: 0.4 }),
      POOL,
    );
    expect(order(steps)).toEqual(["hydrochloric-acid", "aerate", "calcium-chloride", "retest"]);
    expect(order(stepsOf(input(), amounts({}, { aerated: 0.4 }), POOL))).toEqual(["aerate", "retest"]);
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
    const steps = stepsOf(input(), amounts({ "hydrochloric-acid": 3480, "calcium-chloride": 12_000 }), POOL);
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

  it("know which group every product belongs to", () => {
    expect(groupOf("borax")).toBe("ph");
    expect(groupOf("dichlor")).toBe("sanitiser");
    expect(groupOf("sodium-carbonate")).toBe("ph");
  });
});
