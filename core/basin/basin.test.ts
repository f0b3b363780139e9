import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { areaOf, breadthAt, outlineOf } from "./outline";
import { type BasinShape, volumeByDose, volumeByMeter, volumeOf } from "./volume";

const basin = (part: Partial<BasinShape>): BasinShape => ({
  outline: { kind: "rectangle", length: 10, width: 5 },
  floor: { kind: "constant", depth: 1.5 },
  waterLine: 0,
  blocks: [],
  ...part,
});

describe("an outline", () => {
  it("has the area of its shape", () => {
    expect(areaOf(outlineOf({ kind: "rectangle", length: 10, width: 5 }))).toBe(50);
    expect(areaOf(outlineOf({ kind: "circle", diameter: 4 }))).toBeCloseTo(Math.PI * 4, 4);
    expect(areaOf(outlineOf({ kind: "oval", length: 8, width: 4 }))).toBeCloseTo(Math.PI * 8, 4);
    expect(areaOf(outlineOf({ kind: "L", length: 10, width: 6, cutLength: 4, cutWidth: 3 }))).toBe(48);
    // The trade's rule for a kidney: 0.45 × (A + B) × length
    expect(areaOf(outlineOf({ kind: "kidney", length: 9, widths: [4, 5.5] })) / (0.45 * 9.5 * 9)).toBeCloseTo(
      1,
      1,
    );
  });

  it("from offsets is the trapezoids between them", () => {
    const stations = [
      { at: 0, left: 0, right: 0 },
      { at: 2, left: 1.5, right: 1 },
      { at: 5, left: 2, right: 2 },
      { at: 8, left: 0, right: 1 },
    ];
    // (0 + 2.5)/2 × 2 + (2.5 + 4)/2 × 3 + (4 + 1)/2 × 3
    expect(areaOf(outlineOf({ kind: "offsets", stations }))).toBeCloseTo(2.5 + 9.75 + 7.5, 12);
  });

  it("has breadths that make up its area", () => {
    for (const shape of [
      { kind: "kidney", length: 9, widths: [4, 5.5] },
      { kind: "L", length: 10, width: 6, cutLength: 4, cutWidth: 3 },
    ] as const) {
      const outline = outlineOf(shape);
      const steps = 4000;
      let sum = 0;
      for (let step = 0; step < steps; step++)
        sum += (breadthAt(outline, ((step + 0.5) / steps) * shape.length) * shape.length) / steps;
      expect(sum / areaOf(outline)).toBeCloseTo(1, 3);
    }
  });

  it.each([
    [{ kind: "rectangle", length: 0, width: 5 }, "length: too-low"],
    [{ kind: "circle", diameter: -1 }, "diameter: too-low"],
    [{ kind: "L", length: 5, width: 5, cutLength: 6, cutWidth: 1 }, "cutLength: too-high"],
    [{ kind: "offsets", stations: [{ at: 0, left: 1, right: 1 }] }, "stations: missing"],
    [{ kind: "star" }, "kind: unknown"],
  ])("%o is refused", (shape, said) => {
    expect(() => outlineOf(shape as Parameters<typeof outlineOf>[0])).toThrow(said);
  });
});

