import { describe, expect, it } from "vitest";
import type { Measurement, Quantity } from "../measure/quantity";
import { mayActOn, toAnswer } from "../testing/doubt";
import { type Kit, type Method, methodById } from "../testing/kit";
import { COMPARATOR_KIT } from "../testing/kits/comparator-kit";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import { nothingFound } from "../testing/order/look";
import { measure, type Observation } from "../testing/result";
import { aheadDrops } from "./colours";
import { type BottleState, contextFor, type LogView, NO_LOG, type RecentDose } from "./context";
import { doubtsOf } from "./index";
import { shiftAcross } from "./reagents";

/** Each trap of the trade, provoked on its own, and the same test where nothing is wrong. */

const within = (value: number): Measurement => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
});
const ago = (value: number, daysAgo: number) => ({ ...within(value), daysAgo });
const method = (id: string, kit: Kit = TITRATION_KIT): Method => {
  const found = methodById(kit, id);
  if (!found) throw new Error(id);
  return found;
};
const drops = (count: number, sample = 25): Observation => ({ kind: "drops", count, sample });
const place = (from: number | null, to: number | null, more = {}): Observation => ({
  kind: "place",
  place: { from, to },
  ...more,
});
const standing = (readings: Partial<Record<Quantity, Measurement>>) =>
  Object.entries(readings).map(([quantity, reading]) => ({
    ...reading,
    quantity: quantity as Quantity,
    methodId: "other",
    observation: { kind: "number" as const, value: reading.value },
  }));

interface Case {
  test: Method;
  seen?: Observation;
  log?: Partial<LogView>;
  today?: Partial<Record<Quantity, Measurement>>;
}
const doubts = ({ test, seen, log = {}, today = {} }: Case) =>
  doubtsOf(
    contextFor({ ...NO_LOG, ...log }, standing(today), {
      method: test,
      result: seen ? measure(test, seen) : null,
      seen: seen ?? null,
    }),
  );
const codes = (one: Case) => doubts(one).map((doubt) => `${doubt.weight} ${doubt.code}`);

/** 12.5 % hypochlorite: 4.67 kg hold 500 g of chlorine, which is 12.5 mg/L in 40 000 L. */
const SHOCK: RecentDose = {
  product: "sodium-hypochlorite",
  strength: 0.107,
  grams: 4672,
  litres: 40_000,
  hoursAgo: 5,
};
const FREE = method("free-chlorine-fas-dpd");
const COMBINED = method("combined-chlorine-fas-dpd");
const PH = method("ph-phenol-red");
const ALKALINITY = method("total-alkalinity");
const HARDNESS = method("calcium-hardness");
const TUBE = method("cyanuric-acid-tube");

describe("trap 1, a bleached reading", () => {
  it("is asked about when a lot of chlorine went in, was there, shows elsewhere, or smells", () => {
    const none = { test: FREE, seen: drops(0) };
    expect(codes(none)).toEqual([]);
    const [dosed] = doubts({ ...none, log: { doses: [SHOCK] } });
    expect(dosed).toMatchObject({ code: "chlorine-bleached", because: "dose", weight: "ask" });
    expect(dosed?.numbers?.brought).toBeCloseTo(12.5, 1);
    expect(doubts({ ...none, log: { last: { freeChlorine: ago(9, 2) } } })[0]).toMatchObject({
      because: "last",
    });
    expect(
      doubts({ ...none, today: { totalChlorine: { ...within(5), high: null, bound: "at-least" } } }),
    ).toEqual(
      expect.arrayContaining([expect.objectContaining({ code: "chlorine-bleached", because: "other-test" })]),
    );
    expect(doubts({ ...none, log: { look: { ...nothingFound(), smell: ["chloramine"] } } })[0]).toMatchObject(
      {
        because: "smell",
      },
    );
  });
  it("is not suspected of a reading that shows chlorine, or after a small dose", () => {
    expect(codes({ test: FREE, seen: drops(20), log: { doses: [SHOCK] } })).toEqual([]);
    expect(codes({ test: FREE, seen: drops(0), log: { doses: [{ ...SHOCK, grams: 600 }] } })).toEqual([]);
    expect(codes({ test: FREE, seen: drops(0), log: { doses: [{ ...SHOCK, hoursAgo: 30 }] } })).toEqual([]);
  });
});

