import { describe, expect, it } from "vitest";
import { addTo, replaceWater } from "../../products/effects";
import { PRODUCT_IDS, type ProductId } from "../../products/products";
import { OUTDOOR_FIXED_BAND } from "../../ranges/sets";
import { waterFromReadings } from "../../reading/from-readings";
import { readingsOf } from "../../water/equilibrium";
import { totalsOf } from "../../water/sample";
import { POOL_WATER } from "../../water/water.fixtures";
import { NOTHING, treatmentOf, waterAfter } from "./amounts";
import { onShelf } from "./plan.fixtures";
import { problemFor } from "./problem";
import {
  ACID_CHLORINE_MINUTES,
  airStep,
  cautionsOf,
  doseStep,
  keptApart,
  lastRetest,
  type PlanStep,
  rankOf,
  replaceStep,
  retested,
  type StepSetting,
  WAIT_MINUTES,
} from "./steps";

const POOL: StepSetting = { kind: "pool", freshFill: false, surface: "other", sanitiserFirst: false };
const SPA: StepSetting = { ...POOL, kind: "spa" };
const inOrder = (setting: StepSetting, ph: number): ProductId[] =>
  [...PRODUCT_IDS].sort((a, b) => rankOf(a, setting, ph) - rankOf(b, setting, ph));

describe("the rank of a product", () => {
  const first = (setting: StepSetting, ph: number) => inOrder(setting, ph)[0];
  it("is the school's, but for chlorine under its floor, and acid before that over pH 8", () => {
    expect(first(POOL, 7.5)).toBe("sodium-bicarbonate");
    expect(first({ ...POOL, freshFill: true }, 7.5)).toBe("calcium-chloride");
    const closed = { ...POOL, sanitiserFirst: true };
    expect(first(closed, 7.5)).toBe("sodium-hypochlorite");
    expect(first(closed, 8)).toBe("sodium-hypochlorite");
    expect(first(closed, 8.01)).toBe("hydrochloric-acid");
    expect(rankOf("sodium-hypochlorite", closed, 8.2)).toBeGreaterThan(
      rankOf("sodium-bisulfate", closed, 8.2),
    );
    expect(rankOf("sodium-hypochlorite", closed, 8.2)).toBeLessThan(
      rankOf("sodium-bicarbonate", closed, 8.2),
    );
    // Over pH 8 with chlorine in order, nothing is moved forward.
    expect(rankOf("hydrochloric-acid", POOL, 8.2)).toBe(rankOf("hydrochloric-acid", POOL, 7.5));
    expect(rankOf("sodium-carbonate", closed, 8.2)).toBe(rankOf("sodium-carbonate", POOL, 7.5));
  });
});

