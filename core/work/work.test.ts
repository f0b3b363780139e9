import { describe, expect, it } from "vitest";
import { NO_EQUIPMENT } from "../basin/basin";
import { refillDays } from "./refill";
import { usualWork, type WorkInput, type WorkList, workAt } from "./work";
import { workListSchema } from "./work.schema";

const POOL = { equipment: NO_EQUIPMENT, indoors: false, litres: 40_000, sanitiser: "chlorine" as const };
const at = (change: Partial<WorkInput> = {}) =>
  workAt({
    list: usualWork("pool"),
    basin: POOL,
    solids: null,
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
    const basin = { ...POOL, equipment: { ...NO_EQUIPMENT, feeder: "salt-cell" as const } };
    expect(whyOf("cell", { basin })).toBe("never-done");
    expect(whyOf("feeder", { basin })).toBeUndefined();
  });

  it("is other water in a spa by its litres and bathers", () => {
    // By hand: 1514 L are 400 gallons; 400 / 3 = 133 bathers; 2 a day: after 66 days.
    expect(refillDays(1514, 2)).toBe(66);
    expect(refillDays(1514, 40)).toBe(3);
    expect(refillDays(400, 1000)).toBe(1);
    expect(refillDays(1514, null)).toBe(90);
    const spa = (bathers: number | null) => ({
      list: usualWork("spa"),
      basin: { ...POOL, litres: 1514, equipment: { ...NO_EQUIPMENT, bathers } },
    });
    const lastDone = { refill: "2026-04-11" };
    expect(whyOf("refill", { ...spa(2), lastDone })).toBeNull();
    expect(whyOf("refill", { ...spa(2), lastDone: { refill: "2026-04-10" } })).toBe("bathers");
    expect(whyOf("refill", { ...spa(null), lastDone })).toBeNull();
    expect(whyOf("refill", { ...spa(3), lastDone })).toBe("bathers");
  });

  it("is other water by what has gathered since it was filled, but not by salt", () => {
    const list = usualWork("spa");
    const lastDone = { refill: "2026-06-01" };
    const solids = { value: 1900, day: "2026-06-10" };
    expect(whyOf("refill", { list, lastDone, solids })).toBe("solids");
    expect(whyOf("refill", { list, lastDone, solids: { ...solids, value: 1700 } })).toBeNull();
    // Read before it was filled.
    expect(whyOf("refill", { list, lastDone, solids: { ...solids, day: "2026-05-30" } })).toBeNull();
    const salted = { ...POOL, sanitiser: "salt-cell" as const };
    expect(whyOf("refill", { list, lastDone, solids, basin: salted })).toBeNull();
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
