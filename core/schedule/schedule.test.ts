import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { cadenceWith, USUAL_CADENCE } from "./cadence";
import { type CallPlan, calledOn, callsBetween, inSeason, lastCall, nextCall } from "./calls";
import { addDays, daysBetween, isDay, mondayOf, weekdayOf } from "./days";
import { dueTasks, type TaskInput } from "./tasks";

const plan = (change: Partial<CallPlan> = {}): CallPlan => ({
  callDays: [2, 5],
  everyWeeks: 1,
  weeksFrom: "2026-05-04",
  season: null,
  ...change,
});

describe("days", () => {
  it("knows the calendar", () => {
    // 24 November 2026 is a Tuesday; 2028 is a leap year.
    expect(weekdayOf("2026-11-24")).toBe(2);
    expect(mondayOf("2026-11-29")).toBe("2026-11-23");
    expect(addDays("2028-02-28", 1)).toBe("2028-02-29");
    expect(daysBetween("2026-12-31", "2027-01-01")).toBe(1);
    expect(isDay("2026-02-29")).toBe(false);
    expect(isDay("2026-1-1")).toBe(false);
  });
});

describe("the days of calls", () => {
  it("are the weekdays of the plan", () => {
    expect(callsBetween(plan(), "2026-11-23", "2026-11-29")).toEqual(["2026-11-24", "2026-11-27"]);
  });
  it("skip the weeks between when it is every other one, over new year too", () => {
    const every = plan({ callDays: [2], everyWeeks: 2, weeksFrom: "2026-11-25" });
    expect(callsBetween(every, "2026-11-01", "2027-01-10")).toEqual([
      "2026-11-10",
      "2026-11-24",
      "2026-12-08",
      "2026-12-22",
      "2027-01-05",
    ]);
  });
  it("stay within the season, which may span new year", () => {
    expect(inSeason("2026-09-30", { from: "05-01", to: "09-30" })).toBe(true);
    expect(inSeason("2026-10-01", { from: "05-01", to: "09-30" })).toBe(false);
    expect(inSeason("2027-01-15", { from: "11-15", to: "03-31" })).toBe(true);
    expect(inSeason("2027-04-01", { from: "11-15", to: "03-31" })).toBe(false);
    expect(nextCall(plan({ season: { from: "05-01", to: "09-30" } }), "2026-10-02")).toBe("2027-05-04");
  });
  it("have a last one before a day, as far back as is asked", () => {
    expect(lastCall(plan(), "2026-11-24", 14)).toBe("2026-11-20");
    expect(lastCall(plan(), "2026-11-24", 3)).toBeNull();
  });
  it("are none when no weekday is set", () => {
    expect(nextCall(plan({ callDays: [] }), "2026-01-01")).toBeNull();
  });
  it("have the next call as the first after a day", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 3000 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
        fc.integer({ min: 1, max: 26 }),
        (ahead, callDays, everyWeeks) => {
          const day = addDays("2024-01-01", ahead);
          const some = plan({ callDays, everyWeeks });
          const next = nextCall(some, day);
          if (!next) throw new Error("there is always one");
          expect(calledOn(some, next)).toBe(true);
          expect(callsBetween(some, addDays(day, 1), addDays(next, -1))).toEqual([]);
          // Never farther away than the interval and a week.
          expect(daysBetween(day, next)).toBeLessThanOrEqual((everyWeeks + 1) * 7);
          // And from the day after it, the last one looking back.
          expect(lastCall(some, addDays(next, 1), 1)).toBe(next);
          expect(lastCall(some, next, daysBetween(day, next) - 1)).toBeNull();
        },
      ),
    );
  });
});

describe("the cadence", () => {
  it("of a basin stands over the firm's, the firm's over the usual one", () => {
    const cadence = cadenceWith(
      { tests: { totalAlkalinity: 14, cyanuricAcid: 60 }, tasks: { shock: 10 } },
      { tests: { totalAlkalinity: 3 } },
    );
    expect(cadence.tests).toMatchObject({ totalAlkalinity: 3, cyanuricAcid: 60, freeChlorine: 0 });
    expect(cadence.tasks).toEqual({ ...USUAL_CADENCE.tasks, shock: 10 });
    expect(cadenceWith(null, null)).toEqual(USUAL_CADENCE);
  });
});

describe("what comes round besides tests", () => {
  const input = (change: Partial<TaskInput> = {}): TaskInput => ({
    day: "2026-07-15",
    cadence: USUAL_CADENCE.tasks,
    lastDone: { shock: "2026-07-05", "lab-check": "2026-07-10", "fresh-reagents": "2026-04-02" },
    temperature: 24,
    season: { from: "05-01", to: "09-30" },
    seasonStart: "04-01",
    ...change,
  });
  const due = (change: Partial<TaskInput> = {}) =>
    dueTasks(input(change)).map(({ task, because }) => `${task} ${because}`);

  it("is a shock every other week, weekly in heat", () => {
    expect(due({ lastDone: { ...input().lastDone, "fresh-reagents": "2026-05-01" } })).toEqual([]);
    expect(
      due({ temperature: 29, lastDone: { ...input().lastDone, "fresh-reagents": "2026-05-01" } }),
    ).toEqual(["shock heat"]);
    expect(
      due({ day: "2026-07-19", lastDone: { ...input().lastDone, "fresh-reagents": "2026-05-01" } }),
    ).toEqual(["shock interval"]);
  });
  it("is a full check at opening, in the middle and before closing", () => {
    // 1 May to 30 September is 152 days; without the last 14, the middle is 69 days on: 9 July.
    const checks = (day: string, last: string | undefined) =>
      due({ day, lastDone: last === undefined ? {} : { "lab-check": last } }).filter((text) =>
        text.startsWith("lab"),
      );
    expect(checks("2026-05-01", "2025-09-20")).toEqual(["lab-check season"]);
    expect(checks("2026-05-02", "2026-05-01")).toEqual([]);
    expect(checks("2026-07-08", "2026-05-01")).toEqual([]);
    expect(checks("2026-07-09", "2026-05-01")).toEqual(["lab-check season"]);
    expect(checks("2026-09-16", "2026-07-09")).toEqual(["lab-check season"]);
    expect(checks("2026-09-15", "2026-07-09")).toEqual([]);
    expect(checks("2026-05-01", undefined)).toEqual(["lab-check season"]);
  });
  it("asks for fresh reagents once a season", () => {
    expect(due({ season: null, lastDone: {} })).toContain("fresh-reagents season");
    expect(due({ season: null, lastDone: { "fresh-reagents": "2026-04-01" } })).not.toContain(
      "fresh-reagents season",
    );
  });
});
