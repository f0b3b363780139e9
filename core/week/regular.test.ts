import { describe, expect, it } from "vitest";
import { pairOf } from "../schedule/pace";
import { quoteOf } from "./quote";
import { type RegularBasin, regularDays } from "./regular";
import { worthOf } from "./week.fixtures";

const basin = (id: string, more: Partial<RegularBasin> = {}): RegularBasin => ({
  id,
  site: id,
  minutes: 40,
  worth: worthOf(0.95, 2, 0.3),
  allowed: null,
  fixed: [],
  daily: false,
  least: 1,
  most: null,
  now: { days: [2], everyWeeks: 1 },
  person: "wren",
  ...more,
});
const ask = (basins: RegularBasin[], more: object = {}) =>
  regularDays({
    basins,
    people: [{ id: "wren", hours: [480, 480, 480, 480, 480, 0, 0] }],
    ways: { known: {}, usual: 10 },
    minuteWorth: 0.01,
    changeWorth: 0.1,
    ...more,
  });

describe("regular days", () => {
  it("call more often where the water does not last, less where it does, and say what that comes to", () => {
    const lasting = basin("lasts", {
      worth: worthOf(0.95, 20, 0.3),
      now: { days: [1, 3, 5], everyWeeks: 1 },
    });
    const [more, less] = ask([basin("fades", { worth: worthOf(0.95, 2, 1.2) }), lasting]);
    expect(more?.basin).toBe("fades");
    expect(more?.proposed.calls).toBeGreaterThan(1);
    // One call a week: right for three days, then by e^-1.2 each: (3 + .301 + .0907 + .0273 + .0082) * 0.95 / 7.
    expect(more?.now.right).toBeCloseTo((0.95 * (3 + 0.3012 + 0.0907 + 0.0273 + 0.0082)) / 7, 3);
    expect(more?.proposed.right).toBeGreaterThan((more?.now.right ?? 1) + 0.2);
    expect(less?.basin).toBe("lasts");
    expect(less?.proposed.calls).toBeLessThan(1);
    expect(less?.proposed.right).toBeCloseTo(0.95, 6);
    expect(less?.proposed.minutes).toBeLessThan(less?.now.minutes ?? 0);
  });

  it("keep contracts, the customer's days and the hours of whoever calls", () => {
    const held = { worth: worthOf(0.95, 1, 1) };
    const [fixed] = ask([basin("fixed", { ...held, allowed: [1, 2, 4], fixed: [4] })]);
    expect(fixed?.proposed.days).toContain(4);
    for (const day of fixed?.proposed.days ?? []) expect([1, 2, 4]).toContain(day);
    expect(ask([basin("apart", { ...held, least: 7 })])).toEqual([]);
    expect(ask([basin("full", held)], { people: [{ id: "wren", hours: [0, 480, 0, 0, 0, 0, 0] }] })).toEqual(
      [],
    );
    const [weekly] = ask([
      basin("weekly", { worth: worthOf(0.95, 20, 0), most: 7, now: { days: [1, 4], everyWeeks: 1 } }),
    ]);
    expect(weekly?.proposed).toMatchObject({ calls: 1, everyWeeks: 1 });
  });

  it("go where somebody is anyway", () => {
    const ways = { known: { [pairOf("near", "stays")]: 2 }, usual: 30 };
    const stays = basin("stays", { fixed: [5], least: 7, now: { days: [5], everyWeeks: 1 } });
    const other = basin("other", { fixed: [1], least: 7, now: { days: [1], everyWeeks: 1 } });
    const [near] = ask([basin("near", { least: 7, now: { days: [1], everyWeeks: 1 } }), stays, other], {
      ways,
      changeWorth: 0.05,
      minuteWorth: 0.02,
    });
    expect(near).toMatchObject({ basin: "near", proposed: { days: [5], everyWeeks: 1 } });
  });
});

describe("a quote", () => {
  const like = (litres: number, products: number, minutes: number) => ({
    litres,
    products,
    minutes,
    worth: worthOf(0.95, 2, 0.6),
  });
  const week = {
    basins: [basin("near", { now: { days: [4], everyWeeks: 1 } })],
    people: [
      { id: "wren", hours: [480, 480, 480, 480, 480, 0, 0] },
      { id: "jory", hours: [0, 0, 0, 0, 0, 0, 0] },
    ],
    ways: { known: { [pairOf("near", "new")]: 4 }, usual: 20 },
    minuteWorth: 0.01,
    changeWorth: 0,
  };
  const asked = { litres: 50_000, site: "new", allowed: null, calls: 1 };

  it("adds up on paper, with the spread of the basins that are like it", () => {
    const basins = [like(40_000, 40, 30), like(50_000, 60, 40), like(60_000, 90, 50)];
    const quote = quoteOf(asked, basins, week, 35);
    // Median 1.2 of 1000 L in 30 days, 50 m³; one call a week is 30 / 7 in 30 days, at 35 each.
    expect(quote?.products.value).toBeCloseTo(60, 6);
    expect(quote?.price.value).toBeCloseTo(60 + (30 / 7) * 35, 6);
    // 40 minutes at the water and 4 to the only neighbor of that Thursday.
    expect(quote?.options).toMatchObject([{ person: "wren", days: [4], calls: 1 }]);
    expect(quote?.minutes.value).toBeCloseTo((30 / 7) * 44, 6);
    // Four of five between 1.04 and 1.44 of 1000 L.
    expect(quote?.products.low).toBeCloseTo(52, 6);
    expect(quote?.products.high).toBeCloseTo(72, 6);
    expect(quote?.like).toBe(3);
  });

  it("is unsure by one alone, calls as often as the water asks for, and is none without any", () => {
    const one = quoteOf({ ...asked, calls: null }, [like(50_000, 60, 40)], week, 35);
    expect(one?.products.value).toBeCloseTo(60, 6);
    expect(one?.products.low).toBeCloseTo(30, 6);
    expect(one?.products.high).toBeCloseTo(90, 6);
    expect(one?.options[0]?.calls).toBeGreaterThan(1);
    expect(quoteOf(asked, [], week, 35)).toBeNull();
  });
});
