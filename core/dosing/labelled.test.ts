import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { LABELLED_IDS, type LabelledId, onLabel, perCubicMetre } from "../products/labels";
import { FRESH_SHOCK, type GivenDose, type LabelInput, type LabelProduct, labelDoses } from "./labelled";

const bottle = (product: LabelledId, more: Partial<LabelProduct> = {}): LabelProduct => ({
  id: product,
  product,
  strength: 1,
  planned: true,
  left: null,
  label: { perCubicMetre: 10, everyDays: 7, apartHours: 24 },
  ...more,
});
const given = (product: GivenDose["product"], hoursAgo: number, grams = 400): GivenDose => ({
  product,
  strength: product === "sodium-hypochlorite" ? 0.107 : 1,
  grams,
  litres: 40_000,
  hoursAgo,
});
const input = (more: Partial<LabelInput>): LabelInput => ({
  products: LABELLED_IDS.map((id) => bottle(id)),
  doses: [],
  litres: 40_000,
  jets: false,
  outdoors: true,
  freeChlorine: 2,
  found: {},
  hardnessDue: false,
  ...more,
});
const one = (product: LabelledId, more: Partial<LabelInput> = {}) => {
  const [dose] = labelDoses(input({ products: [bottle(product)], ...more }));
  if (!dose) throw new Error(`${product} is not dosed here`);
  return dose;
};
const waits = (product: LabelledId, more: Partial<LabelInput>) =>
  one(product, more).waits.map(({ code }) => code);

