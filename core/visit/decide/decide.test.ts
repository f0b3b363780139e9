import { describe, expect, it } from "vitest";
import { InputFault } from "../../fault";
import { DOUBT_CODES } from "../../testing/doubt";
import { nothingFound } from "../../testing/order/look";
import { stopsOf, visitSoFar } from "../../testing/order/visit-order";
import type { CommandName, VisitCommands } from "../commands";
import { afterCommand } from "../facts";
import { visitOf } from "../visit";
import { ACID, brought, JORY, STARTED, uuidOf, WREN } from "../visit.fixtures";
import { NOTHING_WRITTEN, type Written } from "../written";
import { COMMAND_NAMES, commandOf, decide } from ".";
import { LONGEST_NOTE } from "./close";
import { seenOf } from "./seen";

/** What each command adds to a visit, what it refuses, and what two devices that did not know of each other make of it. */
const CALL = brought();
let key = 1000;
const idNow = () => uuidOf(++key);

interface Given {
  by?: typeof WREN;
  /** Minutes after the visit began. */
  minute?: number;
  /** What a device knew; nothing where it was given at the server. */
  knew?: Written;
  id?: string;
}

const commanded = <Name extends CommandName>(
  written: Written,
  name: Name,
  given: VisitCommands[Name],
  { by = WREN, minute = 1, knew, id = idNow() }: Given = {},
) => {
  const at = new Date(STARTED.getTime() + minute * 60_000);
  return decide(
    CALL,
    written,
    commandOf(name, given, { id, by, at, ...(knew ? { seen: seenOf(knew) } : {}) }),
  );
};
const told = <Name extends CommandName>(
  written: Written,
  name: Name,
  given: VisitCommands[Name],
  how: Given = {},
): Written => afterCommand(written, commanded(written, name, given, how));

/** The code, field and value of a refusal. */
function refused(work: () => unknown): [string, string, unknown] {
  try {
    work();
  } catch (fault) {
    if (fault instanceof InputFault) return [fault.code, fault.field, fault.value];
    throw fault;
  }
  throw new Error("it was taken");
}

const drops = (methodId: string, count: number) => ({
  tests: [
    {
      id: idNow(),
      methodId,
      seen: { kind: "drops" as const, count, sample: 25 },
      confirmed: [...DOUBT_CODES],
    },
  ],
});
const place = (methodId: string, from: number, to = from) => ({
  tests: [
    {
      id: idNow(),
      methodId,
      seen: { kind: "place" as const, place: { from, to } },
      confirmed: [...DOUBT_CODES],
    },
  ],
});
/** Chlorine 3.0, pH 7.6, alkalinity as counted. */
const tested = (alkalinity = 10): Written =>
  (
    [
      ["read", drops("free-chlorine-fas-dpd", 15)],
      ["read", place("ph-phenol-red", 7.6)],
      ["read", drops("total-alkalinity", alkalinity)],
    ] as const
  ).reduce((written: Written, [name, given]) => told(written, name, given), NOTHING_WRITTEN);
const closed = (note = "") => told(tested(), "close", { note }, { minute: 30 });
const used = (written: Written, quantity: string) =>
  written.readings.filter((one) => one.quantity === quantity && one.used).map(({ value }) => value);

describe("a place mark", () => {
  const here = { latitude: 39.7391532, longitude: -104.9847034, accuracy: 14.6 };
  it("is of the first beginning and the last end, to a metre, and none of a closed visit", () => {
    const begun = told(NOTHING_WRITTEN, "place", { which: "start", ...here });
    expect(begun.places?.start).toEqual({
      latitude: 39.73915,
      longitude: -104.9847,
      accuracy: 15,
      at: new Date(STARTED.getTime() + 60_000),
    });
    expect(commanded(begun, "place", { which: "start", ...here, latitude: 40 })).toEqual([]);
    const ended = told(begun, "place", { which: "end", ...here }, { minute: 30 });
    const again = told(ended, "place", { which: "end", ...here, latitude: 40 }, { minute: 40 });
    expect(again.places?.end?.latitude).toBe(40);
    expect(again.places?.start).toEqual(begun.places?.start);
    const closed = { ...again, finishedAt: STARTED };
    expect(() => commanded(closed, "place", { which: "end", ...here })).toThrow("visit");
  });
});

