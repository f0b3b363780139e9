import { describe, expect, it } from "vitest";
import { NO_EQUIPMENT } from "../basin/basin";
import { usualWork, type WorkInput, type WorkList, workAt } from "./work";
import { workListSchema } from "./work.schema";

const at = (change: Partial<WorkInput> = {}) =>
  workAt({
    list: usualWork("pool"),
    basin: { equipment: NO_EQUIPMENT, indoors: false },
    day: "2026-06-15",
    lastDone: {},
    filterFullOn: null,
    season: null,
    seasonStart: "04-01",
    ...change,
  });
const whyOf = (key: string, change: Partial<WorkInput> = {}) =>
  at(change).find((one) => one.key === key)?.because;

describe("the work of a call", () => {
  it("is due at every call, but once a day", () => {
    expect(whyOf("skim")).toBe("call");
    expect(whyOf("skim", { lastDone: { skim: "2026-06-14" } })).toBe("call");
    expect(whyOf("skim", { lastDone: { skim: "2026-06-15" } })).toBeNull();
  });

  it("is due so many days after it was last done, to the day", () => {
    expect(whyOf("brush")).toBe("never-done");
    expect(whyOf("brush", { lastDone: { brush: "2026-06-09" } })).toBeNull();
    expect(whyOf("brush", { lastDone: { brush: "2026-06-08" } })).toBe("interval");
    // Over a change of summer time a day is a day.
    expect(whyOf("brush", { day: "2026-03-09", lastDone: { brush: "2026-03-02" } })).toBe("interval");
  });

  it("is due from its days of the season on, until it is done", () => {
    // Twice: at the opening, and before the closing half a year later.
    const season = { from: "04-01", to: "10-01" };
    expect(whyOf("heater", { season })).toBe("season");
    expect(whyOf("heater", { season, lastDone: { heater: "2026-03-31" } })).toBe("season");
    expect(whyOf("heater", { season, lastDone: { heater: "2026-04-01" } })).toBeNull();
    expect(whyOf("heater", { season, day: "2026-09-30", lastDone: { heater: "2026-04-01" } })).toBe("season");
  });

  it("is done to a filter when its pressure says so, once", () => {
    const lastDone = { filter: "2026-06-10" };
    expect(whyOf("filter", { lastDone })).toBeNull();
    expect(whyOf("filter", { lastDone, filterFullOn: "2026-06-15" })).toBe("pressure");
    // Cleaned since: the pressure of before says nothing any more.
    expect(whyOf("filter", { lastDone, filterFullOn: "2026-06-09" })).toBeNull();
    expect(whyOf("brush", { lastDone: { brush: "2026-06-14" }, filterFullOn: "2026-06-15" })).toBeNull();
  });

  it("is of what stands there: no cell is inspected where there is none", () => {
    expect(whyOf("cell")).toBeUndefined();
    expect(whyOf("feeder")).toBeUndefined();
    const basin = { indoors: false, equipment: { ...NO_EQUIPMENT, feeder: "salt-cell" as const } };
    expect(whyOf("cell", { basin })).toBe("never-done");
    expect(whyOf("feeder", { basin })).toBeUndefined();
  });

  it("tells what was last done, and has the firm's own", () => {
    const list: WorkList = {
      items: [{ key: "own-robot", name: "Charge the robot", rule: { by: "days", every: 30 } }],
    };
    expect(at({ list, lastDone: { "own-robot": "2026-06-01" } })).toEqual([
      { ...list.items[0], because: null, last: "2026-06-01" },
    ]);
  });

  it.each([
    [
      "twice the same",
      [
        { key: "brush", rule: { by: "call" } },
        { key: "brush", rule: { by: "call" } },
      ],
    ],
    ["the firm's own without a name", [{ key: "own-x", rule: { by: "call" } }]],
    ["a name for what ships", [{ key: "brush", name: "Scrub", rule: { by: "call" } }]],
    ["every 0 days", [{ key: "brush", rule: { by: "days", every: 0 } }]],
    ["every half day", [{ key: "brush", rule: { by: "days", every: 0.5 } }]],
    ["13 times a season", [{ key: "brush", rule: { by: "season", times: 13 } }]],
    ["no such key", [{ key: "mow", rule: { by: "call" } }]],
    ["no rule", [{ key: "brush" }]],
  ])("has no list with %s", (_, items) => {
    expect(workListSchema.validate({ items }).error).toBeDefined();
  });

  it("has usual lists that are lists", () => {
    for (const kind of ["pool", "spa"] as const)
      expect(workListSchema.validate(usualWork(kind)).error).toBeUndefined();
  });
});
