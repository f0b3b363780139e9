import { describe, expect, it } from "vitest";
import { problem, WATER } from "../dosing/horizon/horizon.fixtures";
import { WHOLE_SHELF } from "../dosing/plan/plan.fixtures";
import { readingsOf } from "../water/equilibrium";
import { asRead } from "../water/molar";
import { conditionsOf, type Totals, totalsOf } from "../water/sample";
import { kitOf, tend } from "./tender";
import { evenCalls, keptAt, type Regime, Walker } from "./walk";

/** A hand that neither spills nor misreads: every normal number out of it is none (Box and Muller, a right angle). */
const sure = () => {
  let turn = 0;
  return () => (turn++ % 2 === 0 ? 0.5 : 0.25);
};
const LITRES = 40_000;
const { goals } = problem({}).still.input;

/** Tends a water with sure hands: what stands afterwards, and the money. */
function tended(
  more: Partial<typeof WATER>,
  targets: { chlorine: number; ph: number },
  stabiliser: number | null = null,
) {
  const water: Totals = totalsOf({ ...WATER, ...more });
  const money = tend(
    water,
    readingsOf(water).ph,
    conditionsOf(water),
    { goals, kit: kitOf(WHOLE_SHELF), litres: LITRES, stabiliser },
    targets,
    1,
    sure(),
  );
  return { after: readingsOf(water), money };
}

describe("whoever calls, by the rule", () => {
  it("takes the cheapest product for each purpose, and no stabilised chlorine unasked", () => {
    const kit = kitOf(WHOLE_SHELF);
    // By money for a mole: 1.1 a kg at 31.45 % is 128 a kmol of acid; bisulfate 3.6 at 93.2 % is 464.
    expect(kit.acid.product).toBe("hydrochloric-acid");
    // Liquid 1.4 a kg at 10.7 % is 13 a kg of chlorine; cal-hypo 7.9 at 65 % is 12.2; dichlor is not asked.
    expect(kit.chlorine.product).toBe("calcium-hypochlorite");
    expect(
      kitOf(WHOLE_SHELF.filter(({ product }) => product !== "calcium-hypochlorite")).chlorine.product,
    ).toBe("sodium-hypochlorite");
  });

  it("brings chlorine and pH to where they are to be, whatever one does to the other", () => {
    const { after } = tended({ freeChlorine: 1, ph: 8 }, { chlorine: 3.5, ph: 7.4 });
    expect(after.freeChlorine).toBeCloseTo(3.5, 2);
    expect(after.ph).toBeCloseTo(7.4, 1);
  });

  it("costs what its products cost", () => {
    // 2.5 mg/L of 40 m³ is 100 g of chlorine: of cal-hypo at 65 % 153.8 g at 7.9 a kilogram, 1.22.
    const { money } = tended({ freeChlorine: 1, ph: 7.4 }, { chlorine: 3.5, ph: 7.4 });
    expect(money).toBeGreaterThan(1.2);
    expect(money).toBeLessThan(1.9);
  });

  it("leaves what is right alone", () => {
    const { after, money } = tended({ freeChlorine: 3, ph: 7.45 }, { chlorine: 3.1, ph: 7.4 });
    expect(money).toBe(0);
    expect(after.freeChlorine).toBeCloseTo(3, 9);
  });

  it("raises alkalinity a little over its limit, and stabiliser to what is kept", () => {
    const { after } = tended({ totalAlkalinity: 60 }, { chlorine: 3, ph: 7.5 });
    // To 90 by bicarbonate, less the acid that brings the pH back.
    expect(after.totalAlkalinity).toBeGreaterThan(80);
    expect(after.totalAlkalinity).toBeLessThan(92);
    const kept = tended({ cyanuricAcid: 10 }, { chlorine: 3, ph: 7.5 }, 40);
    expect(kept.after.cyanuricAcid).toBeCloseTo(40, 1);
  });

  it("gives base where the pH is under, and acid never then", () => {
    const { after } = tended({ ph: 6.9 }, { chlorine: 3, ph: 7.4 });
    expect(after.ph).toBeGreaterThan(7.3);
  });
});

describe("a walk through four weeks", () => {
  const regime = (calls: readonly number[]): Regime => ({
    calls,
    feeder: "none",
    fed: 0,
    goals,
    stabiliser: null,
    covered: false,
    between: null,
  });

  it("calls at even distances", () => {
    expect(evenCalls(0, 7, 28)).toEqual([7, 14, 21, 28].map((day) => day * 86_400_000));
    expect(evenCalls(0, 2, 28)).toHaveLength(14);
  });

  it("keeps what is fed at its aim, or well over a floor that is near it, and never over the limit", () => {
    expect(keptAt({ ...goals, freeChlorine: { ...goals.freeChlorine, low: 1, aim: 3, high: 4 } })).toBe(3);
    // One and a half times 3 is 4.5.
    expect(keptAt({ ...goals, freeChlorine: { ...goals.freeChlorine, low: 3, aim: 4, high: 10 } })).toBe(4.5);
    expect(keptAt({ ...goals, freeChlorine: { ...goals.freeChlorine, low: 3.5, aim: 4, high: 5 } })).toBe(5);
  });

  it("tells the loss of a day as the drift has it", () => {
    // Indoors at 27 °C the dark demand is all there is.
    const posed = problem({ calls: [7] });
    const rates = { ...posed.rates, darkDemand: 0.25, sunUnbound: 0, sunBound: 0 };
    const indoors = {
      ...posed,
      rates,
      outdoors: false,
      still: { ...posed.still, input: { ...posed.still.input, water: { ...WATER, temperature: 27 } } },
    };
    const walker = new Walker(indoors, 4);
    const base = regime(indoors.calls);
    // From 3 mg/L on, in four steps: the share grows as it falls, by 1, 1.013, 1.025 and 1.038.
    expect(goals.freeChlorine.aim).toBe(3);
    expect(walker.lossOf(base)).toBeCloseTo(0.2547, 3);
  });

  it("leaves more for a longer time, up to the set's limit", () => {
    const left = (days: number) => {
      const posed = problem({ calls: [days] });
      const walker = new Walker(posed, 16);
      const base = { ...regime(posed.calls), stabiliser: 40 };
      const [steps = []] = walker.gapsOf(base);
      return walker.targetsOf(base, steps).targets.chlorine;
    };
    expect(left(1)).toBeLessThanOrEqual(left(3));
    expect(left(3)).toBeLessThanOrEqual(left(7));
    expect(left(7)).toBeLessThanOrEqual((goals.freeChlorine.high ?? 0) + 1e-9);
  });

  it("ends with no more stabiliser than what was put in leaves", () => {
    const posed = problem({ calls: [7, 14, 21, 28], water: { cyanuricAcid: 40 } });
    const walker = new Walker(posed, 8);
    const base = { ...regime(posed.calls), feeder: "tablets" as const, fed: 1 };
    const { stabiliser } = walker.walk(base);
    const mean = stabiliser.reduce((sum, one) => sum + one, 0) / stabiliser.length;
    // A mg/L of chlorine out of tablets brings 0.607 of stabiliser (129.08/3/70.906): 17 in 28 days, re-tuned at calls,
    // and some is lost.
    expect(mean).toBeGreaterThan(40);
    expect(mean).toBeLessThan(40 + 0.607 * 28 * 4);
    expect(asRead.cyanurate(walker.start.cyanurate)).toBeCloseTo(40, 6);
  });
});