describe("what is broken", () => {
  const begun = told(NOTHING_WRITTEN, "photograph", { photoId: uuidOf(77) });
  const ids = (written: Written) => (written.defects ?? []).map(({ id }) => id);

  it("is written down with a name, and a photo of this visit", () => {
    const written = told(begun, "report-defect", { title: " Loose latch ", photoId: uuidOf(77) });
    expect(written.defects).toMatchObject([{ title: "Loose latch", photoId: uuidOf(77), by: "Wren" }]);
    expect(refused(() => commanded(begun, "report-defect", { title: "  " }))).toEqual([
      "missing",
      "defect",
      "",
    ]);
    expect(refused(() => commanded(begun, "report-defect", { title: "x".repeat(201) }))).toEqual([
      "too-long",
      "defect",
      201,
    ]);
    expect(refused(() => commanded(begun, "report-defect", { title: "x", photoId: uuidOf(78) }))[1]).toBe(
      "photoId",
    );
  });

  it("is mended once, and that is taken back", () => {
    const written = told(begun, "report-defect", { title: "Loose latch" });
    const [id = ""] = ids(written);
    const mended = told(written, "mend-defect", { defectId: id, mended: true });
    expect(mended.mended).toEqual([id]);
    expect(commanded(mended, "mend-defect", { defectId: id, mended: true })).toEqual([]);
    expect(told(mended, "mend-defect", { defectId: id, mended: false }).mended).toEqual([]);
    expect(visitOf(CALL, mended, STARTED).defects).toMatchObject([{ id, mended: true, quote: null }]);
    expect(refused(() => commanded(mended, "mend-defect", { defectId: uuidOf(1), mended: true }))[0]).toBe(
      "unknown",
    );
    // Left as it is by an owner while a device was away that had it on its list.
    expect(
      commanded(mended, "mend-defect", { defectId: uuidOf(1), mended: true }, { knew: mended }),
    ).toHaveLength(1);
  });
});

describe("a look", () => {
  it("takes the place of the one before, but not of one made apart from it: two saw both", () => {
    const first = told(NOTHING_WRITTEN, "look", { ...nothingFound(), see: ["cloudy"], note: "left" });
    const again = told(first, "look", { ...nothingFound(), feel: ["slime"] });
    expect(again.look).toMatchObject({ see: [], feel: ["slime"], note: "" });
    const apart = told(
      first,
      "look",
      { ...nothingFound(), see: ["cloudy", "stains"], note: "right" },
      { by: JORY, knew: NOTHING_WRITTEN },
    );
    expect(apart.look).toMatchObject({ see: ["cloudy", "stains"], note: "left\nright" });
    // The same words of both stand once.
    const same = told(
      first,
      "look",
      { ...nothingFound(), note: "left" },
      { by: JORY, knew: NOTHING_WRITTEN },
    );
    expect(same.look?.note).toBe("left");
  });

  it("keeps when it last found what closes, over a later one that finds nothing", () => {
    const green = told(NOTHING_WRITTEN, "look", { ...nothingFound(), see: ["green"] }, { minute: 2 });
    const clear = told(green, "look", nothingFound(), { minute: 50 });
    expect(clear.look?.closedAt).toBe(green.look?.closedAt);
    expect(clear.look?.at).toBe(new Date(STARTED.getTime() + 50 * 60_000).toISOString());
    expect(told(NOTHING_WRITTEN, "look", nothingFound()).look?.closedAt).toBeUndefined();
  });
});

