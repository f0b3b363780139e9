import { describe, expect, it } from "vitest";
import { methodOf } from "../practice.fixtures";
import { alkalinity, dpd, hardness, PATH, phenol, phenolPk, pinkOf, salt, totalYellow } from "./looks";
import { colourName, differenceOf, type hexOf } from "./names";
import { BANDS, lightThrough, peaks } from "./spectrum";

const marksOf = (id: string): number[] => {
  const method = methodOf(id);
  return "marks" in method ? method.marks : [];
};
const apart = <T>(list: readonly T[], of: (one: T) => Parameters<typeof hexOf>[0]): number[] =>
  list.slice(1).map((one, index) => differenceOf(of(list[index] as T), of(one)));
const standard = (ph: number) => phenol({ ph, chlorine: 1, temperature: 25, solids: 1000 });

describe("light through a liquid", () => {
  it("is white where nothing is in its way, and without colour where every band is weakened alike", () => {
    for (const share of [0, 0.3, 1]) {
      const { r, g, b } = lightThrough(BANDS.map(() => share));
      expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(0.012);
    }
    expect(lightThrough(BANDS.map(() => 3)).g).toBeLessThan(0.03);
  });

  it("follows Beer and Lambert: twice the path is twice the dye", () => {
    const dye = peaks([{ at: 520, width: 30, height: 0.4 }]);
    const twice = lightThrough(dye.map((one) => 2 * one));
    expect(dpd(1.5, 2)).toEqual(dpd(3, 1));
    // At its top the dye is as high as it says.
    expect(dye[6]).toBeCloseTo(0.4, 9);
    expect(twice.g).toBeLessThan(lightThrough(dye).g);
  });

  it("comes out as the complement of what is absorbed", () => {
    const { r, g, b } = lightThrough(peaks([{ at: 540, width: 40, height: 1.5 }]));
    expect(g).toBeLessThan(Math.min(r, b));
    const yellow = lightThrough(peaks([{ at: 440, width: 40, height: 1.5 }]));
    expect(yellow.b).toBeLessThan(Math.min(yellow.r, yellow.g));
  });
});

describe("the colours of the tests", () => {
  it("make DPD pink in proportion, to 5 mg/L of a cell's drops, and bleach it beyond", () => {
    for (const chlorine of [0.5, 1, 2, 4, 5]) expect(pinkOf(chlorine, 5)).toBeCloseTo(chlorine, 9);
    expect(pinkOf(7, 5)).toBeCloseTo(3, 9);
    expect(pinkOf(10, 5)).toBe(0);
    expect(pinkOf(30, 5)).toBe(0);
    expect(colourName(dpd(0, PATH.vessel))).toBe("clear");
    expect(["pink", "deep pink"]).toContain(colourName(dpd(2, PATH.vessel)));
    // Fading drop by drop: each drop of 0.2 mg/L near the end is seen, and the last most of all.
    const fading = [1, 0.8, 0.6, 0.4, 0.2, 0].map((left) => dpd(left, PATH.vessel));
    const steps = fading.slice(1).map((one, index) => differenceOf(fading[index] ?? one, one));
    for (const step of steps) expect(step).toBeGreaterThan(2);
    expect(steps.at(-1)).toBe(Math.max(...steps));
  });

  it("can be told apart on a screen from one comparator standard to the next", () => {
    const chlorine = apart(marksOf("total-chlorine-dpd"), (mark) => dpd(mark, PATH.cell));
    const ph = apart(marksOf("ph-phenol-red"), standard);
    // Rough as it is: the yellow of the other drops, by the basic kit's standards.
    const yellow = apart([0.5, 1, 2, 3, 5, 10], (mark) => totalYellow(mark, PATH.cell));
    for (const step of [...chlorine, ...ph, ...yellow]) expect(step).toBeGreaterThan(5);
  });

  it("turn phenol red at its pK: 7.9 at 25 °C in a usual water, lower where it is warm or salt", () => {
    expect(phenolPk(25, 0)).toBeCloseTo(8.03, 2);
    expect(Math.abs(phenolPk(25, 700) - 7.9)).toBeLessThan(0.05);
    expect(phenolPk(38, 700)).toBeLessThan(phenolPk(25, 700) - 0.07);
    expect(phenolPk(25, 3500)).toBeLessThan(phenolPk(25, 700) - 0.1);
    expect(["yellow", "orange"]).toContain(colourName(standard(6.8)));
    expect(["deep pink", "purple", "red"]).toContain(colourName(standard(8.2)));
    // Under much chlorine it is purple whatever the pH.
    const purple = phenol({ ph: 7.2, chlorine: 16, temperature: 25, solids: 1000 });
    expect(["violet", "purple"]).toContain(colourName(purple));
  });

  it("take alkalinity from green to red, and where chlorine was not taken out from blue to yellow", () => {
    expect(colourName(alkalinity(7.5, 0))).toBe("green");
    expect(["grey", "yellow"]).toContain(colourName(alkalinity(5.2, 0)));
    expect(["red", "deep pink", "pink"]).toContain(colourName(alkalinity(4.2, 0)));
    expect(["blue", "green"]).toContain(colourName(alkalinity(7.5, 1)));
    expect(differenceOf(alkalinity(7.5, 1), alkalinity(7.5, 0))).toBeGreaterThan(15);
    expect(["yellow", "green"]).toContain(colourName(alkalinity(3.6, 1)));
    expect(differenceOf(alkalinity(4.2, 1), alkalinity(4.2, 0))).toBeGreaterThan(25);
  });

  it("take hardness from red-violet to blue, and leave it purple where copper holds it", () => {
    expect(["pink", "deep pink", "purple", "violet"]).toContain(colourName(hardness(0, 0)));
    expect(colourName(hardness(1, 0))).toBe("blue");
    expect(differenceOf(hardness(0, 0), hardness(1, 0))).toBeGreaterThan(35);
    // The end that fades: far from the blue that is waited for.
    expect(differenceOf(hardness(1, 0.85), hardness(1, 0))).toBeGreaterThan(20);
    expect(["purple", "violet"]).toContain(colourName(hardness(0.4, 0.85)));
  });

  it("take salt from yellow to brick red", () => {
    expect(colourName(salt(0))).toBe("yellow");
    expect(["red", "orange", "brown"]).toContain(colourName(salt(1)));
  });
});
