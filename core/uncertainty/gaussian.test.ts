import { describe, expect, it } from "vitest";
import { seeded } from "../random";
import { drawerOf, factorOf } from "./gaussian";

describe("a Gaussian of several numbers", () => {
  it("is factored as on paper", () => {
    // √4 = 2; 2/2 = 1; √(5 − 1²) = 2.
    expect(
      factorOf([
        [4, 2],
        [2, 5],
      ]).map((row) => [...row]),
    ).toEqual([
      [2, 0],
      [1, 2],
    ]);
  });

  it("draws with its mean and covariance, and what is known is not drawn", () => {
    const random = seeded(3);
    const draw = drawerOf({
      mean: [1, -2, 7],
      covariance: [
        [4, 3, 0],
        [3, 9, 0],
        [0, 0, 0],
      ],
    });
    const draws = Array.from({ length: 20_000 }, () => draw(random));
    const mean = (of: (x: Float64Array) => number) => draws.reduce((sum, x) => sum + of(x), 0) / draws.length;
    expect(mean(([a]) => a as number)).toBeCloseTo(1, 1);
    expect(mean(([a = 0, b = 0]) => (a - 1) * (b + 2))).toBeCloseTo(3, 0);
    expect(mean(([, b = 0]) => (b + 2) ** 2)).toBeCloseTo(9, 0);
    expect(draws.every(([, , c]) => c === 7)).toBe(true);
  });

  it.each([
    ["not square", [[1, 0], [0]], "covariance.1"],
    [
      "not symmetric",
      [
        [1, 0.5],
        [0.4, 1],
      ],
      "covariance.1.0",
    ],
    [
      "of less than no variance",
      [
        [1, 2],
        [2, 1],
      ],
      "covariance.1.1",
    ],
    [
      "not a number",
      [
        [1, Number.NaN],
        [Number.NaN, 1],
      ],
      "covariance.1.0",
    ],
  ])("is refused where the matrix is %s", (_, covariance, field) => {
    expect(() => factorOf(covariance)).toThrow(expect.objectContaining({ field }));
  });
});