describe("a sample", () => {
  it("that something speaks against wants an answer, and keeps what was worked out, not what was told", () => {
    const still = { circulation: "off" as const, ignored: [] };
    const [code, field] = refused(() => commanded(NOTHING_WRITTEN, "sample", still));
    expect([code, field]).toEqual(["unconfirmed", "sampling"]);
    const answered = told(NOTHING_WRITTEN, "sample", still, { knew: NOTHING_WRITTEN });
    expect(answered.sampling?.circulation).toBe("off");
    expect(answered.sampling?.ignored.length).toBeGreaterThan(0);
    // Whoever ignores more than there is has ignored what there is.
    const running = told(NOTHING_WRITTEN, "sample", {
      circulation: "running",
      ignored: answered.sampling?.ignored ?? [],
    });
    expect(running.sampling?.ignored).toEqual([]);
  });

  it("stands as the first of two took it who did not know of each other", () => {
    const first = told(NOTHING_WRITTEN, "sample", { circulation: "running", ignored: [] });
    const second = commanded(
      first,
      "sample",
      { circulation: "off", ignored: [] },
      { by: JORY, knew: NOTHING_WRITTEN },
    );
    expect(second).toEqual([]);
  });
});

describe("a test", () => {
  it("names a kit and a method that there are", () => {
    const test = drops("total-alkalinity", 9).tests[0];
    if (!test) throw new Error("no test");
    const kitId = uuidOf(0xdead);
    expect(refused(() => commanded(NOTHING_WRITTEN, "read", { tests: [{ ...test, kitId }] }))).toEqual([
      "unknown",
      "kitId",
      kitId,
    ]);
    expect(refused(() => commanded(NOTHING_WRITTEN, "read", drops("litmus", 3)))).toEqual([
      "unknown",
      "methodId",
      "litmus",
    ]);
  });

  it("made again takes the place of the one before where that was known, and stands beside it where not", () => {
    const first = tested(10);
    expect(used(first, "totalAlkalinity")).toEqual([100]);
    const again = told(first, "read", drops("total-alkalinity", 9));
    expect(used(again, "totalAlkalinity")).toEqual([90]);
    expect(again.readings).toHaveLength(first.readings.length);
    const apart = told(first, "read", drops("total-alkalinity", 9), { by: JORY, knew: NOTHING_WRITTEN });
    expect(apart.readings).toHaveLength(first.readings.length + 1);
    expect(apart.readings.filter(({ quantity }) => quantity === "totalAlkalinity")).toHaveLength(2);
  });

  it("of total chlorine gives the combined one, 2.5 less 2.0, and follows either when it is made again", () => {
    const free = told(NOTHING_WRITTEN, "read", drops("free-chlorine-fas-dpd", 10));
    const both = told(free, "read", place("total-chlorine-dpd", 2, 3));
    expect(used(both, "combinedChlorine")[0]).toBeCloseTo(0.5, 9);
    const more = told(both, "read", drops("free-chlorine-fas-dpd", 11));
    expect(used(more, "combinedChlorine")[0]).toBeCloseTo(0.3, 9);
    expect(refused(() => commanded(NOTHING_WRITTEN, "read", place("total-chlorine-dpd", 2, 3)))).toEqual([
      "missing",
      "freeChlorine",
      undefined,
    ]);
  });

  it("is refused once the visit is closed, and taken in late from a device that could not know", () => {
    const open = tested();
    const done = closed();
    expect(refused(() => commanded(done, "read", drops("calcium-hardness", 30)))).toEqual([
      "inconsistent",
      "visit",
      "finished",
    ]);
    const late = told(done, "read", drops("calcium-hardness", 30), { knew: open, minute: 40 });
    const [hardness] = late.readings.filter(({ quantity }) => quantity === "calciumHardness");
    expect(hardness).toMatchObject({ value: 300, late: true });
    expect(late.finishedAt).toEqual(done.finishedAt);
  });
});

