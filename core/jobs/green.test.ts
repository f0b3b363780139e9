import loadHighs from "highs";
import { beforeAll, describe, expect, it } from "vitest";
import { type Highs, solverOf } from "../dosing/plan/highs";
import type { Solver } from "../dosing/plan/programme";
import { seeded } from "../random";
import { type GreenCall, type GreenInput, greenOutlook } from "./green-outlook";
import { treated } from "./green-pond.fixtures";

let solver: Solver;
beforeAll(async () => {
  solver = solverOf((await loadHighs()) as unknown as Highs);
});

const START = Date.UTC(2026, 5, 8, 8);
const HOUR = 3_600_000;
const call = (change: Partial<GreenCall> = {}): GreenCall => ({
  at: START,
  sight: 30,
  found: 0,
  left: null,
  ...change,
});
const asked = (change: Partial<GreenInput> = {}): GreenInput => ({
  calls: [call()],
  hour: 8,
  level: 12,
  outdoors: true,
  litres: 50_000,
  perMilligram: 0.5,
  perCall: 30,
  ...change,
});

describe("what is told of a green pool", () => {
  it("is longer and dearer the less deep one sees", () => {
    const by = ([150, 75, 35, 15] as const).map((sight) => greenOutlook(asked({ calls: [call({ sight })] })));
    for (const [index, one] of by.entries()) {
      expect(one.days.low).toBeLessThanOrEqual(one.days.value);
      expect(one.days.value).toBeLessThanOrEqual(one.days.high);
      const less = by[index - 1];
      if (!less) continue;
      expect(one.days.value).toBeGreaterThanOrEqual(less.days.value);
      expect(one.money.value).toBeGreaterThan(less.money.value);
    }
  });

  it("is the same for the same, and wider where nobody measured", () => {
    expect(greenOutlook(asked())).toEqual(greenOutlook(asked()));
    const spread = ({ days }: ReturnType<typeof greenOutlook>) => Math.log(days.high / days.low);
    expect(spread(greenOutlook(asked({ calls: [call({ sight: null })] })))).toBeGreaterThan(
      spread(greenOutlook(asked())),
    );
  });

  it("counts the calls and the chlorine by their prices", () => {
    const free = greenOutlook(asked({ perMilligram: 0, perCall: 0 })).money;
    expect(free).toEqual({ value: 0, low: 0, high: 0 });
    const calls = greenOutlook(asked({ perMilligram: 0, perCall: 10 }));
    // Twice a day, and the last one: days of ten and fourteen hours.
    expect(calls.money.value).toBeCloseTo(10 * (2 * calls.days.value + 1), 6);
  });

  it("follows what its calls find: a night that takes all is longer, one that takes none is nearly won", () => {
    const later = (evening: number, morning: number, sight: GreenCall["sight"]) =>
      greenOutlook(
        asked({
          calls: [
            call({ left: 12, sight: 90 }),
            call({ at: START + 10 * HOUR, found: evening, left: 12, sight }),
            call({ at: START + 24 * HOUR, found: morning, sight }),
          ],
        }),
      ).days;
    expect(later(0, 0, 60).value).toBeGreaterThan(later(8, 9, 120).value + 1);
    const first = greenOutlook(asked({ calls: [call({ sight: 90 })] })).days;
    const won = later(9, 11.5, "floor");
    expect(won.high).toBeLessThan(first.high);
    expect(won.value).toBeLessThanOrEqual(3);
  });
});

describe("green pools that share none of its laws", () => {
  it("are won by the recipe, in the days and for the money that were told, in nine of ten", () => {
    const pools = Array.from({ length: 40 }, (_, seed) => treated(seed + 1, solver));
    const won = pools.filter(({ days }) => days !== null);
    expect(won).toHaveLength(pools.length);
    const within = (value: number, { low, high }: { low: number; high: number }) =>
      value >= low - 1e-9 && value <= high + 1e-9;
    const days = pools.filter(({ days, told }) => within(days ?? 99, told.days)).length;
    const money = pools.filter(({ money, told }) => within(money, told.money)).length;
    // Nine of ten of forty, less what chance takes of them.
    expect(days).toBeGreaterThanOrEqual(33);
    expect(money).toBeGreaterThanOrEqual(33);
    // No interval that holds everything: half of them within a factor of four.
    const widths = pools.map(({ told }) => told.days.high / told.days.low).sort((a, b) => a - b);
    expect(widths[20]).toBeLessThan(4);
    for (const { ph, end } of pools) {
      // By the model of the water itself: acid on the first day, for chlorine to come.
      expect(ph.low).toBeGreaterThan(6.9);
      expect(ph.high).toBeLessThan(8.5);
      expect(end.sight).toBeGreaterThan(0.9 * end.depth);
    }
  });

  it("are told more narrowly from call to call", () => {
    const pools = Array.from({ length: 20 }, (_, seed) => treated(seed + 60, solver));
    const long = pools.filter(({ later }) => later.length >= 6);
    expect(long.length).toBeGreaterThan(2);
    const width = ({ days }: { days: { low: number; high: number } }) => days.high - days.low;
    const sum = (widths: number[]) => widths.reduce((all, one) => all + one, 0);
    const first = sum(long.map(({ told }) => width(told)));
    expect(sum(long.map(({ later }) => width(later[5] as never)))).toBeLessThan(0.95 * first);
  });

  it("differ from one another", () => {
    expect(seeded(1)()).not.toBe(seeded(2)());
    expect(treated(3, solver).days).not.toBe(treated(24, solver).days);
  });
});