describe("the cautions of a step", () => {
  const of = (id: ProductId, sanitiserFirst = false) => cautionsOf(id, { sanitiserFirst });
  it("are all of those that apply, in the order in which they save people", () => {
    const always = ["never-mix", "goggles-gloves", "nobody-in", "pump-on"];
    expect(of("hydrochloric-acid")).toEqual(["acid-and-chlorine", ...always, "rinse-after"]);
    expect(of("sodium-bisulfate")).toEqual(["acid-and-chlorine", ...always, "chemical-into-water"]);
    expect(of("sodium-hypochlorite")).toEqual(["acid-and-chlorine", "chlorines-apart", ...always]);
    expect(of("dichlor")).toEqual(["acid-and-chlorine", "chlorines-apart", ...always, "chemical-into-water"]);
    expect(of("calcium-chloride")).toEqual([...always, "chemical-into-water", "heats"]);
    expect(of("cyanuric-acid")).toEqual([...always, "reads-late"]);
    expect(of("sodium-bicarbonate")).toEqual(always);
    expect(of("sodium-hypochlorite", true).at(-1)).toBe("closed-until");
    expect(of("sodium-bicarbonate", true)).toEqual(always);
    expect(of("calcium-hypochlorite")).toContain("dry-scoop");
    // Most sequestrants are acids: they burn, and make gas with chlorine.
    expect(of("sequestrant")).toEqual(expect.arrayContaining(["acid-and-chlorine", "goggles-gloves"]));
    const inside = cautionsOf("hydrochloric-acid", { sanitiserFirst: false, indoors: true, kind: "spa" });
    expect(inside).toEqual(expect.arrayContaining(["ventilate", "acid-first-into-water"]));
  });
  it("stand at drains, air and the last test", () => {
    expect(replaceStep(0.25, 40_000, POOL)).toEqual({
      kind: "replace-water",
      fraction: 0.25,
      litres: 10_000,
      waitMinutes: WAIT_MINUTES.pool,
      cautions: ["hydrostatic-lift", "dechlorinate-drain", "electric-off", "nobody-in", "closed-until"],
    });
    expect(replaceStep(0.25, 1000, { kind: "spa", surface: "vinyl" })).toMatchObject({
      waitMinutes: WAIT_MINUTES.spa,
      cautions: [
        "hydrostatic-lift",
        "liner-shrinks",
        "dechlorinate-drain",
        "electric-off",
        "nobody-in",
        "closed-until",
      ],
    });
    expect(airStep(0.2, 7.8, 90)).toEqual({
      kind: "aerate",
      millimoles: 0.2,
      untilPh: 7.8,
      minutes: 90,
      waitMinutes: 0,
      cautions: ["pump-on"],
    });
    expect(lastRetest([{ product: "hydrochloric-acid" }], false)).toEqual({
      kind: "retest",
      quantities: ["ph", "totalAlkalinity"],
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    });
  });
});

describe("what is tested again", () => {
  it("is what was moved, and everything after other water", () => {
    const of = (...ids: ProductId[]) => retested(ids.map((product) => ({ product })));
    expect(of("sodium-hypochlorite")).toEqual(["freeChlorine"]);
    expect(of("sodium-thiosulfate")).toEqual(["freeChlorine"]);
    expect(of("calcium-hypochlorite")).toEqual(["freeChlorine"]);
    expect(of("calcium-chloride")).toEqual(["calciumHardness"]);
    expect(of("sodium-bicarbonate", "dichlor")).toEqual(["freeChlorine", "ph", "totalAlkalinity"]);
    expect(of("cyanuric-acid")).toEqual([]);
    expect(retested([], true)).toEqual([
      "freeChlorine",
      "ph",
      "totalAlkalinity",
      "calciumHardness",
      "cyanuricAcid",
    ]);
  });
});

describe("acid and chlorine", () => {
  const dose = (id: ProductId, waitMinutes: number): PlanStep => ({
    ...doseStep(onShelf(id), 100, 1000, SPA),
    waitMinutes,
  });
  const waits = (...steps: PlanStep[]) => keptApart(steps).map((step) => step.waitMinutes);
  it("stay half an hour apart, counting what lies between, the hours of air too", () => {
    expect(waits(dose("hydrochloric-acid", 20), dose("sodium-hypochlorite", 20))).toEqual([
      ACID_CHLORINE_MINUTES,
      20,
    ]);
    expect(waits(dose("hydrochloric-acid", 40), dose("sodium-hypochlorite", 20))).toEqual([40, 20]);
    expect(waits(dose("hydrochloric-acid", 5), dose("sodium-bicarbonate", 10), dose("dichlor", 5))).toEqual([
      20, 10, 5,
    ]);
    expect(waits(dose("hydrochloric-acid", 5), airStep(0.1, 7.8, 45), dose("dichlor", 5))).toEqual([5, 0, 5]);
    expect(waits(dose("hydrochloric-acid", 5), airStep(0.1, 7.8, 15), dose("dichlor", 5))).toEqual([
      15, 0, 5,
    ]);
    expect(
      waits(
        dose("hydrochloric-acid", 5),
        { kind: "aerate", millimoles: 0.1, waitMinutes: 0, cautions: [] },
        dose("dichlor", 5),
      ),
    ).toEqual([30, 0, 5]);
    expect(waits(dose("sodium-hypochlorite", 0), dose("sodium-bisulfate", 0))).toEqual([30, 0]);
    expect(waits(dose("sodium-bicarbonate", 0), dose("sodium-bisulfate", 0))).toEqual([0, 0]);
    expect(waits(lastRetest([], false), dose("dichlor", 1))).toEqual([0, 1]);
  });
  it("come as a step in portions that the water takes", () => {
    expect(doseStep(onShelf("hydrochloric-acid"), 2320, 40_000, POOL)).toMatchObject({
      product: "hydrochloric-acid",
      compound: "hydrochloric-acid",
      grams: 2320,
      portions: 2,
      portionGrams: 1160,
      how: "pour-along-returns",
      waitMinutes: WAIT_MINUTES.pool,
    });
  });
});