describe("a dose", () => {
  it("is given for a finding or by a label of a product on the shelf, and nothing given takes it back", () => {
    const low = tested(5);
    const soda = uuidOf(0xb2);
    const code = "totalAlkalinity.low";
    const give = { code, productId: soda, givenGrams: 3000 };
    const given = told(low, "give", give);
    const [dose] = given.doses;
    expect(dose).toMatchObject({ productId: soda, code, givenGrams: 3000 });
    // 50 mg/L of CaCO3 in 40 000 L are 2000 g, or 40 equivalents: 84.01 g of bicarbonate each.
    expect(dose?.plannedGrams).toBeCloseTo((2000 / 50.04) * 84.01, -2);
    const back = told(given, "give", { ...give, givenGrams: 0 });
    expect(back.doses.map(({ givenGrams }) => givenGrams)).toEqual([0]);
    expect(refused(() => commanded(low, "give", { ...give, productId: uuidOf(0xfe) }))[1]).toBe("productId");
    expect(refused(() => commanded(tested(10), "give", give))).toEqual(["unknown", "code", code]);
    // It went in all the same where a device had decided it.
    const poured = told(tested(10), "give", give, { knew: low });
    expect(poured.doses).toMatchObject([{ plannedGrams: 3000, givenGrams: 3000 }]);
  });

  it("of a plan that there is not, or at a step that it has not, is refused", () => {
    const step = { planId: uuidOf(0xee), position: 0, state: "done" as const, why: "" };
    expect(refused(() => commanded(tested(), "settle-step", step))).toEqual([
      "unknown",
      "planId",
      step.planId,
    ]);
    expect(refused(() => commanded(tested(), "stop-plan", { stop: " ", retested: false }))).toEqual([
      "missing",
      "why",
      " ",
    ]);
    expect(
      refused(() => commanded(tested(), "stop-plan", { stop: "rain", planId: step.planId, retested: false })),
    ).toEqual(["changed", "plan", step.planId]);
    // Whoever stops what has ended meanwhile is not asked again.
    expect(
      commanded(
        tested(),
        "stop-plan",
        { stop: "rain", planId: step.planId, retested: false },
        { knew: tested() },
      ),
    ).toEqual([]);
  });
});

describe("the close of a visit", () => {
  it("wants a reading, and writes what was found with it", () => {
    expect(refused(() => commanded(NOTHING_WRITTEN, "close", { note: "" }))).toEqual([
      "missing",
      "readings",
      0,
    ]);
    const done = closed(" fine ");
    expect(done.note).toBe("fine");
    expect(done.finishedAt).toEqual(new Date(STARTED.getTime() + 30 * 60_000));
    expect(done.notices).not.toBeNull();
  });

  it("by another is not undone: a second note is added to the first, once, and not without end", () => {
    const first = closed("gate sticks");
    const second = told(first, "close", { note: "hose left out" }, { by: JORY, minute: 90 });
    expect(second.note).toBe("gate sticks\nhose left out");
    expect(second.finishedAt).toEqual(first.finishedAt);
    expect(commanded(first, "close", { note: "gate sticks" })).toEqual([]);
    expect(commanded(first, "close", { note: "  " })).toEqual([]);
    const [code, field, length] = refused(() =>
      commanded(first, "close", { note: "x".repeat(LONGEST_NOTE) }),
    );
    expect([code, field, length]).toEqual(["too-long", "note", LONGEST_NOTE + "gate sticks\n".length]);
  });

  it("by a clock that was put back is not before its beginning", () => {
    expect(told(tested(), "close", { note: "" }, { minute: -500 }).finishedAt).toEqual(STARTED);
  });
});

describe("a call without a test", () => {
  it("closes once it is said why, judges nothing, and says that it was not tested", () => {
    const done = told(NOTHING_WRITTEN, "close", { note: "", untested: "repair" });
    expect(done).toMatchObject({ untested: "repair", note: "" });
    expect(done.finishedAt).not.toBeNull();
    const [found] = commanded(NOTHING_WRITTEN, "close", { note: "", untested: "repair" });
    expect(found).toMatchObject({ kind: "found", findings: [], bathing: { state: "untested" } });
    expect(refused(() => commanded(NOTHING_WRITTEN, "close", { note: " ", untested: "other" }))).toEqual([
      "missing",
      "note",
      "",
    ]);
    expect(told(NOTHING_WRITTEN, "close", { note: "ice", untested: "other" }).untested).toBe("other");
  });

  it("is none where the water was tested, whatever is said", () => {
    expect(told(tested(), "close", { note: "", untested: "repair" }).untested).toBeNull();
  });

  it("opens nothing that was seen to close the water", () => {
    const seen = told(NOTHING_WRITTEN, "look", { ...nothingFound(), see: ["floor-hidden"] });
    const [found] = commanded(seen, "close", { note: "", untested: "filter" });
    expect(found).toMatchObject({ kind: "found", bathing: { state: "closed" } });
  });
});