describe("trap 2, persulfate", () => {
  const dose: RecentDose = {
    product: "potassium-monopersulfate",
    strength: 0.43,
    grams: 500,
    litres: 40_000,
    hoursAgo: 20,
  };
  it("is told of before and after, and the reading is not acted on", () => {
    expect(codes({ test: COMBINED, log: { doses: [dose] } })).toEqual(["tell persulfate-in-combined"]);
    const found = doubts({ test: COMBINED, seen: drops(4), log: { doses: [dose] } });
    expect(found).toMatchObject([{ code: "persulfate-in-combined", numbers: { hours: 20 } }]);
    expect(mayActOn(found)).toBe(false);
  });
  it("is over after two days, and never in free chlorine", () => {
    expect(codes({ test: COMBINED, seen: drops(4), log: { doses: [{ ...dose, hoursAgo: 49 }] } })).toEqual(
      [],
    );
    expect(codes({ test: FREE, seen: drops(4), log: { doses: [dose] } })).toEqual([]);
  });
});

describe("trap 3, purple phenol red", () => {
  it("is asked about over 10 ppm, and the reading is not acted on", () => {
    const seen = place(7.8, 8);
    expect(codes({ test: PH, seen, today: { freeChlorine: within(10) } })).toEqual([]);
    expect(codes({ test: PH, today: { freeChlorine: within(12) } })).toEqual(["tell chlorine-purples-ph"]);
    const found = doubts({ test: PH, seen, today: { freeChlorine: within(12) } });
    expect(toAnswer(found)).toMatchObject([{ code: "chlorine-purples-ph", numbers: { chlorine: 12 } }]);
    expect(toAnswer(found, ["chlorine-purples-ph"])).toEqual([]);
    expect(mayActOn(found)).toBe(false);
  });
});

describe("trap 4, the end of a scale", () => {
  it("is a bound, and told", () => {
    expect(doubts({ test: PH, seen: place(8.2, null) })).toMatchObject([
      { code: "off-scale", because: "at-least" },
    ]);
    expect(codes({ test: PH, seen: place(null, 6.8) })).toEqual(["tell off-scale"]);
    expect(codes({ test: PH, seen: place(7.4, 7.6) })).toEqual([]);
    const tablet = method("free-chlorine-dpd-tablet", COMPARATOR_KIT);
    expect(codes({ test: tablet, seen: place(5, null) })).toEqual(["tell off-scale"]);
  });
});

describe("trap 5, the bleached alkalinity indicator", () => {
  it("is told of before, and asked about once there is a result", () => {
    const today = { freeChlorine: within(6) };
    expect(codes({ test: ALKALINITY, today })).toContain("tell thiosulfate-first");
    expect(codes({ test: ALKALINITY, seen: drops(9), today })).toEqual(["ask indicator-bleached"]);
    expect(codes({ test: ALKALINITY, seen: drops(9), today: { freeChlorine: within(3) } })).toEqual([]);
  });
});

describe("trap 6, cyanurate in the alkalinity", () => {
  it("is told with what is left as carbonate", () => {
    const [doubt] = doubts({
      test: ALKALINITY,
      seen: drops(10),
      today: { cyanuricAcid: within(100), ph: within(7.5) },
    });
    // 100 ppm of stabiliser at pH 7.5, 25 °C, 1000 mg/L: carbonate alkalinity 67.8 of 100
    expect(doubt).toMatchObject({ code: "cyanurate-in-alkalinity", weight: "tell" });
    expect(doubt?.numbers?.carbonate).toBeCloseTo(67.9, 1);
    expect(
      codes({ test: ALKALINITY, seen: drops(10), today: { cyanuricAcid: within(10), ph: within(7.5) } }),
    ).toEqual([]);
  });
  it("says nothing of readings that cannot belong to one water", () => {
    expect(
      codes({ test: ALKALINITY, seen: drops(1), today: { cyanuricAcid: within(200), ph: within(7.8) } }),
    ).toEqual([]);
  });
});

describe("trap 7, metals in the hardness test", () => {
  it("is announced where the log or the walls say so", () => {
    expect(codes({ test: HARDNESS })).toEqual(["tell technique"]);
    expect(codes({ test: HARDNESS, log: { metalsSeen: true } })).toContain("tell metals-expected");
    expect(codes({ test: HARDNESS, log: { look: { ...nothingFound(), see: ["stains"] } } })).toContain(
      "tell metals-expected",
    );
  });
  it("puts a third of the expected titrant ahead, three drops at least", () => {
    expect([aheadDrops(24), aheadDrops(4), aheadDrops(null)]).toEqual([8, 3, 3]);
    // They count: 8 ahead and 16 after the indicator are 24 drops.
    expect(measure(HARDNESS, { kind: "drops", count: 24, sample: 25, ahead: 8 }).value).toBe(240);
  });
});