describe("the amounts of a plan", () => {
  const fill = { ...POOL_WATER, calciumHardness: 100, freeChlorine: 0 };
  const input = {
    water: POOL_WATER,
    litres: 40_000,
    products: [onShelf("calcium-chloride"), onShelf("dichlor")],
    fill,
  };
  const amounts = { grams: new Map([["calcium-chloride", 500]]), replaced: 0.25, aerated: 0.02 };
  it("are a treatment: replaced, dosed, aired, in mol/L", () => {
    expect(treatmentOf(input, amounts)).toEqual({
      replaced: { fraction: 0.25, fill: totalsOf(fill) },
      additions: [{ product: "calcium-chloride", strength: 0.77, grams: 500 }],
      drivenOut: 0.02 / 1000,
    });
    expect(treatmentOf(input, NOTHING)).toEqual({ replaced: undefined, additions: [], drivenOut: 0 });
    expect(treatmentOf({ ...input, fill: null }, amounts).replaced).toBeUndefined();
  });
  it("come to the water that they say", () => {
    const byHand = addTo(
      replaceWater(totalsOf(POOL_WATER), totalsOf(fill), 0.25),
      [{ product: "calcium-chloride", strength: 0.77, grams: 500 }],
      40_000,
    ).totals;
    const after = waterAfter(input, amounts);
    expect(after.calcium).toBe(byHand.calcium);
    expect(after.inorganicCarbon).toBeCloseTo(byHand.inorganicCarbon - 2e-5, 15);
    expect(readingsOf(waterAfter(input, NOTHING)).ph).toBeCloseTo(7.5, 9);
  });
});

describe("what a problem carries along", () => {
  const known = waterFromReadings({}, { kind: "pool", outdoors: true });
  const given = {
    set: OUTDOOR_FIXED_BAND,
    surface: "plaster" as const,
    litres: 1000,
    kind: "pool" as const,
    outdoors: true,
    findings: [],
    products: [],
    fill: null,
    mostReplaced: 0.5,
  };
  it("is off unless it was said", () => {
    const { input, setting } = problemFor(known, given);
    expect(input).toMatchObject({ stabilisedChlorine: false, tablets: false, aeration: true });
    expect(setting).toEqual({
      kind: "pool",
      indoors: false,
      freshFill: false,
      surface: "other",
      sanitiserFirst: false,
    });
    const said = problemFor(known, {
      ...given,
      surface: "vinyl",
      kind: "spa",
      freshFill: true,
      stabilisedChlorine: true,
      tablets: true,
    });
    expect(said.input).toMatchObject({ stabilisedChlorine: true, tablets: true });
    expect(said.setting).toMatchObject({ kind: "spa", freshFill: true, surface: "vinyl" });
  });
  it("puts chlorine first only where it closes the basin by being low", () => {
    const found = (code: "freeChlorine.low" | "ph.high" | "freeChlorine.high", closes: boolean) =>
      problemFor(known, {
        ...given,
        findings: [
          {
            code,
            quantity: "freeChlorine",
            value: 0,
            bound: "within",
            limit: 1,
            aim: null,
            closes,
            rangeSet: "",
          },
        ],
      }).setting.sanitiserFirst;
    expect(found("freeChlorine.low", true)).toBe(true);
    expect(found("freeChlorine.low", false)).toBe(false);
    expect(found("ph.high", true)).toBe(false);
    expect(found("freeChlorine.high", true)).toBe(false);
  });
});
