import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { normal, seeded } from "../random";
import { normalTail, normalUnder } from "../uncertainty/normal";
import { BasinBelief, Shared } from "./belief";
import { foundBy } from "./reading";
import { POPULATIONS, TOLD_FROM, weigh } from "./weigh";

/** The same as one big Gaussian, the plain way. */
class Plain {
  covariance: number[][];
  constructor(
    public mean: number[],
    deviation: number[],
  ) {
    this.covariance = deviation.map((own, row) =>
      deviation.map((_, column) => (row === column ? own * own : 0)),
    );
  }
  propagate(map: number[][], constant: number[], noise: number[]): void {
    const times = (a: number[][], b: number[][]) =>
      a.map(
        (row) =>
          b[0]?.map((_, column) => row.reduce((sum, one, k) => sum + one * (b[k]?.[column] ?? 0), 0)) ?? [],
      );
    this.mean = map.map((row, i) =>
      row.reduce((sum, one, k) => sum + one * (this.mean[k] ?? 0), constant[i] ?? 0),
    );
    const turned = map[0]?.map((_, column) => map.map((row) => row[column] ?? 0)) ?? [];
    this.covariance = times(times(map, this.covariance), turned).map((row, i) =>
      row.map((one, j) => one + (i === j ? (noise[i] ?? 0) : 0)),
    );
  }
  update(row: number[], off: number, noise: number): void {
    const along = this.covariance.map((line) => line.reduce((sum, one, k) => sum + one * (row[k] ?? 0), 0));
    const total = along.reduce((sum, one, k) => sum + one * (row[k] ?? 0), 0) + noise;
    this.mean = this.mean.map((one, i) => one + ((along[i] ?? 0) / total) * off);
    this.covariance = this.covariance.map((line, i) =>
      line.map((one, j) => one - ((along[i] ?? 0) * (along[j] ?? 0)) / total),
    );
  }
}

describe("a belief in parts", () => {
  it("is the same as one Gaussian over everything, whatever is learned", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const random = seeded(seed);
        const draw = () => normal(random);
        const size = 3;
        const shared = new Shared();
        const places = [shared.add(0.3), shared.add(0.5)];
        const basins = [0, 1].map(() => new BasinBelief(size, [1, 2, 3], [0.5, 1, 2]));
        // Unknowns of the first basin, of the second, then what they share.
        const plain = new Plain([1, 2, 3, 1, 2, 3, 0, 0], [0.5, 1, 2, 0.5, 1, 2, 0.3, 0.5]);
        for (let step = 0; step < 12; step++) {
          const which = step % 2;
          const belief = basins[which] as BasinBelief;
          const first = which * size;
          if (step % 3 === 0) {
            const map = Array.from({ length: size }, (_, i) =>
              Array.from({ length: size }, (_, j) => (i === j ? 0.9 : 0.1 * draw())),
            );
            const constant = [draw(), draw(), draw()];
            const noise = [0.1, 0.2, 0.3];
            belief.propagate(
              shared,
              Float64Array.from(map.flat()),
              Float64Array.from(constant),
              Float64Array.from(noise),
            );
            const all = 2 * size + 2;
            const inside = (i: number) => i >= first && i < first + size;
            plain.propagate(
              Array.from({ length: all }, (_, i) =>
                Array.from({ length: all }, (_, j) =>
                  inside(i) ? (inside(j) ? (map[i - first]?.[j - first] ?? 0) : 0) : i === j ? 1 : 0,
                ),
              ),
              Array.from({ length: all }, (_, i) => (inside(i) ? (constant[i - first] ?? 0) : 0)),
              Array.from({ length: all }, (_, i) => (inside(i) ? (noise[i - first] ?? 0) : 0)),
            );
          }
          if (step % 4 === 1) {
            const place = places[step % 2] as number;
            const amounts = [draw(), draw(), 0];
            const mean = shared.mean[place] as number;
            belief.hang(shared, place, Float64Array.from(amounts));
            const all = 2 * size + 2;
            plain.propagate(
              Array.from({ length: all }, (_, i) =>
                Array.from({ length: all }, (_, j) =>
                  i === j
                    ? 1
                    : j === 2 * size + place && i >= first && i < first + size
                      ? (amounts[i - first] ?? 0)
                      : 0,
                ),
              ),
              Array.from({ length: all }, (_, i) =>
                i >= first && i < first + size ? -(amounts[i - first] ?? 0) * mean : 0,
              ),
              Array(all).fill(0),
            );
          }
          const row = [draw(), draw(), draw()];
          const weight = draw();
          const place = places[(step >> 1) % 2] as number;
          const off = draw();
          belief.update(shared, belief.spread(shared, Float64Array.from(row), [{ place, weight }]), off, 0.4);
          const whole = Array(2 * size + 2).fill(0);
          row.forEach((one, k) => {
            whole[first + k] = one;
          });
          whole[2 * size + place] = weight;
          plain.update(whole, off, 0.4);
        }
        basins.forEach((belief, which) => {
          const first = which * size;
          belief.mean(shared).forEach((one, k) => {
            expect(one).toBeCloseTo(plain.mean[first + k] as number, 8);
          });
          const covariance = belief.covariance(shared);
          for (let i = 0; i < size; i++)
            for (let j = 0; j < size; j++)
              expect(covariance[i * size + j]).toBeCloseTo(
                plain.covariance[first + i]?.[first + j] as number,
                8,
              );
        });
        for (const place of places)
          expect(shared.mean[place]).toBeCloseTo(plain.mean[2 * size + place] as number, 8);
      }),
      { numRuns: 80 },
    );
  });

  it("keeps what hung on something that is let go", () => {
    const shared = new Shared();
    const place = shared.add(0.5);
    const belief = new BasinBelief(1, [2], [1]);
    belief.hang(shared, place, Float64Array.of(2));
    const before = belief.covariance(shared)[0] as number;
    expect(before).toBeCloseTo(1 + 4 * 0.25, 12);
    belief.cut(shared, place);
    shared.drop(place);
    expect(belief.covariance(shared)[0]).toBeCloseTo(before, 12);
    expect(shared.add(0.1)).toBe(place);
    expect(belief.covariance(shared)[0]).toBeCloseTo(before, 12);
  });
});