describe("trap 8, the viewing tube", () => {
  const over = place(100, null);
  it("is diluted when over, once and once more, and is then what it is", () => {
    expect(doubts({ test: TUBE, seen: over })).toMatchObject([
      { code: "tube-over", weight: "ask", numbers: { next: 2 } },
    ]);
    expect(doubts({ test: TUBE, seen: { ...over, dilution: 2 } as Observation })).toMatchObject([
      { numbers: { next: 4 } },
    ]);
    expect(codes({ test: TUBE, seen: { ...over, dilution: 4 } as Observation })).toEqual([]);
    expect(measure(TUBE, place(60, 60, { dilution: 2 }))).toMatchObject({ value: 120, low: 110, high: 130 });
    expect(measure(TUBE, place(40, 50, { dilution: 4 }))).toMatchObject({ value: 180, low: 160, high: 200 });
  });
  it("under its first line is less than, and once is once", () => {
    expect(codes({ test: TUBE, seen: place(null, 30) })).toEqual(["tell tube-under"]);
    expect(measure(TUBE, place(null, 30))).toMatchObject({ bound: "at-most", high: 30 });
    expect(codes({ test: TUBE, seen: place(40, 40) })).toEqual(["tell tube-once"]);
    const twice = place(40, 40, { again: [{ from: 50, to: 50 }] });
    expect(codes({ test: TUBE, seen: twice })).toEqual([]);
    expect(measure(TUBE, twice)).toMatchObject({ value: 45, low: 41.25, high: 48.75 + 1.25 });
  });
  it("wants water neither cold nor hot", () => {
    expect(codes({ test: TUBE, today: { temperature: within(11) } })).toEqual(["tell tube-temperature"]);
    expect(codes({ test: TUBE, log: { last: { temperature: ago(38, 2) } } })).toEqual([
      "tell tube-temperature",
    ]);
    expect(codes({ test: TUBE, today: { temperature: within(25) } })).toEqual([]);
  });
});

describe("trap 9, bottle and powder", () => {
  it("is said once, before the first titration of a visit", () => {
    expect(doubts({ test: FREE })).toMatchObject([{ code: "technique", because: "powder" }]);
    const first = {
      ...within(2),
      quantity: "freeChlorine" as const,
      methodId: FREE.id,
      observation: drops(10),
    };
    const later = contextFor(NO_LOG, [first], { method: HARDNESS, result: null, seen: null });
    expect(doubtsOf(later)).toEqual([]);
  });
});

describe("trap 10, old reagents", () => {
  const bottle: BottleState = {
    reagent: "hardness titrant",
    daysExpired: null,
    lastSeason: false,
    left: 100,
  };
  const told = (change: Partial<BottleState>) =>
    doubts({ test: HARDNESS, log: { bottles: [{ ...bottle, ...change }] } }).filter(
      (doubt) => doubt.code !== "technique",
    );
  it("are told of by name", () => {
    expect(told({})).toEqual([]);
    expect(told({ daysExpired: 12 })).toMatchObject([
      { code: "reagent-expired", because: "hardness titrant" },
    ]);
    expect(told({ daysExpired: -3 })).toEqual([]);
    expect(told({ lastSeason: true })).toMatchObject([{ code: "reagent-last-season" }]);
    expect(told({ left: 0 })).toMatchObject([{ code: "reagent-empty" }]);
    expect(told({ reagent: "phenol red", daysExpired: 12 })).toEqual([]);
  });
  it("show as one shift at many basins at once", () => {
    const at = (...nows: number[]) => nows.map((now) => ({ before: 100, now }));
    expect(shiftAcross(at(118, 125, 121, 130, 119, 95))).toEqual({
      share: expect.closeTo(0.21, 2),
      basins: 6,
    });
    // Up and down is weather; few basins prove nothing; little is scatter.
    expect(shiftAcross(at(118, 80, 121, 70, 119, 95))).toBeNull();
    expect(shiftAcross(at(118, 125, 121, 130))).toBeNull();
    expect(shiftAcross(at(104, 105, 103, 106, 104))).toBeNull();
    expect(
      codes({ test: ALKALINITY, log: { shifts: { totalAlkalinity: { share: 0.2, basins: 6 } } } }),
    ).toContain("tell shift-across-basins");
    expect(
      codes({ test: HARDNESS, log: { shifts: { totalAlkalinity: { share: 0.2, basins: 6 } } } }),
    ).not.toContain("tell shift-across-basins");
  });
});