describe("a volume", () => {
  it.each([
    ["a box", {}, 75_000],
    ["a slope: 50 m² × (1.0 + 2.0)/2", { floor: { kind: "sloped", shallow: 1, deep: 2 } }, 75_000],
    ["with the water 10 cm down", { waterLine: 0.1 }, 70_000],
    // 4 m at 1.2, 2 m down to 2.4 (mean 1.8), 3 m at 2.4, 1 m up to 1.8 (mean 2.1): (4.8 + 3.6 + 7.2 + 2.1) × 5
    [
      "a hopper",
      {
        floor: {
          kind: "hopper",
          shallow: 1.2,
          deep: 2.4,
          endWall: 1.8,
          slopeFrom: 4,
          deepFrom: 6,
          deepTo: 9,
        },
      },
      88_500,
    ],
    // 3 m at 0.9 and 7 m at 1.6: (2.7 + 11.2) × 5
    [
      "steps in the floor",
      {
        floor: {
          kind: "stepped",
          steps: [
            { from: 0, depth: 0.9 },
            { from: 3, depth: 1.6 },
          ],
        },
      },
      69_500,
    ],
    // a beach: dry for a quarter, then a wedge: 7.5 m × 5 × 1.5/2
    ["a beach entry", { floor: { kind: "sloped", shallow: 0, deep: 2 }, waterLine: 0.5 }, 28_125],
    [
      "a spa with a bench: 2 × 2 × 0.9 less 4 × 0.4 × 0.45",
      {
        outline: { kind: "rectangle", length: 2, width: 2 },
        floor: { kind: "constant", depth: 0.9 },
        blocks: [{ length: 4, width: 0.4, height: 0.45 }],
      },
      2880,
    ],
    // L: 6 × 6 at 1.0 … the arm 4 × 3 at the same depth
    [
      "an L",
      {
        outline: { kind: "L", length: 10, width: 6, cutLength: 4, cutWidth: 3 },
        floor: { kind: "constant", depth: 1 },
      },
      48_000,
    ],
  ] as [string, Partial<BasinShape>, number][])("of %s", (_, part, litres) => {
    expect(volumeOf(basin(part)).litres).toBeCloseTo(litres, 1);
  });

  it("of a round basin with a sloped floor is its area times the mean depth", () => {
    const { litres, surface } = volumeOf(
      basin({ outline: { kind: "circle", diameter: 6 }, floor: { kind: "sloped", shallow: 1, deep: 2 } }),
    );
    expect(litres / (Math.PI * 9 * 1.5 * 1000)).toBeCloseTo(1, 5);
    expect(surface).toBeCloseTo(Math.PI * 9, 4);
  });

  it("grows with every measure", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 2, max: 25, noNaN: true }),
        fc.double({ min: 1, max: 3, noNaN: true }),
        (length, depth) => {
          const at = (longer: number, deeper: number) =>
            volumeOf(
              basin({
                outline: { kind: "kidney", length: length + longer, widths: [3, 4] },
                floor: { kind: "sloped", shallow: 1, deep: depth + deeper },
              }),
            ).litres;
          expect(at(0.5, 0)).toBeGreaterThan(at(0, 0));
          expect(at(0, 0.5)).toBeGreaterThan(at(0, 0));
        },
      ),
      { numRuns: 20 },
    );
  });

  it("is refused when nothing is left, or a depth is none", () => {
    expect(() => volumeOf(basin({ waterLine: 1.5 }))).toThrow("volume: too-low");
    expect(() => volumeOf(basin({ floor: { kind: "constant", depth: 40 } }))).toThrow(
      "floor.depth: too-high",
    );
  });

  it("by meter is what ran through", () => {
    expect(volumeByMeter(120.5, 158.3, "m3").litres).toBeCloseTo(37_800, 6);
    expect(() => volumeByMeter(158, 120, "m3")).toThrow("after: too-low");
  });

  it("by a known dose comes with its interval", () => {
    // 1000 g of bicarbonate at 99 % are 11.785 eq; TA from 80 (70–80) to 100 (90–100)
    const eq = (ppm: number) => ppm / 50_040;
    const found = volumeByDose(
      { value: 11.785, low: 11.5, high: 12 },
      { value: eq(80), low: eq(70), high: eq(80) },
      { value: eq(100), low: eq(90), high: eq(100) },
    );
    expect(found.litres).toBeCloseTo(29_486, 0);
    // from 30 ppm of change to 10
    expect(found.low).toBeCloseTo(19_182, 0);
    expect(found.high).toBeCloseTo(60_048, 0);
    const unsure = volumeByDose(
      { value: 1, low: 1, high: 1 },
      { value: 1, low: 0.5, high: 1.2 },
      { value: 1.3, low: 1.1, high: 1.5 },
    );
    expect(unsure.high).toBeNull();
  });
});