describe("the normal", () => {
  it("is as tables have it", () => {
    for (const [z, chance] of [
      [0, 0.5],
      [1, 0.8413447],
      [1.6449, 0.95],
      [-1.96, 0.0249979],
      [3, 0.9986501],
    ] as const)
      expect(normalUnder(z)).toBeCloseTo(chance, 5);
    // Mean of a standard normal beyond zero: √(2/π).
    expect(normalTail(0)).toBeCloseTo(0.797885, 5);
    expect(normalTail(8)).toBeCloseTo(8.12, 1);
  });
});

describe("a reading at the end of its scale", () => {
  const open = { quantity: "ph", value: 8.2, low: 8.2, high: Number.POSITIVE_INFINITY } as const;
  it("tells much where the scale's end was not expected, and nothing where it was", () => {
    expect(foundBy(open, { mean: 9.5, variance: 0.01 })).toBeNull();
    const told = foundBy(open, { mean: 7.6, variance: 0.09 });
    // Prior 7.6 ± 0.3 and the measure together lie just above the end.
    const variance = 1 / (1 / 0.09 + 1 / (told?.variance ?? 1));
    const mean = variance * (7.6 / 0.09 + (told?.value ?? 0) / (told?.variance ?? 1));
    expect(mean).toBeGreaterThan(8.2);
    expect(mean).toBeLessThan(8.4);
  });
  it("within its scale is its middle, as sure as its width", () => {
    const told = foundBy(
      { quantity: "totalAlkalinity", value: 100, low: 90, high: 100 },
      { mean: 120, variance: 100 },
    );
    expect(told?.value).toBe(95);
    expect(told?.variance).toBeCloseTo(100 / 12 + 9 + 1, 9);
  });
});

describe("a suspicion", () => {
  it("is none where the log tells nothing, and sure where it tells much", () => {
    const prior = 0.09;
    const nothing = weigh({ mean: 0, variance: prior * 0.999 }, prior, POPULATIONS.volume);
    // What was believed of books before, and far from being told.
    expect(nothing.chance).toBeLessThan(TOLD_FROM / 2);
    expect(nothing.ratio.value).toBeCloseTo(1, 6);
    const much = weigh({ mean: Math.log(1.3), variance: 0.0009 }, prior, POPULATIONS.volume);
    expect(much.chance).toBeGreaterThan(0.99);
    expect(much.ratio.value).toBeCloseTo(1.29, 1);
    const fine = weigh({ mean: 0.02, variance: 0.0009 }, prior, POPULATIONS.volume);
    expect(fine.chance).toBeLessThan(0.05);
  });
});
