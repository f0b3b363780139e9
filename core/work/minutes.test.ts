import { describe, expect, it } from "vitest";
import { normal, seeded } from "../random";
import { learnMinutes, minutesFor, type VisitMoment } from "./minutes";

const MINUTE = 60_000;

describe("the minutes of a piece of work", () => {
  it("are the trade's until somebody timed it", () => {
    expect(minutesFor("brush", null)).toBe(8);
    expect(minutesFor("rinse the deck", {})).toBe(5);
    expect(minutesFor("brush", { brush: { minutes: 12, times: 9 } })).toBe(12);
  });

  it("are the time since what was written down before, and no more than a figure's weight at first", () => {
    const visit = (key: string, at: number): VisitMoment[] => [
      { visitId: `${at}`, key: null, at },
      { visitId: `${at}`, key, at: at + 16 * MINUTE },
    ];
    // One timing beside three times the usual 8: e^((3 ln 8 + ln 16) / 4) = 9.51.
    expect(learnMinutes(visit("brush", 0)).brush).toEqual({ minutes: expect.closeTo(9.514, 3), times: 1 });
    const many = Array.from({ length: 30 }, (_, index) => visit("brush", index * 1e9)).flat();
    // e^((3 ln 8 + 30 ln 16) / 33) = 15.02
    expect(learnMinutes(many).brush?.minutes).toBeCloseTo(15.02, 2);
  });

  it("leave out what was tapped without working, and what lay between for hours", () => {
    const at = (key: string | null, seconds: number): VisitMoment => ({
      visitId: "v",
      key,
      at: seconds * 1000,
    });
    expect(learnMinutes([at(null, 0), at("brush", 5)])).toEqual({});
    expect(learnMinutes([at(null, 0), at("brush", 5000)])).toEqual({});
    expect(learnMinutes([at("brush", 0)])).toEqual({});
    expect(learnMinutes([at(null, 0), at("refill", 9000)]).refill?.times).toBe(1);
  });

  it("are found again from hands that tap at once, later, or all together", () => {
    const truth: Record<string, number> = { skim: 6, brush: 14, vacuum: 11, filter: 18 };
    const random = seeded(5);
    const moments: VisitMoment[] = [];
    for (let call = 0; call < 40; call++) {
      let at = call * 1e9;
      const visitId = `${call}`;
      moments.push({ visitId, key: null, at });
      const together = random() < 0.3;
      const keys = Object.keys(truth).filter(() => random() < 0.8);
      for (const key of keys) {
        at += (truth[key] as number) * MINUTE * Math.exp(0.3 * normal(random));
        if (!together) moments.push({ visitId, key, at });
        // A test in between ends what was before it.
        if (random() < 0.3) {
          at += 4 * MINUTE;
          moments.push({ visitId, key: null, at });
        }
      }
      if (together)
        for (const [index, key] of keys.entries()) moments.push({ visitId, key, at: at + index * 3000 });
    }
    const learned = learnMinutes(moments);
    for (const [key, minutes] of Object.entries(truth)) {
      const off = Math.abs(Math.log((learned[key]?.minutes ?? 0) / minutes));
      expect(off, `${key}: ${learned[key]?.minutes}`).toBeLessThan(Math.log(1.25));
    }
  });
});
