import { describe, expect, it } from "vitest";
import { outcomeOf } from "./outcome";

const rise = { before: 60, promised: 100, low: 92, high: 108 };
const read = (value: number, drop = 10) => ({ value, low: value - drop, high: value });

describe("a retest against its promise", () => {
  it("is as promised while the brackets meet", () => {
    expect(outcomeOf(rise, read(100))).toMatchObject({ verdict: "as-promised", ratio: 1 });
    expect(outcomeOf(rise, read(92)).verdict).toBe("as-promised");
    expect(outcomeOf(rise, read(110)).verdict).toBe("as-promised");
  });

  it("fell short, or went beyond, by the way it was to go", () => {
    expect(outcomeOf(rise, read(80))).toMatchObject({ verdict: "fell-short", ratio: 0.5 });
    expect(outcomeOf(rise, read(130)).verdict).toBe("went-beyond");
    const fall = { before: 8, promised: 7.5, low: 7.4, high: 7.6 };
    expect(outcomeOf(fall, { value: 7.8, low: 7.7, high: 7.9 }).verdict).toBe("fell-short");
    expect(outcomeOf(fall, { value: 7, low: 6.9, high: 7.1 }).verdict).toBe("went-beyond");
  });

  it("has no ratio where next to nothing was promised", () => {
    expect(outcomeOf({ before: 100, promised: 101, low: 92, high: 110 }, read(110)).ratio).toBeNull();
  });

  it("takes an open bracket as reaching everywhere", () => {
    expect(outcomeOf(rise, { value: 100, low: 100, high: null }).verdict).toBe("as-promised");
  });
});