describe("the work of a call", () => {
  const work = (key: string, state: "done" | "skipped" | "open" = "done", why = "") => ({ key, state, why });

  it("is done with one tap, which another takes back", () => {
    const done = told(NOTHING_WRITTEN, "work", work("brush"));
    expect(done.work).toMatchObject([{ key: "brush", name: "", state: "done", why: "", by: "Wren" }]);
    expect(commanded(done, "work", work("brush"))).toEqual([]);
    expect(told(done, "work", work("brush", "open")).work).toEqual([]);
    expect(commanded(NOTHING_WRITTEN, "work", work("brush", "open"))).toEqual([]);
  });

  it("is skipped with a reason, and then not done", () => {
    expect(refused(() => commanded(NOTHING_WRITTEN, "work", work("brush", "skipped", " ")))).toEqual([
      "missing",
      "why",
      "",
    ]);
    const skipped = told(NOTHING_WRITTEN, "work", work("brush", "skipped", " ice "));
    expect(skipped.work).toMatchObject([{ state: "skipped", why: "ice" }]);
    const after = told(skipped, "work", work("brush"), { by: JORY });
    expect(after.work).toMatchObject([{ state: "done", why: "", by: "Jory" }]);
  });

  it("that two devices did is done once", () => {
    const [first] = commanded(NOTHING_WRITTEN, "work", work("skim"));
    expect(first).toMatchObject({ kind: "worked", supersedes: null });
    const done = told(NOTHING_WRITTEN, "work", work("skim"));
    expect(told(done, "work", work("skim"), { by: JORY, knew: NOTHING_WRITTEN }).work).toHaveLength(1);
  });

  it("of a list that was changed meanwhile is taken by the name that the device knew; without one it is none", () => {
    const own = { ...work("own-robot"), name: "Charge the robot" };
    expect(told(NOTHING_WRITTEN, "work", own).work).toMatchObject([{ name: "Charge the robot" }]);
    expect(refused(() => commanded(NOTHING_WRITTEN, "work", work("own-robot")))).toEqual([
      "unknown",
      "work",
      "own-robot",
    ]);
  });

  it("goes late into a visit that was closed elsewhere, and not where that was known", () => {
    const done = closed();
    expect(told(done, "work", work("skim"), { knew: tested() }).work).toHaveLength(1);
    expect(refused(() => commanded(done, "work", work("skim")))).toEqual([
      "inconsistent",
      "visit",
      "finished",
    ]);
  });

  it("stands before the close while something is due, in the list's order", () => {
    const call = brought({
      work: {
        list: {
          items: [
            { key: "skim", rule: { by: "call" } },
            { key: "brush", rule: { by: "days", every: 7 } },
          ],
        },
        lastDone: { brush: "2026-05-03" },
      },
    });
    const opened = visitOf(call, told(NOTHING_WRITTEN, "work", work("tile-line")), STARTED);
    expect(opened.work.map(({ key, because, done }) => [key, because, done?.state])).toEqual([
      ["skim", "call", undefined],
      ["brush", null, undefined],
      ["tile-line", null, "done"],
    ]);
    const stateOf = (written: Written) =>
      stopsOf(visitSoFar(visitOf(call, written, STARTED))).find(({ stop }) => stop === "work")?.state;
    expect(stateOf(NOTHING_WRITTEN)).toBe("open");
    expect(stateOf(told(NOTHING_WRITTEN, "work", work("skim")))).toBe("done");
    expect(
      stopsOf(visitSoFar(visitOf(brought(), NOTHING_WRITTEN, STARTED))).some(({ stop }) => stop === "work"),
    ).toBe(false);
  });
});

