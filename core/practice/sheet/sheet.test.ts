import { describe, expect, it } from "vitest";
import { InputFault } from "../../fault";
import type { Quantity } from "../../measure/quantity";
import { seeded } from "../../random";
import { measure } from "../../testing/result";
import { hiddenWater, STORIES } from "../hidden";
import { methodOf, scripted } from "../practice.fixtures";
import { scoreOf } from "../score";
import { SHEET_TESTS, sheetBasin } from "./basin";
import { dosedOf, isSoundDose, type SheetDosed, truePlan } from "./dose";
import { JUDGED, type Judged, type Place, truePlace, verdictsOf } from "./judgement";
import { foundAt, sampleSlips } from "./sample";

const NOTHING = { grams: {}, replaced: 0 };
const dosed = (...given: Parameters<typeof dosedOf>): SheetDosed => {
  const made = dosedOf(...given);
  if (made instanceof InputFault) throw made;
  return made;
};

describe("the sample of a sheet", () => {
  it("is spoken against by a still pump, a fresh dose, the surface and a return", () => {
    const at = { circulation: "running", hoursSinceDose: 1 } as const;
    expect(sampleSlips(at, { place: "elbow-deep", waited: false }, "pool")).toEqual(["recent-dose"]);
    // Jets mix a spa in twenty minutes.
    expect(sampleSlips(at, { place: "elbow-deep", waited: false }, "spa")).toEqual([]);
    expect(sampleSlips(at, { place: "at-return", waited: true }, "pool")).toEqual(["at-return"]);
    expect(sampleSlips(at, { place: "elbow-deep", waited: true }, "spa")).toEqual(["waited-for-nothing"]);
    // Every kind of finding comes up.
    const found = Array.from({ length: 12 }, (_, seed) => foundAt(seed));
    expect(found.some(({ circulation }) => circulation === "off")).toBe(true);
    expect(found.some(({ hoursSinceDose }) => hoursSinceDose !== null)).toBe(true);
    expect(
      found.some(({ circulation, hoursSinceDose }) => circulation === "running" && hoursSinceDose === null),
    ).toBe(true);
  });
});

describe("the judgement of a sheet", () => {
  it("is right where it says what is so, by whatever hand it was read", () => {
    for (const story of STORIES)
      for (let seed = 0; seed < 12; seed++) {
        const water = hiddenWater(story, seed);
        const basin = sheetBasin(story);
        const said = Object.fromEntries(JUDGED.map((of) => [of, truePlace(water, of, basin)]));
        const verdicts = verdictsOf(water, basin, {}, said);
        expect(verdicts.map(({ of }) => of)).toEqual([...JUDGED]);
        expect(verdicts.every(({ isRight }) => isRight)).toBe(true);
        const others = (place: Place): Place => (place === "low" ? "high" : "low");
        const wrong = Object.fromEntries(JUDGED.map((of) => [of, others(said[of] as Place)]));
        expect(verdictsOf(water, basin, {}, wrong).some(({ isRight }) => isRight)).toBe(false);
      }
  });

  it("forgives what an honest bracket cannot tell, and not what a slip misread", () => {
    const method = methodOf("total-alkalinity");
    const basin = sheetBasin("ordinary");
    // 118 mg/L are the last of twelve drops, told as 120: inside either way. 122 read as 130 is over.
    const water = { ...hiddenWater("ordinary", 1), totalAlkalinity: 122 };
    const verdict = (slips: Parameters<typeof scripted>[3]["slips"], of: Place) => {
      const worked = scripted(method, water, 25, { slips }, seeded(3));
      const seen = { kind: "drops" as const, count: worked.counted ?? 0, sample: 25 };
      const score = scoreOf(worked, { seen, setAside: false });
      return verdictsOf(water, basin, { totalAlkalinity: score }, { totalAlkalinity: of })[0];
    };
    expect(verdict([], "high")).toMatchObject({ read: "high", truly: "high", isRight: true });
    // Short of the end it reads 110, and who goes by that is misled.
    expect(verdict(["short-of-end"], "within")).toMatchObject({
      read: "within",
      truly: "high",
      isRight: false,
    });
  });

  it("does not ask about what was set aside", () => {
    const water = hiddenWater("persulfate", 2);
    const basin = sheetBasin("persulfate");
    const of = verdictsOf(water, basin, {}, { saturation: "within" }).map((one): Judged => one.of);
    expect(of).toEqual(["saturation"]);
    // Persulfate reads as combined chlorine and is none.
    const reading = measure(methodOf("combined-chlorine-fas-dpd"), { kind: "drops", count: 8, sample: 25 });
    const scores: Partial<Record<Quantity, { reading: typeof reading; inBracket: boolean }>> = {
      combinedChlorine: { reading, inBracket: false },
    };
    expect(verdictsOf(water, basin, scores, { combinedChlorine: "high" })[0]).toMatchObject({
      read: "high",
      truly: "within",
      isRight: false,
    });
  });
});

