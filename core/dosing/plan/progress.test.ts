import { describe, expect, it } from "vitest";
import { progressOf } from "./progress";
import type { PlanStep } from "./steps";

const NOW = new Date("2026-05-01T10:00:00Z");
const at = (minutes: number) => new Date(NOW.getTime() + minutes * 60_000);
const task = (waitMinutes = 0): PlanStep => ({ kind: "task", task: "brush", waitMinutes, cautions: [] });
const retest = (...quantities: Extract<PlanStep, { kind: "retest" }>["quantities"]): PlanStep => ({
  kind: "retest",
  quantities,
  waitMinutes: 0,
  cautions: [],
});
/** Dose, test, dose, test: a fresh fill in short. */
const STEPS = [task(20), retest("calciumHardness"), task(240), retest("ph", "totalAlkalinity")];
const done = (position: number, minutes: number) => ({ position, state: "done" as const, at: at(minutes) });

describe("how far a plan has come", () => {
  it("begins at its first step, with nothing to test", () => {
    expect(progressOf(STEPS, [], [])).toEqual({
      states: ["open", "open", "open", "open"],
      next: 0,
      waitUntil: null,
      dosed: false,
      retests: true,
      retested: false,
      tested: false,
      toRetest: [],
    });
  });

  it("waits after a step, from when it was done, and asks for its test", () => {
    const progress = progressOf(STEPS, [done(0, 0)], []);
    expect(progress.next).toBe(1);
    expect(progress.waitUntil).toEqual(at(20));
    expect(progress.toRetest).toEqual(["calciumHardness"]);
  });

  it("takes a test made after the step, not one from before it", () => {
    const early = progressOf(STEPS, [done(0, 0)], [{ quantity: "calciumHardness", takenAt: at(-5) }]);
    expect(early.states[1]).toBe("open");
    const late = progressOf(STEPS, [done(0, 0)], [{ quantity: "calciumHardness", takenAt: at(25) }]);
    expect(late.states[1]).toBe("done");
    expect(late.next).toBe(2);
    // The second test comes after a dose that is still to be given.
    expect(late.toRetest).toEqual([]);
  });

  it("is dosed once everything is dealt with, skipped or not, and retested after the last test", () => {
    const settled = [done(0, 0), done(2, 30)];
    const dosed = progressOf(STEPS, settled, [{ quantity: "calciumHardness", takenAt: at(25) }]);
    expect(dosed).toMatchObject({ dosed: true, retested: false, toRetest: ["ph", "totalAlkalinity"] });
    const skipped = progressOf(
      STEPS,
      [
        done(0, 0),
        { position: 2, state: "skipped", at: at(30) },
        { position: 3, state: "skipped", at: at(31) },
      ],
      [{ quantity: "calciumHardness", takenAt: at(25) }],
    );
    expect(skipped).toMatchObject({ dosed: true, retested: true, tested: true, next: null });
    // Left out is not made.
    const left = STEPS.map((_, position) => ({ position, state: "skipped" as const, at: at(30) }));
    expect(progressOf(STEPS, left, [])).toMatchObject({ retested: true, tested: false });
    // What was skipped asks for no wait of its own.
    expect(skipped.waitUntil).toEqual(at(20));
  });
});
