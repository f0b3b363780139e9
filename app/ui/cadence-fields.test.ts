import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { STATION_ORDER, TASKS, USUAL_CADENCE } from "#core";
import { cadenceFrom, cadenceText, TASK_FIELDS } from "./cadence-fields";

describe("a cadence as it is typed", () => {
  it("is nothing when every field is empty", () => {
    expect(cadenceFrom(cadenceText(null))).toBeNull();
    expect(cadenceFrom({ tests: { ph: " " }, tasks: {} })).toBeNull();
  });
  it("keeps what differs and goes there and back", () => {
    const days = fc.integer({ min: 0, max: 400 });
    const tests = fc.dictionary(
      fc.constantFrom(...STATION_ORDER.filter((station) => !/Demand/.test(station))),
      days,
      { minKeys: 1, noNullPrototype: true },
    );
    const tasks = fc.dictionary(fc.constantFrom(...TASK_FIELDS), days, { noNullPrototype: true });
    fc.assert(
      fc.property(tests, tasks, (some, others) => {
        expect(cadenceFrom(cadenceText({ tests: some, tasks: others }))).toEqual({
          tests: some,
          tasks: others,
        });
      }),
    );
  });
  it("tells every task that there is", () => {
    expect(TASK_FIELDS).toEqual(Object.keys(USUAL_CADENCE.tasks));
    // Every task has how often it comes under some name.
    expect(TASKS.length).toBeLessThanOrEqual(TASK_FIELDS.length);
  });
  it("sends a word as the word, so that a check can name it", () => {
    const change = cadenceFrom({ tests: { ph: "often" }, tasks: {} });
    expect(JSON.parse(JSON.stringify(change))).toEqual({ tests: { ph: "often" }, tasks: {} });
  });
});