describe("what the plant shows", () => {
  const gauge = (kind: string, value: number, changed = false) => ({ kind, value, changed });
  const seen = (
    kind: "orp" | "waterMeter" | "controllerPh",
    day: number,
    value: number,
    drops: number | null,
  ) => ({
    kind,
    value,
    changed: false,
    at: new Date(STARTED.getTime() - day * 86_400_000),
    drops,
  });

  it("stands in place of what was read at the same visit before, in the unit of its gauge", () => {
    const first = told(NOTHING_WRITTEN, "read-plant", gauge("filterPressure", 90));
    const second = told(first, "read-plant", gauge("filterPressure", 95));
    expect(second.plant).toMatchObject([{ kind: "filterPressure", value: 95, by: "Wren" }]);
    expect(commanded(second, "read-plant", gauge("filterPressure", 95))).toEqual([]);
    expect(refused(() => commanded(NOTHING_WRITTEN, "read-plant", gauge("filterPressure", -3)))).toEqual([
      "too-low",
      "filterPressure",
      -3,
    ]);
    expect(refused(() => commanded(NOTHING_WRITTEN, "read-plant", gauge("moon", 1)))[1]).toBe("plant");
  });

  const commandedAt = (call: ReturnType<typeof brought>, given: ReturnType<typeof gauge>) =>
    decide(call, NOTHING_WRITTEN, commandOf("read-plant", given, { id: idNow(), by: WREN, at: STARTED }));

  it("counts water up only, unless the meter was changed", () => {
    const call = brought({ plantBefore: [seen("waterMeter", 7, 120, null)] });
    expect(refused(() => commandedAt(call, gauge("waterMeter", 119)))).toEqual([
      "unconfirmed",
      "waterMeter",
      119,
    ]);
    const written = afterCommand(NOTHING_WRITTEN, commandedAt(call, gauge("waterMeter", 127)));
    expect(visitOf(call, written, STARTED).plant.waterADay).toBeCloseTo(1, 2);
    const other = afterCommand(NOTHING_WRITTEN, commandedAt(call, gauge("waterMeter", 3, true)));
    expect(visitOf(call, other, STARTED).plant.waterADay).toBeNull();
  });

  it("makes the filter due by its pressure, until it was cleaned", () => {
    const call = brought({
      work: {
        list: { items: [{ key: "filter", rule: { by: "days", every: 28 } }] },
        lastDone: { filter: "2026-05-01" },
      },
    });
    const clean = told(NOTHING_WRITTEN, "read-plant", gauge("cleanPressure", 80));
    const because = (written: Written) => visitOf(call, written, STARTED).work[0]?.because;
    expect(because(told(clean, "read-plant", gauge("filterPressure", 99)))).toBeNull();
    expect(because(told(clean, "read-plant", gauge("filterPressure", 100)))).toBe("pressure");
  });

  it("is held against the drops of the same visit, and against nothing where nobody counted any", () => {
    const off = (written: Written, call = CALL) =>
      visitOf(call, written, STARTED).plant.gauges.find(({ kind }) => kind === "controllerPh")?.verdict;
    const shown = gauge("controllerPh", 8.1);
    expect(off(told(NOTHING_WRITTEN, "read-plant", shown))).toBeNull();
    const ph = used(tested(), "ph")[0] ?? 0;
    expect(off(told(tested(), "read-plant", shown))?.off).toBeCloseTo(8.1 - ph);
    const call = brought({ plantBefore: [seen("controllerPh", 7, 8, 7.5)] });
    expect(off(told(tested(), "read-plant", shown), call)?.drifts).toBe(true);
  });
});

