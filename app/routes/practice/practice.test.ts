import { describe, expect, it } from "vitest";
import { type Card, gramsFrom, hiddenWater, STORIES, sheetBasin, trapsIn } from "#core";
import { afterSession, type Kept, NOTHING_KEPT, type Run } from "./kept";
import { doseOf } from "./sheet/dose";
import { scoredIn } from "./sheet/scored";
import { methodOf, missedOf, ownRuns, storyFor, storyForSheet, TESTS, toldOf } from "./tests";

const run = (change: Partial<Run> = {}): Run => ({
  at: "2031-03-05T10:00:00.000Z",
  way: "alone",
  methodId: "total-alkalinity",
  story: "ordinary",
  error: 2,
  step: 10,
  truth: 100,
  slips: [],
  trap: null,
  seconds: 90,
  ...change,
});
const kept = (cards: Card[], session = 4): Kept => ({ session, runs: [], cards });

describe("the dose of a sheet, as it is typed", () => {
  const pool = sheetBasin("ordinary");

  it("comes to grams by the unit that stands beside the field", () => {
    // A pool's soda ash is weighed in pounds, its acid poured by the fluid ounce.
    const { dose, faults } = doseOf({ "sodium-carbonate": "2", replaced: "25" }, pool, "us");
    expect(faults).toEqual([]);
    expect(dose.grams["sodium-carbonate"]).toBeCloseTo(gramsFrom(2, "lb"), 6);
    expect(dose.replaced).toBe(0.25);
    expect(doseOf({ "sodium-carbonate": "900" }, pool, "metric").dose.grams["sodium-carbonate"]).toBe(900);
    // Left empty it is none, and so is a blank.
    expect(doseOf({ "sodium-carbonate": " " }, pool, "us").dose.grams["sodium-carbonate"]).toBe(0);
  });

  it("names each field with what stood there and its limit", () => {
    const typed = { "hydrochloric-acid": "a bottle", "calcium-chloride": "-3", replaced: "95" };
    const { faults } = doseOf(typed, pool, "metric");
    expect(faults.map(({ name, text, most }) => [name, text, most])).toEqual([
      ["hydrochloric acid", "a bottle", "172,414"],
      ["calcium chloride", "-3", "200,000"],
      ["Water to replace first, %", "95", "90"],
    ]);
  });
});

describe("what is practised next", () => {
  const hardness = methodOf("calcium-hardness");

  it("is the trap that was missed, in its own test and in a whole sheet", () => {
    if (!hardness) throw new Error("no hardness");
    const missed = kept([{ name: "calcium-hardness/copper", gap: 1, due: 5 }]);
    for (let seed = 0; seed < 30; seed++) {
      expect(storyFor(hardness, missed, seed)).toBe("copper");
      expect(storyForSheet(missed, seed)).toBe("copper");
    }
    // Once it was seen it waits, and other waters come.
    const seen = kept([{ name: "calcium-hardness/copper", gap: 8, due: 12 }]);
    const stories = new Set(Array.from({ length: 60 }, (_, seed) => storyForSheet(seen, seed)));
    expect(stories.size).toBe(STORIES.length);
    expect(missedOf(missed).map(({ name }) => name)).toEqual(["calcium-hardness/copper"]);
    expect(missedOf(seen)).toEqual([]);
  });

  it("sets no trap in a test that has none", () => {
    for (const method of TESTS.filter(({ quantity }) => trapsIn(quantity).length === 0))
      for (let seed = 0; seed < 12; seed++) expect(storyFor(method, kept([]), seed)).toBe("ordinary");
  });

  it("counts a sheet of many answers as one session", () => {
    const next = afterSession(
      NOTHING_KEPT,
      [run(), run()],
      [
        { name: "total-alkalinity", isRight: true },
        { name: "sheet/dose", isRight: false },
      ],
    );
    expect(next.session).toBe(1);
    expect(next.runs).toHaveLength(2);
    expect(next.cards).toEqual([
      { name: "total-alkalinity", gap: 2, due: 3 },
      { name: "sheet/dose", gap: 1, due: 2 },
    ]);
  });
});

describe("what a firm is told", () => {
  it("is what was worked alone, with figures of what hid no trap", () => {
    const runs = [
      ...[4, -3, 2, 6, -1].map((error) => run({ error })),
      run({ story: "copper", trap: false, error: 60 }),
      run({ way: "guided", error: -50 }),
      run({ methodId: "salt", at: "2031-03-09T10:00:00.000Z" }),
    ];
    expect(ownRuns(runs, "total-alkalinity")).toHaveLength(5);
    const [alkalinity, salt] = toldOf(runs);
    expect(alkalinity).toMatchObject({ runs: 6, trapsSeen: 0, trapsMissed: 1, lastOn: "2031-03-05" });
    expect(alkalinity?.bias).toBeCloseTo((4 - 3 + 2 + 6 - 1) / 5 / 100, 12);
    expect(salt).toMatchObject({
      methodId: "salt",
      runs: 1,
      bias: null,
      scatter: null,
      lastOn: "2031-03-09",
    });
    expect(toldOf([run({ way: "guided" })])).toEqual([]);
  });
});

describe("a sheet that another build has kept", () => {
  const water = hiddenWater("ordinary", 1);
  const test = { line: 25, events: [], counted: 10, until: 0, setAside: false };

  it("goes on without a test that is none any more", () => {
    const seen = { kind: "drops" as const, count: 10, sample: 25 };
    expect(scoredIn({ ...test, methodId: "total-alkalinity", seen }, water)).toHaveLength(1);
    expect(scoredIn({ ...test, methodId: "of-another-kit", seen }, water)).toEqual([]);
    expect(scoredIn({ ...test, methodId: "total-alkalinity", seen: { ...seen, sample: 3 } }, water)).toEqual(
      [],
    );
  });
});
