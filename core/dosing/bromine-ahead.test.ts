import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { normal, seeded } from "../random";
import { bromineAhead, bromineRate } from "./bromine-ahead";

const RANGE = { low: 4.5, high: 6, aim: 5.5, closeBelow: 4, closeAbove: 8 };

describe("the loss of bromine", () => {
  it("is the usual one until there is an interval, and lies between both then", () => {
    expect(bromineRate(null)).toEqual({ rate: 0.3, deviation: 0.5 });
    expect(bromineRate({ before: 6, added: 0, now: 6, days: 0.1 }).rate).toBe(0.3);
    // ln(6 / 3) / 2 = 0.3466; weights 4 and 6.25: exp((4 ln 0.3 + 6.25 ln 0.3466) / 10.25) = 0.3276
    expect(bromineRate({ before: 6, added: 0, now: 3, days: 2 }).rate).toBeCloseTo(0.3276, 3);
    // What went in counts: 3 + 3 came to 3.
    expect(bromineRate({ before: 3, added: 3, now: 3, days: 2 }).rate).toBeCloseTo(0.3276, 3);
    expect(bromineRate({ before: 0, added: 0, now: 0, days: 2 }).rate).toBe(0.3);
  });
  it("is never below nothing, and surer than before", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0.3, max: 30, noNaN: true }),
        (before, added, now, days) => {
          const { rate, deviation } = bromineRate({ before, added, now, days });
          expect(rate).toBeGreaterThan(0);
          expect(deviation).toBeLessThanOrEqual(0.5);
        },
      ),
    );
  });
});

describe("what to leave", () => {
  it("is the aim without a next call, more with one, and no more than the band", () => {
    const slow = { rate: 0.05, deviation: 0.2 };
    expect(bromineAhead(RANGE, slow, null)).toMatchObject({ leave: 5.5, willNotLast: false });
    expect(bromineAhead(RANGE, slow, 4).leave).toBeGreaterThan(5.5);
    const fast = bromineAhead(RANGE, { rate: 0.4, deviation: 0.3 }, 3);
    expect(fast).toMatchObject({ leave: 6, willNotLast: true });
    expect(fast.found.value).toBeCloseTo(6 * Math.exp(-1.2), 6);
  });
  it("stands over its floor nine times in ten where it lasts: in waters that lose by chance", () => {
    const random = seeded(7);
    let under = 0;
    let calls = 0;
    for (let basin = 0; basin < 400; basin++) {
      const own = 0.06 * Math.exp(0.3 * normal(random));
      const rate = bromineRate({ before: 6, added: 0, now: 6 * Math.exp(-own * 2), days: 2 });
      // The next days lose as these did, more or less, by another law than the rate's: a share each day.
      const plan = bromineAhead({ ...RANGE, high: 8 }, rate, 2);
      if (plan.willNotLast) continue;
      let left = plan.leave;
      for (let day = 0; day < 2; day++) left *= 1 - Math.min(0.9, own * Math.exp(0.3 * normal(random)));
      calls += 1;
      if (left < RANGE.low) under += 1;
    }
    expect(calls).toBeGreaterThan(300);
    expect(under / calls).toBeLessThan(0.1);
  });
});