describe("a correction", () => {
  const done = closed();
  const wrong = done.readings.find(({ quantity }) => quantity === "totalAlkalinity");
  if (!wrong) throw new Error("no reading");
  const seen = { kind: "drops" as const, count: 12, sample: 25 };

  it("puts another reading in its place, and the trail says what stood and why", () => {
    const right = told(done, "correct", { readingId: wrong.id, seen, why: " miscounted " }, { by: JORY });
    expect(used(right, "totalAlkalinity")).toEqual([120]);
    expect(right.trail).toMatchObject([
      { id: wrong.id, value: 100, by: "Wren", correctedBy: "Jory", why: "miscounted" },
    ]);
    // It was made when it was made.
    expect(right.readings.find(({ value }) => value === 120)?.takenAt).toEqual(wrong.takenAt);
    expect(visitOf(CALL, right, STARTED).readings.some(({ id }) => id === wrong.id)).toBe(false);
  });

  it("wants a closed visit, a reason, a reading that stands, and a method of its own kind", () => {
    const fix = { readingId: wrong.id, seen, why: "miscounted" };
    expect(refused(() => commanded(tested(), "correct", fix))).toEqual([
      "inconsistent",
      "visit",
      "under way",
    ]);
    expect(refused(() => commanded(done, "correct", { ...fix, why: "  " }))[1]).toBe("why");
    const gone = uuidOf(0xabc);
    expect(refused(() => commanded(done, "correct", { ...fix, readingId: gone }))).toEqual([
      "changed",
      "readingId",
      gone,
    ]);
  });
});

describe("photos, counts and incidents", () => {
  it("a photo is hidden once, and only one that the visit had", () => {
    const photoId = idNow();
    const shown = told(NOTHING_WRITTEN, "photograph", { photoId });
    expect(shown.photos.map(({ id }) => id)).toEqual([photoId]);
    const hidden = told(shown, "hide-photo", { photoId });
    expect(hidden.photos).toEqual([]);
    expect(commanded(hidden, "hide-photo", { photoId })).toEqual([]);
    const other = idNow();
    expect(refused(() => commanded(shown, "hide-photo", { photoId: other }))).toEqual([
      "not-there",
      "photoId",
      other,
    ]);
  });

  it("an earlier copy of a count changes nothing, whenever it arrives", () => {
    const at = (count: number, sequence: number) => ({
      methodId: "salt",
      drops: count,
      ahead: 0,
      idle: 0,
      sample: 25,
      sequence,
      holder: "a",
    });
    const nine = told(NOTHING_WRITTEN, "count", at(9, 9) as never);
    expect(commanded(nine, "count", at(7, 7) as never)).toEqual([]);
    expect(told(nine, "count", at(10, 10) as never).counts.salt?.drops).toBe(10);
    // A count arrives after the close, too: its drops are nobody's to lose.
    expect(told(closed(), "count", at(4, 4) as never).counts.salt?.drops).toBe(4);
  });

  it("an incident closes from when it happened, also a visit that was closed before", () => {
    const kind = "stool-formed";
    const happened = told(closed(), "report-incident", { kind, note: " by the steps " }, { minute: 60 });
    expect(happened.incidents).toMatchObject([{ kind, by: "Wren", note: "by the steps", over: null }]);
    const incidentId = happened.incidents?.[0]?.id ?? "";
    expect(
      refused(() => commanded(tested(), "end-incident", { incidentId: idNow(), who: "Dr Varrow" }))[1],
    ).toBe("incidentId");
    const open = told(tested(), "report-incident", { kind, note: "" }, { minute: 5, id: incidentId });
    const [code] = refused(() =>
      commanded(open, "end-incident", { incidentId, who: "Dr Varrow" }, { minute: 6 }),
    );
    expect(code).toBe("unconfirmed");
  });
});

describe("every command", () => {
  it("that only an open visit takes is refused at a closed one, by whoever stands before it", () => {
    const given: { [Name in CommandName]?: VisitCommands[Name] } = {
      look: nothingFound(),
      sample: { circulation: "running", ignored: [] },
      read: drops("total-alkalinity", 8),
      give: { code: "ph.high", productId: ACID, givenGrams: 100 },
      photograph: { photoId: idNow() },
      "stop-plan": { stop: "rain", retested: false },
      "end-incident": { incidentId: idNow(), who: "" },
      "settle-step": { planId: idNow(), position: 0, state: "done", why: "" },
    };
    const done = closed();
    for (const [name, how] of Object.entries(given))
      expect(
        refused(() => commanded(done, name as CommandName, how as never)),
        name,
      ).toEqual(["inconsistent", "visit", "finished"]);
    expect(COMMAND_NAMES).toEqual(expect.arrayContaining(Object.keys(given)));
  });
});
