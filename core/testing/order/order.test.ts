import { describe, expect, it } from "vitest";
import { COMPARATOR_KIT } from "../kits/comparator-kit";
import { STRIP_KIT } from "../kits/strip-kit";
import { TITRATION_KIT } from "../kits/titration-kit";
import { TRACES_KIT } from "../kits/traces-kit";
import { CADENCE, type DueInput, dueTests } from "./due";
import { samplingProblems } from "./sampling";
import { STATION_ORDER, stationsOn, stationsWith } from "./stations";
import { nextStop, stopAfter, stopsOf, type VisitSoFar } from "./visit-order";

const input = (change: Partial<DueInput> = {}): DueInput => ({
  stations: [
    "freeChlorine",
    "ph",
    "acidDemand",
    "baseDemand",
    "totalAlkalinity",
    "calciumHardness",
    "cyanuricAcid",
  ],
  cadence: CADENCE,
  lastDaysAgo: { freeChlorine: 3, ph: 3, totalAlkalinity: 3, calciumHardness: 12, cyanuricAcid: 12 },
  outLastTime: new Set(),
  outWhenRead: new Set(),
  doses: [],
  litres: 40_000,
  phOff: null,
  ...change,
});
const dueAt = (change: Partial<DueInput>) =>
  Object.fromEntries(
    dueTests(input(change)).map((one) => [one.station, one.due ? one.reason.because : one.nextIn]),
  );

describe("which tests are due", () => {
  it("follows the cadence, with its reason", () => {
    expect(dueAt({})).toEqual({
      freeChlorine: "every-visit",
      ph: "every-visit",
      acidDemand: 1,
      baseDemand: 1,
      totalAlkalinity: 4,
      calciumHardness: 18,
      cyanuricAcid: 18,
    });
  });
  it("takes a call a few hours short of a week as weekly", () => {
    expect(dueAt({ lastDaysAgo: { totalAlkalinity: 6.4 } }).totalAlkalinity).toBe("interval");
    expect(dueAt({ lastDaysAgo: { totalAlkalinity: 6.1 } }).totalAlkalinity).toBe(1);
  });
  it("asks for what was never tested, was out last time, or was much dosed since", () => {
    expect(dueAt({ lastDaysAgo: {} }).calciumHardness).toBe("never-tested");
    expect(dueAt({ outLastTime: new Set(["cyanuricAcid" as const]) }).cyanuricAcid).toBe("out-last-time");
    // 250 g per 10 000 L of tablets: 1 kg in 40 000 L, 0.9 / 70.9 / 3 × 129 × 1000 g / 40 000 L = 13.7 mg/L
    const tablets = (grams: number, daysAgo: number) => [{ product: "trichlor" as const, grams, daysAgo }];
    expect(dueAt({ doses: tablets(1000, 5) }).cyanuricAcid).toBe("after-product");
    expect(dueAt({ doses: tablets(900, 5) }).cyanuricAcid).toBe(18);
    expect(dueAt({ doses: tablets(1000, 13) }).cyanuricAcid).toBe(18);
  });
  it("opens the demand test that the pH asks for", () => {
    expect(dueAt({ phOff: "high" })).toMatchObject({ acidDemand: "ph-off", baseDemand: 1 });
    expect(dueAt({ phOff: "low" })).toMatchObject({ acidDemand: 1, baseDemand: "ph-off" });
  });
});

describe("what is no routine", () => {
  const copper = (change: Partial<DueInput>) => dueAt({ stations: ["copper"], ...change }).copper;
  const high = new Set<"copper">(["copper"]);
  it("is asked for a week after it was out, whatever the last visit tested, and never by itself", () => {
    expect(copper({})).toBeNull();
    expect(copper({ lastDaysAgo: { copper: 90 } })).toBeNull();
    expect(copper({ lastDaysAgo: { copper: 3 }, outWhenRead: high })).toBe(4);
    expect(copper({ lastDaysAgo: { copper: 6.5 }, outWhenRead: high })).toBe("out-last-time");
    expect(copper({ lastDaysAgo: { copper: 90 }, outWhenRead: high })).toBe("out-last-time");
  });
  it("may be made with another case on the truck; what is routine may not", () => {
    const others = [TRACES_KIT, STRIP_KIT];
    const on = stationsOn(TITRATION_KIT, others, "chlorine");
    expect(on.slice(-4)).toEqual(["borate", "phosphate", "iron", "copper"]);
    expect(on).not.toContain("totalHardness");
    // A firm that wants it every season is asked for it, whichever case it is in.
    const wanted = { stations: on, cadence: { ...CADENCE, copper: 90 } };
    expect(dueAt({ ...wanted, lastDaysAgo: { copper: 91 } }).copper).toBe("interval");
    expect(dueAt(wanted).copper).toBe("never-tested");
    const small = stationsOn(COMPARATOR_KIT, [TITRATION_KIT], "chlorine");
    expect(small).toEqual([...stationsWith(COMPARATOR_KIT, "chlorine"), "totalDissolvedSolids"]);
  });
});