describe("the dose of a sheet", () => {
  it("moves the hidden water by its moles", () => {
    const water = { ...hiddenWater("ordinary", 4), totalAlkalinity: 60 };
    const basin = sheetBasin("ordinary");
    // 40 m³ by 40 mg/L as CaCO3: 1600 g / 50.04 g/eq = 31.97 eq of bicarbonate, 84.007 g each.
    const grams = { "sodium-bicarbonate": (1600 / 50.04) * 84.007 };
    const { answer, places } = dosed(water, basin, { grams, replaced: 0 });
    // The product is sold at a strength a little under one.
    expect(answer.after.totalAlkalinity).toBeGreaterThan(98.5);
    expect(answer.after.totalAlkalinity).toBeLessThan(100.1);
    expect(places.totalAlkalinity).toBe("within");
    // Half of it replaced by a tap of 90 and 120: halfway between.
    const half = dosed(water, basin, { grams: {}, replaced: 0.5 }).answer.after;
    expect(half.totalAlkalinity).toBeCloseTo(75, 0);
    expect(half.calciumHardness).toBeCloseTo((water.calciumHardness + 120) / 2, 0);
  });

  it("is told what it risks, and is sound only where it harms nobody", () => {
    const basin = sheetBasin("ordinary");
    const water = { ...hiddenWater("ordinary", 4), freeChlorine: 2, ph: 7.5, totalAlkalinity: 100 };
    const much = dosed(water, basin, { grams: { "sodium-hypochlorite": 8000 }, replaced: 0 });
    expect(much.risks).toContain("chlorine-over");
    expect(much.risks).toContain("in-portions");
    expect(isSoundDose(water, basin, much)).toBe(false);
    const acid = dosed(water, basin, { grams: { "hydrochloric-acid": 5000 }, replaced: 0 });
    expect(acid.risks).toContain("ph-out");
    const both = dosed(water, basin, {
      grams: { "hydrochloric-acid": 100, "sodium-hypochlorite": 200 },
      replaced: 0,
    });
    expect(both.risks).toEqual(["acid-and-chlorine"]);
    expect(isSoundDose(water, basin, both)).toBe(true);
    const none = { ...water, freeChlorine: 0.4 };
    expect(isSoundDose(none, basin, dosed(none, basin, NOTHING))).toBe(false);
    // Stabiliser that puts a reading out of its range is not sound, though it hurts nobody.
    const thick = dosed(water, basin, { grams: { "cyanuric-acid": 4000 }, replaced: 0 });
    expect(thick.places.cyanuricAcid).toBe("high");
    expect(isSoundDose(water, basin, thick)).toBe(false);
  });

  it("says so where no water comes of it", () => {
    const grams = { "hydrochloric-acid": 900_000 };
    expect(
      dosedOf(hiddenWater("ordinary", 1), sheetBasin("ordinary"), { grams, replaced: 0 }),
    ).toBeInstanceOf(InputFault);
  });

  it("can be asked of the planner for every story", () => {
    for (const story of STORIES) {
      const { goals, water } = truePlan(hiddenWater(story, 3), sheetBasin(story));
      expect(water.ph).toBeGreaterThan(6);
      expect(goals.ph.low).not.toBeNull();
    }
    expect(new Set(SHEET_TESTS).size).toBe(6);
  });
});
