import { describe, expect, it } from "vitest";
import {
  chanceUnder,
  chlorineToLeave,
  crossingsBefore,
  type ForecastPoint,
  figureAt,
  needOf,
} from "./outlook";

const DAY = 86_400_000;
/** Chlorine that halves in a day from 4, a deviation of 0.5 (half width 0.822); pH that climbs 0.1 a day from 7.5. */
const forecast: ForecastPoint[] = [0, 1, 2, 3, 4].map((day) => ({
  at: day * DAY,
  freeChlorine: around(4 / 2 ** day, 0.822),
  ph: around(7.5 + day / 10, 0.1),
}));
function around(value: number, half: number) {
  return { value, low: value - half, high: value + half };
}
const ranges = { freeChlorine: { low: 1.5, high: 8 }, ph: { low: 7.2, high: 7.8 } };

describe("a forecast", () => {
  it("tells the chance under a limit by the normal's table", () => {
    // Half of a central 90 % is 1.645 deviations: a deviation of one, two deviations under the value.
    const figure = around(5, 1.6449);
    expect(chanceUnder(figure, 5)).toBeCloseTo(0.5, 4);
    expect(chanceUnder(figure, 3)).toBeCloseTo(0.0228, 3);
    expect(chanceUnder(figure, 6)).toBeCloseTo(0.8413, 3);
    // Cut off at nothing: the scatter is what stands above.
    expect(chanceUnder({ value: 0.5, low: 0, high: 2.1449 }, 1.5)).toBeCloseTo(0.8413, 3);
    expect([chanceUnder(around(2, 0), 2.1), chanceUnder(around(2, 0), 1.9)]).toEqual([1, 0]);
  });

  it("is told between its points, and never outside them", () => {
    expect(figureAt(forecast, "freeChlorine", DAY / 2)).toEqual(around(3, 0.822));
    expect(figureAt(forecast, "freeChlorine", 2 * DAY)?.value).toBe(1);
    expect(figureAt(forecast, "freeChlorine", -1)).toBeNull();
    expect(figureAt(forecast, "freeChlorine", 5 * DAY)).toBeNull();
    expect(figureAt(forecast, "calciumHardness", DAY)).toBeNull();
  });
});

describe("an edge", () => {
  it("is passed from when on it is likelier than not, and as likely as at the worst of the days before", () => {
    const [first, ...rest] = crossingsBefore(forecast, ranges, 3 * DAY);
    // 2 at one day, 1 at two: chances 0.16 and 0.84, so half way.
    expect(first).toMatchObject({ quantity: "freeChlorine", edge: "low", limit: 1.5 });
    expect((first?.at ?? 0) / DAY).toBeCloseTo(1.5, 2);
    expect(first?.chance).toBeGreaterThan(0.97);
    // The pH stands at 7.8 on the third day: as likely as not, and told.
    expect(rest.map(({ quantity, edge }) => `${quantity} ${edge}`)).toEqual(["ph high"]);
  });

  it("is not told after the day that was asked for, nor where the forecast does not reach", () => {
    expect(crossingsBefore(forecast, ranges, DAY)).toEqual([]);
    expect(crossingsBefore(forecast, ranges, 1.25 * DAY)).toEqual([]);
    expect(crossingsBefore(forecast, ranges, 1.6 * DAY)).toHaveLength(1);
    expect(crossingsBefore(forecast, {}, 4 * DAY)).toEqual([]);
    expect(crossingsBefore([], ranges, 4 * DAY)).toEqual([]);
  });

  it("that is passed already is passed from the first moment on", () => {
    expect(crossingsBefore(forecast.slice(2), ranges, 4 * DAY)[0]?.at).toBe(2 * DAY);
  });
});

describe("need", () => {
  it("puts closed water first, then chlorine under its floor, then what is slow", () => {
    const low = crossingsBefore(forecast, { freeChlorine: { low: 1.5 } }, 3 * DAY);
    const high = crossingsBefore(forecast, { ph: { high: 7.6 } }, 3 * DAY);
    const nothing = { out: 0, closes: false };
    const needs = [
      needOf([], { out: 1, closes: true }),
      needOf(low, nothing),
      needOf(high, nothing),
      needOf([], { out: 1, closes: false }),
      needOf([], nothing),
    ];
    expect(needs).toEqual([...needs].sort((a, b) => b - a));
    expect(new Set(needs).size).toBe(needs.length);
    expect(needs.at(-1)).toBe(0);
  });
});

describe("chlorine to leave", () => {
  const sure = (value: number) => around(value, 0);
  it("is the floor over what is left of it by then", () => {
    // A third a day over three days leaves 8/27.
    expect(chlorineToLeave({ chlorineLoss: sure(1 / 3) }, 2, 3)).toBeCloseTo((2 * 27) / 8, 6);
    expect(chlorineToLeave({ chlorineLoss: sure(0) }, 2, 3)).toBeCloseTo(2, 4);
  });

  it("is more where the loss is less sure, and less where a feeder helps", () => {
    const loss = around(0.3, 0.1);
    const unfed = chlorineToLeave({ chlorineLoss: loss }, 2, 3);
    expect(unfed).toBeGreaterThan(chlorineToLeave({ chlorineLoss: sure(0.3) }, 2, 3));
    const fed = chlorineToLeave({ chlorineLoss: loss, feeder: around(0.5, 0.2) }, 2, 3);
    expect(fed).toBeLessThan(unfed);
    // A feeder that gives more than is lost holds the floor by itself.
    expect(chlorineToLeave({ chlorineLoss: loss, feeder: around(3, 0.2) }, 2, 3)).toBe(2);
  });

  it("stays a number whatever is lost", () => {
    const answer = chlorineToLeave({ chlorineLoss: { value: 1, low: 0.9, high: 1 } }, 2, 7);
    expect(Number.isFinite(answer)).toBe(true);
    expect(answer).toBeGreaterThan(1e6);
  });
});