describe("the stations", () => {
  it("are those that the kit can answer and the sanitiser needs", () => {
    expect(stationsWith(TITRATION_KIT, "chlorine")).not.toContain("bromine");
    expect(stationsWith(TITRATION_KIT, "salt-cell")).toContain("salt");
    expect(stationsWith(TITRATION_KIT, "bromine")).toEqual([
      "temperature",
      "bromine",
      "ph",
      "acidDemand",
      "baseDemand",
      "totalAlkalinity",
      "calciumHardness",
      "cyanuricAcid",
      "totalDissolvedSolids",
    ]);
    expect(stationsWith(COMPARATOR_KIT, "chlorine")).toEqual([
      "temperature",
      "freeChlorine",
      "combinedChlorine",
      "ph",
      "acidDemand",
      "baseDemand",
    ]);
    // A strip's hardness is not calcium hardness.
    expect(stationsWith(STRIP_KIT, "chlorine")).not.toContain("calciumHardness");
    expect(stationsWith(STRIP_KIT, "chlorine")).toContain("totalHardness");
  });
  it("have chlorine before all that waits", () => {
    expect(STATION_ORDER.indexOf("freeChlorine")).toBeLessThan(STATION_ORDER.indexOf("ph"));
    expect(STATION_ORDER.indexOf("ph")).toBeLessThan(STATION_ORDER.indexOf("totalAlkalinity"));
  });
});

describe("the order of a visit", () => {
  const visit = (change: Partial<VisitSoFar> = {}): VisitSoFar => ({
    due: dueTests(input()),
    read: new Set(),
    workLeft: null,
    looked: false,
    sampled: false,
    finished: false,
    plan: null,
    ...change,
  });
  it("goes from the look to the close", () => {
    expect(stopsOf(visit()).map(({ stop }) => stop)).toEqual([
      "look",
      "sample",
      ...input().stations,
      "judge",
      "dose",
      "close",
    ]);
    expect(nextStop(visit())).toBe("look");
    expect(nextStop(visit({ looked: true }))).toBe("sample");
    expect(nextStop(visit({ looked: true, sampled: true }))).toBe("freeChlorine");
    expect(nextStop(visit({ looked: true, sampled: true, read: new Set(["freeChlorine", "ph"]) }))).toBe(
      "judge",
    );
    expect(
      nextStop(visit({ looked: true, sampled: true, read: new Set(["freeChlorine", "ph"]), finished: true })),
    ).toBe("close");
  });
  it("goes past what is carried, and does not come back to what was skipped", () => {
    expect(stopAfter(visit({ read: new Set(["freeChlorine"]) }), "freeChlorine")).toBe("ph");
    expect(stopAfter(visit({ read: new Set(["ph"]) }), "ph")).toBe("judge");
    // Carried, tested anyway, done:
    expect(
      stopsOf(visit({ read: new Set(["totalAlkalinity"]) })).find(({ stop }) => stop === "totalAlkalinity")
        ?.state,
    ).toBe("done");
  });
});

describe("a sample", () => {
  it.each([
    ["running", null, "pool", []],
    ["off", null, "pool", ["pump-off"]],
    ["running", 3.9, "pool", ["recent-dose"]],
    ["running", 4, "pool", []],
    ["running", 0.5, "spa", []],
    ["off", 0.2, "spa", ["pump-off", "recent-dose"]],
  ] as const)("with the pump %s, %s h after a dose in a %s: %j", (circulation, hours, kind, problems) => {
    expect(samplingProblems(circulation, hours, kind)).toEqual(problems);
  });
});
