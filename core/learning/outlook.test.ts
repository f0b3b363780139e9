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
  const ahead = { now: 4, atCall: sure(4 / 8), loss: sure(0.5), days: 3 };

  it("is the floor over what is left of it by then", () => {
    expect(chlorineToLeave(ahead, 1.2)).toBeCloseTo(1.2 * 8, 6);
    expect(chlorineToLeave({ ...ahead, days: 0, atCall: sure(4) }, 1.2)).toBeCloseTo(1.2, 6);
    // What is fed on the way stands in the forecast: half a mg/L of it at the call takes four from what is left.
    expect(chlorineToLeave({ ...ahead, atCall: sure(1) }, 1.2)).toBeCloseTo(1.2 * 8 - 4, 6);
  });

  it("is more by what nine chances in ten ask for", () => {
    // A scatter of 0.2 at the call is 0.256 more there, eight times that at the start.
    const wide = { ...ahead, atCall: around(0.5, 0.2 * 1.6449) };
    expect(chlorineToLeave(wide, 1.2)).toBeCloseTo((1.2 + 0.2563) * 8, 2);
    expect(chlorineToLeave({ ...ahead, loss: around(0.5, 0.05) }, 1.2)).toBeGreaterThan(1.2 * 8);
  });

  it("is the floor at least, and none where nothing would do", () => {
    expect(chlorineToLeave({ ...ahead, atCall: sure(6) }, 1.2)).toBe(1.2);
    expect(chlorineToLeave({ ...ahead, loss: sure(0.99), atCall: sure(0) }, 1.2)).toBeNull();
    expect(chlorineToLeave({ ...ahead, loss: around(0.8, 0.2) }, 1.2)).toBeNull();
  });
});