describe("trap 11, what cannot be", () => {
  it("asks when free is over total, or combined is", () => {
    const total = method("total-chlorine-dpd");
    expect(codes({ test: total, seen: place(1.5, 2), today: { freeChlorine: within(1.8) } })).toEqual([
      "ask free-over-total",
    ]);
    expect(codes({ test: total, seen: place(1.5, 2), today: { freeChlorine: within(1.7) } })).toEqual([]);
    expect(codes({ test: COMBINED, seen: drops(20), today: { totalChlorine: within(3) } })).toEqual([
      "ask combined-over-total",
    ]);
  });
  it("asks when the other sample size would explain it, once", () => {
    const log = { last: { totalAlkalinity: ago(100, 7) } };
    expect(codes({ test: ALKALINITY, seen: drops(10, 10), log })).toEqual(["ask other-sample-size"]); // 250
    expect(codes({ test: ALKALINITY, seen: drops(4, 25), log })).toEqual(["ask other-sample-size"]); // 40
    expect(codes({ test: ALKALINITY, seen: drops(11, 25), log })).toEqual([]);
  });
  it("asks about a change that no basin makes, unless a dose made it", () => {
    const log = { last: { calciumHardness: ago(200, 14) } };
    // 60 at once and 4 a day: up to 316 in a fortnight
    expect(codes({ test: HARDNESS, seen: drops(31), log })).toEqual([]);
    expect(codes({ test: HARDNESS, seen: drops(34), log })).toEqual(["ask unlikely-change"]);
    const flake: RecentDose = {
      product: "calcium-chloride",
      strength: 0.77,
      grams: 5000,
      litres: 40_000,
      hoursAgo: 200,
    };
    expect(codes({ test: HARDNESS, seen: drops(34), log: { ...log, doses: [flake] } })).toEqual([]); // +87
    expect(codes({ test: HARDNESS, seen: drops(8), log })).toEqual(["ask other-sample-size"]);
  });
  it("asks about a count far off what the basin's own habits make of it, and not about a change besides", () => {
    // 120 expected, half width 16.4: a deviation of 10; a count's bracket (10 wide) and scatter make 11.8 of it.
    const log = {
      last: { calciumHardness: ago(200, 14) },
      expected: { calciumHardness: { value: 120, low: 103.6, high: 136.4 } },
    };
    expect(codes({ test: HARDNESS, seen: drops(15), log })).toEqual([]); // 150
    expect(codes({ test: HARDNESS, seen: drops(17), log })).toEqual(["ask far-from-expected"]); // 170
    expect(codes({ test: HARDNESS, seen: drops(7), log })).toEqual(["ask far-from-expected"]); // 70
    const wide = { ...log, expected: { calciumHardness: { value: 120, low: 40, high: 200 } } };
    expect(codes({ test: HARDNESS, seen: drops(17), log: wide })).toEqual([]);
    // Chlorine, of which no change is too much for a busy day, is held to what is expected of it.
    const chlorine = method("free-chlorine-fas-dpd");
    const fed = { expected: { freeChlorine: { value: 3, low: 2.2, high: 3.8 } } };
    expect(codes({ test: chlorine, seen: drops(18), log: fed })).toEqual([]); // 3.6
    expect(codes({ test: chlorine, seen: drops(35), log: fed })).toEqual(["ask far-from-expected"]); // 7.0
  });
  it("lets pH move after a dose of acid", () => {
    const log = { last: { ph: ago(8.2, 1) } };
    const acid: RecentDose = {
      product: "hydrochloric-acid",
      strength: 0.3145,
      grams: 900,
      litres: 40_000,
      hoursAgo: 20,
    };
    expect(codes({ test: PH, seen: place(7, 7.2), log })).toEqual(["ask unlikely-change"]);
    expect(codes({ test: PH, seen: place(7, 7.2), log: { ...log, doses: [acid] } })).toEqual([]);
  });
});
