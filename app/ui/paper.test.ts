import { describe, expect, it } from "vitest";
import type { CustomerSheet } from "#server/visits/customer-sheet";
import { told } from "./paper";

const sheet = (change: Partial<CustomerSheet> = {}): CustomerSheet => ({
  firm: { name: "Fennmoor Water Care", units: "us", timeZone: "America/Denver", currency: "USD" },
  site: "Hotel Three Cairns",
  language: null,
  basin: { name: "Terrace pool", kind: "pool", sanitiser: "chlorine" },
  litres: 113_600,
  from: new Date("2026-07-01T17:45:00Z"),
  at: new Date("2026-07-01T18:30:00Z"),
  by: "Jory Pask",
  note: "",
  untested: null,
  work: [],
  photos: [],
  repairs: [],
  readings: [
    { quantity: "ph", value: 7.9, bound: "within", range: { low: 7.2, high: 7.8 }, place: "high" },
    { quantity: "cyanuricAcid", value: 30, bound: "at-most", range: { low: 30, high: 50 }, place: "low" },
    {
      quantity: "combinedChlorine",
      value: 0.2,
      bound: "within",
      range: { low: null, high: 0.5 },
      place: "within",
    },
    { quantity: "temperature", value: 25, bound: "within", range: null, place: "within" },
  ],
  given: [{ name: "Hydrochloric acid 31.45%", product: "hydrochloric-acid", density: 1.16, grams: 600 }],
  bathing: { state: "mixing", because: [], until: Date.parse("2026-07-01T22:30:00Z"), urgent: [] },
  next: "2026-07-03",
  ...change,
});

describe("the customer's sheet", () => {
  it("tells readings in the firm's units against their ranges, and says which are off", () => {
    const { readings } = told(sheet());
    expect(readings).toEqual([
      { name: "pH", value: "7.9", should: "7.2 to 7.8", place: "high", off: true },
      { name: "Cyanuric acid", value: "≤ 30 ppm", should: "30 to 50", place: "low", off: true },
      { name: "Combined chlorine", value: "0.2 ppm", should: "at most 0.5", place: "in range", off: false },
      // What has no range is neither right nor wrong.
      { name: "Temperature", value: "77 °F", should: "", place: "", off: false },
    ]);
  });
  it("says in the basin's own time when to keep out, and until when", () => {
    expect(told(sheet()).swim).toMatch(/^Keep out until Jul 1, 2026, 4:30.PM: the chemicals have to mix/);
    const open = { state: "open", because: [], until: null, urgent: [] } as const;
    expect(told(sheet({ bathing: { ...open, because: [], urgent: [] } })).swim).toBe(
      "You can use the water.",
    );
  });
  it("names what closes the basin with its reading", () => {
    const text = told(
      sheet({
        bathing: {
          state: "closed",
          because: [
            { code: "reading", finding: "freeChlorine.low", quantity: "freeChlorine", value: 0.2, limit: 1 },
            { code: "seen", trouble: "drain-cover" },
          ],
          until: null,
          urgent: ["gate"],
        },
      }),
    );
    expect(text.swim).toBe(
      "Do not use the water. It opens again only after a test by us or by someone trained.",
    );
    expect(text.reasons).toEqual([
      "Free chlorine is 0.2 ppm, closed below 1.0 ppm.",
      "A drain or suction cover is broken, loose, or missing. A drain without a sound cover can hold a person under water.",
    ]);
    expect(text.urgent[0]).toMatch(/^A child can get in alone/);
  });
  it("never says that an untested water may be used, and never leaves a cover off", () => {
    const untested = told(
      sheet({
        bathing: {
          state: "untested",
          because: [{ code: "not-read", quantity: "ph" }],
          until: null,
          urgent: [],
        },
      }),
    );
    expect(untested.swim).toBe("Not tested: do not use the water.");
    expect(untested.reasons).toEqual(["pH was not tested today."]);
    for (const text of [untested, told(sheet())]) {
      expect(text.todo[0]).toMatch(/only while an adult watches.*cover back on/);
      expect(text.todo.join(" ")).not.toMatch(/cover off/i);
    }
  });
  it("tells amounts as a person measures them, and what there is to do", () => {
    const text = told(sheet());
    // 600 g at 1.16 g/mL are 517 mL, 17.5 fl oz.
    expect(text.given).toEqual(["17 fl oz Hydrochloric acid 31.45%"]);
    expect(text.todo[1]).toMatch(/pump running/);
    expect(told(sheet({ given: [] })).todo[1]).toBe("Keep the pump running as it is set.");
    expect(text.next).toBe("Next visit: Jul 3, 2026");
  });
});