describe("what is dosed by its label", () => {
  it("is the label's dose for the water, due by the label's days and the log", () => {
    // 10 g for each of 40 m³.
    expect(one("enzyme")).toMatchObject({ grams: 400, lastDays: null, isDue: true, waits: [] });
    expect(one("enzyme", { doses: [given("enzyme", 6 * 24)] }).isDue).toBe(false);
    // A morning call a week after an evening one.
    expect(one("enzyme", { doses: [given("enzyme", 7 * 24 - 9)] }).isDue).toBe(true);
    const asked = bottle("clarifier", { label: { perCubicMetre: 5, everyDays: null, apartHours: 0 } });
    expect(labelDoses(input({ products: [asked] }))[0]).toMatchObject({ grams: 200, isDue: false });
  });

  it("is one of each purpose, the first that may be", () => {
    const names = labelDoses(input({})).map(({ compound }) => compound);
    expect(names).toEqual(["algaecide", "sequestrant", "clarifier", "enzyme", "phosphate-remover"]);
    const barred = input({ products: [bottle("algaecide", { planned: false }), bottle("copper-algaecide")] });
    expect(labelDoses(barred).map(({ compound }) => compound)).toEqual(["copper-algaecide"]);
    // An algaecide of the other kind counts as one.
    expect(one("copper-algaecide", { doses: [given("algaecide", 24)] }).isDue).toBe(false);
    expect(labelDoses(input({ jets: true })).map(({ compound }) => compound)).toEqual([
      "sequestrant",
      "clarifier",
      "enzyme",
    ]);
    expect(labelDoses(input({ products: [bottle("enzyme", { label: null })] }))).toEqual([]);
    // Under a roof no algae: offered, and never due.
    expect(one("algaecide", { outdoors: false }).isDue).toBe(false);
    expect(one("enzyme", { outdoors: false }).isDue).toBe(true);
  });

  it("waits for chlorine to fall, for a shock to be spent, and for a reading of it", () => {
    expect(waits("algaecide", { freeChlorine: FRESH_SHOCK })).toEqual(["fresh-chlorine"]);
    expect(waits("algaecide", { freeChlorine: 4.9 })).toEqual([]);
    expect(waits("algaecide", { freeChlorine: null })).toEqual(["chlorine-unread"]);
    // 5 mg/L in 40 m³ are 200 g of chlorine: 1.87 kg at 10.7 %.
    expect(waits("algaecide", { doses: [given("sodium-hypochlorite", 20, 1880)] })).toEqual(["shock"]);
    expect(waits("algaecide", { doses: [given("sodium-hypochlorite", 20, 1850)] })).toEqual([]);
    expect(waits("algaecide", { doses: [given("sodium-hypochlorite", 25, 1880)] })).toEqual([]);
    expect(waits("phosphate-remover", { freeChlorine: 9 })).toEqual([]);
    expect(one("enzyme").minds).toEqual(["shock-apart"]);
  });

  it("waits for the hardness count where it brings copper, and for what takes it out", () => {
    expect(waits("copper-algaecide", { hardnessDue: true })).toEqual(["hardness-first"]);
    expect(waits("algaecide", { hardnessDue: true })).toEqual([]);
    expect(waits("sequestrant", { doses: [given("phosphate-remover", 48)] })).toEqual(["meets"]);
    expect(waits("phosphate-remover", { doses: [given("sequestrant", 48)] })).toEqual(["meets"]);
    expect(waits("phosphate-remover", { doses: [given("sequestrant", 8 * 24)] })).toEqual([]);
  });

  it("is asked for by a high reading, once the last of it is older than that reading", () => {
    const bySight = bottle("sequestrant", { label: { perCubicMetre: 5, everyDays: null, apartHours: 24 } });
    const asked = (found: LabelInput["found"], doses: GivenDose[] = []) => {
      const [dose] = labelDoses(input({ products: [bySight], found, doses }));
      return [dose?.isDue, dose?.askedBy];
    };
    const high = { copper: { place: "high", hoursAgo: 1 } } as const;
    expect(asked({})).toEqual([false, null]);
    expect(asked({ copper: { place: "within", hoursAgo: 1 } })).toEqual([false, null]);
    expect(asked(high)).toEqual([true, "copper"]);
    // Given after that reading, or within the week: no second dose for one number.
    expect(asked({ copper: { place: "high", hoursAgo: 400 } }, [given("sequestrant", 399)])).toEqual([
      false,
      null,
    ]);
    expect(asked(high, [given("sequestrant", 6 * 24)])).toEqual([false, null]);
    expect(asked(high, [given("sequestrant", 8 * 24)])).toEqual([true, "copper"]);
  });

  it("does not remove a phosphate that was read and is not there", () => {
    const at = (hoursAgo: number, place: "within" | "high" = "within") =>
      one("phosphate-remover", { found: { phosphate: { place, hoursAgo } } });
    expect(one("phosphate-remover").isDue).toBe(true);
    expect(at(20 * 24).isDue).toBe(false);
    expect(at(40 * 24).isDue).toBe(true);
    expect(at(20 * 24, "high")).toMatchObject({ isDue: true, askedBy: "phosphate" });
  });

  it("brings no more copper into water that has too much", () => {
    const found = { copper: { place: "high", hoursAgo: 900 } } as const;
    expect(waits("copper-algaecide", { found })).toEqual(["copper-high"]);
    expect(waits("algaecide", { found })).toEqual([]);
  });

  it("says when there is not enough of it", () => {
    const short = input({ products: [bottle("clarifier", { left: 399 })] });
    expect(labelDoses(short)[0]?.waits).toEqual([{ code: "stock", left: 399 }]);
    expect(labelDoses(input({ products: [bottle("clarifier", { left: 400 })] }))[0]?.waits).toEqual([]);
  });
});

describe("a dose on a label", () => {
  it("is told for 10 m³ or 10,000 gallons, by volume or by weight", () => {
    // 100 mL of 1.1 g/mL in 10 m³.
    expect(perCubicMetre(100, 1.1, "metric")).toBeCloseTo(11, 9);
    expect(perCubicMetre(100, null, "metric")).toBeCloseTo(10, 9);
    // 16 fl oz of 29.5735 mL in 37.854 m³.
    expect(perCubicMetre(16, 1, "us")).toBeCloseTo((16 * 29.5735295625) / 37.85411784, 9);
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 5000, noNaN: true }),
        fc.option(fc.double({ min: 0.7, max: 1.6, noNaN: true })),
        fc.constantFrom("us" as const, "metric" as const),
        (amount, density, units) => {
          const back = onLabel(perCubicMetre(amount, density, units), density, units);
          expect(back / amount).toBeCloseTo(1, 9);
        },
      ),
    );
  });
});
