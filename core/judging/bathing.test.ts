import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Measurement, Quantity, Readings } from "../measure/quantity";
import { SANITISERS, type Sanitiser, sanitiserReading } from "../measure/sanitiser";
import { type RangeSet, rangeFor, setForBasin } from "../ranges/range-set";
import { RANGE_SETS } from "../ranges/sets";
import { CLOSED_FOR, type ClosingTrouble, nothingFound } from "../testing/order/look";
import { type BathingInput, bathingOf, CLOSERS, testsThatOpen } from "./bathing";
import { findings, possibleFindings } from "./findings";
import { INCIDENT_KINDS, INCIDENTS, type IncidentKind, whyNotOver } from "./incidents";

const read = (value: number, change: Partial<Measurement> = {}): Measurement => ({
  value,
  unit: "mg/L",
  low: value,
  high: value,
  bound: "within",
  ...change,
});

const TIGHT = { kind: "pool", indoors: false } as const;

interface Case {
  set: RangeSet;
  kind: "pool" | "spa";
  indoors: boolean;
  sanitiser: Sanitiser;
  readings: Readings;
  stabiliser?: number;
  change?: Partial<BathingInput>;
}

function stateOf({ set, kind, indoors, sanitiser, readings, stabiliser = 0, change = {} }: Case) {
  const placed = setForBasin(set, { kind, indoors, sanitiser }, null);
  const water = {
    ph: readings.ph?.value ?? 7.5,
    cyanuricAcid: stabiliser,
    temperature: Math.min(45, readings.temperature?.value ?? 26),
  };
  return bathingOf({
    sanitiser,
    seen: { closing: [], urgent: [] },
    findings: findings(readings, placed, "plaster", water),
    possible: possibleFindings(readings, placed, "plaster", water),
    tested: Object.fromEntries(Object.keys(readings).map((quantity) => [quantity, 10])),
    closers: [],
    incidents: [],
    until: null,
    ...change,
  });
}

/** The least of each sanitiser anywhere, mg/L: Model Aquatic Health Code. */
const FLOOR = { freeChlorine: { pool: 1, spa: 3 }, bromine: { pool: 3, spa: 4 } };
const CEILING = { freeChlorine: 10, bromine: 8 };

describe("every set, kind of basin and sanitiser, over a grid of readings", () => {
  const CHLORINES = [0, 0.07, 0.9, 1, 1.9, 2, 2.9, 3, 4, 5, 8, 8.1, 10, 10.1, 25];
  const PHS = [6.9, 7, 7.5, 7.9, 8, 8.1];
  const TEMPERATURES = [11, 40, 40.1];
  const STABILISERS = [0, 40, 150];
  let cases = 0;
  let open = 0;
  it.each(Object.values(RANGE_SETS).map((set) => [set.id, set] as const))("of %s", (_, set) => {
    for (const kind of ["pool", "spa"] as const)
      for (const indoors of [false, true])
        for (const sanitiser of SANITISERS)
          for (const stabiliser of STABILISERS)
            for (const amount of CHLORINES)
              for (const ph of PHS)
                for (const temperature of TEMPERATURES) {
                  const quantity = sanitiserReading(sanitiser);
                  const readings: Readings = {
                    [quantity]: read(amount),
                    ph: read(ph),
                    temperature: read(temperature),
                  };
                  const of: Case = { set, kind, indoors, sanitiser, readings, stabiliser };
                  const { state } = stateOf(of);
                  const told = `${kind} ${sanitiser} ${amount} pH ${ph} ${temperature} °C CYA ${stabiliser}`;
                  cases += 1;
                  const isUnsafe =
                    amount < FLOOR[quantity][kind] ||
                    amount > CEILING[quantity] ||
                    ph < 7 ||
                    ph > 8 ||
                    temperature > 40;
                  if (isUnsafe) expect(state, told).toBe("closed");
                  // Inside all that the set asks for it is open, and never closed there.
                  const placed = setForBasin(set, { kind, indoors, sanitiser }, null);
                  const water = { ph, cyanuricAcid: stabiliser, temperature: Math.min(45, temperature) };
                  const isInside = ([quantity, "ph", "temperature"] as const).every((name) => {
                    const range = rangeFor(placed, name, "plaster", water);
                    const value = readings[name]?.value ?? 0;
                    return (
                      value >= (range?.low ?? range?.closeBelow ?? -1) &&
                      value <= (range?.high ?? range?.closeAbove ?? Number.POSITIVE_INFINITY)
                    );
                  });
                  if (isInside) {
                    expect(state, told).toBe("open");
                    open += 1;
                  }
                  if (state === "open") expect(isUnsafe, told).toBe(false);
                }
  });
  it("met both", () => {
    expect(cases).toBeGreaterThan(40_000);
    expect(open).toBeGreaterThan(500);
  });
});

describe("nothing opens", () => {
  const right: Case = {
    set: RANGE_SETS["public-code"] as RangeSet,
    ...TIGHT,
    sanitiser: "chlorine",
    readings: { freeChlorine: read(3), ph: read(7.5), temperature: read(27) },
  };
  it("a water whose sanitiser or pH nobody read, whatever else was", () => {
    expect(stateOf(right).state).toBe("open");
    const { freeChlorine: _, ...noChlorine } = right.readings;
    const { ph: __, ...noPh } = right.readings;
    for (const [readings, quantity] of [
      [noChlorine, "freeChlorine"],
      [noPh, "ph"],
    ] as const) {
      const { state, because } = stateOf({ ...right, readings });
      expect(state).toBe("untested");
      expect(because).toEqual([{ code: "not-read", quantity }]);
    }
    // One reading of anything is no answer.
    expect(stateOf({ ...right, readings: { totalAlkalinity: read(100) } }).state).toBe("untested");
    // Chlorine in a bromine basin is another basin's.
    expect(stateOf({ ...right, sanitiser: "bromine" }).because).toEqual([
      { code: "not-read", quantity: "bromine" },
    ]);
  });
  it("a floor that nobody looked for, or that cannot be seen", () => {
    expect(stateOf({ ...right, change: { seen: null } })).toMatchObject({
      state: "untested",
      because: [{ code: "not-looked" }],
    });
    for (const trouble of Object.keys(CLOSED_FOR) as ClosingTrouble[])
      expect(stateOf({ ...right, change: { seen: { closing: [trouble], urgent: [] } } })).toMatchObject({
        state: "closed",
        because: [{ code: "seen", trouble }],
      });
  });
  it("what is at the end of a scale that reaches over the limit", () => {
    const atLeast = (value: number) => read(value, { high: null, bound: "at-least" });
    expect(stateOf({ ...right, readings: { ...right.readings, freeChlorine: atLeast(5) } }).state).toBe(
      "untested",
    );
    expect(stateOf({ ...right, readings: { ...right.readings, freeChlorine: atLeast(10) } }).state).toBe(
      "closed",
    );
    expect(stateOf({ ...right, readings: { ...right.readings, ph: atLeast(8) } }).state).toBe("closed");
  });
  it("after anything that closes but a test of both", () => {
    for (const what of CLOSERS) {
      const opensAfter = (tested: Partial<Record<Quantity, number>>) =>
        stateOf({ ...right, change: { closers: [{ what, at: 20 }], tested } }).state;
      expect(opensAfter({ freeChlorine: 10, ph: 10 })).toBe("closed");
      expect(opensAfter({ freeChlorine: 30, ph: 10 })).toBe("closed");
      expect(opensAfter({ freeChlorine: 10, ph: 30 })).toBe("closed");
      expect(opensAfter({ freeChlorine: 30, ph: 30 })).toBe("open");
      // No clock does it.
      expect(
        stateOf({
          ...right,
          change: { closers: [{ what, at: 20 }], tested: { ph: 1, freeChlorine: 1 }, until: 0 },
        }).state,
      ).toBe("closed");
    }
  });
  it("what is not so far out that it closes is told, and not called fit", () => {
    const { state, because } = stateOf({ ...right, readings: { ...right.readings, ph: read(7.9) } });
    expect(state).toBe("care");
    expect(because).toMatchObject([{ code: "off", finding: "ph.high", limit: 7.8 }]);
  });
  it("but asks for both tests and whatever closed it", () => {
    const hot = stateOf({ ...right, readings: { ...right.readings, temperature: read(44) } });
    expect(testsThatOpen(hot, "chlorine")).toEqual(["temperature", "freeChlorine", "ph"]);
    expect(testsThatOpen(stateOf({ ...right, readings: {} }), "bromine")).toEqual(["bromine", "ph"]);
  });
});

describe("a set of a firm's own", () => {
  it("closes sooner as it says, and never later than anybody may bathe", () => {
    fc.assert(
      fc.property(
        fc.record({
          low: fc.double({ min: 0, max: 12, noNaN: true }),
          width: fc.double({ min: 0, max: 12, noNaN: true }),
          closeBelow: fc.double({ min: 0, max: 5, noNaN: true }),
          closeAbove: fc.double({ min: 3, max: 40, noNaN: true }),
          spa: fc.boolean(),
        }),
        ({ low, width, closeBelow, closeAbove, spa }) => {
          const kind = spa ? "spa" : "pool";
          const own: RangeSet = {
            id: "own",
            name: "Own",
            date: "2026-01-01",
            purpose: "x",
            ranges: {
              freeChlorine: { low, high: low + width, aim: low + width / 2, closeBelow, closeAbove },
            },
          };
          const placed = setForBasin(own, { kind, indoors: false, sanitiser: "chlorine" }, null);
          const range = rangeFor(placed, "freeChlorine", "plaster");
          const floor = FLOOR.freeChlorine[kind];
          expect(range?.closeAbove).toBe(Math.min(10, closeAbove));
          expect(range?.closeBelow).toBe(Math.min(Math.max(floor, closeBelow), range?.closeAbove ?? 0));
          const order = [
            range?.closeBelow,
            range?.low,
            range?.aim,
            range?.high,
            range?.closeAbove,
          ] as number[];
          for (const [index, upper] of order.entries())
            if (index > 0) expect(upper).toBeGreaterThanOrEqual((order[index - 1] as number) - 1e-9);
        },
      ),
    );
  });
  it("asks for no stabiliser indoors or in a spa, and takes the plate of a cell for its salt", () => {
    const set = RANGE_SETS["salt-cell"] as RangeSet;
    const at = (kind: string, indoors: boolean, cellSalt: { low: number; high: number } | null = null) =>
      setForBasin(set, { kind, indoors, sanitiser: "salt-cell", equipment: { cellSalt } }, null);
    expect(rangeFor(at("pool", false), "cyanuricAcid", "plaster")?.low).toBe(60);
    expect(rangeFor(at("pool", true), "cyanuricAcid", "plaster")).toEqual({ high: 80 });
    expect(rangeFor(at("spa", false), "cyanuricAcid", "plaster")).toEqual({ high: 80 });
    expect(rangeFor(at("pool", false), "salt", "plaster")).toMatchObject({ low: 2700, high: 3400 });
    expect(rangeFor(at("pool", false, { low: 4000, high: 5000 }), "salt", "plaster")).toEqual({
      low: 4000,
      high: 5000,
      aim: 4500,
    });
  });
});

describe("the expert's and the technician's cases", () => {
  const state = (of: Partial<Case> & Pick<Case, "readings">) =>
    stateOf({
      set: RANGE_SETS["held-by-hocl"] as RangeSet,
      ...TIGHT,
      sanitiser: "chlorine",
      ...of,
      readings: { ph: read(7.5), ...of.readings },
    }).state;
  it("held by HOCl without stabiliser: 0.07 closes, 1 to 4 is open, 25 closes", () => {
    expect(state({ readings: { freeChlorine: read(0.07) } })).toBe("closed");
    expect(state({ readings: { freeChlorine: read(1) } })).toBe("open");
    expect(state({ readings: { freeChlorine: read(25) } })).toBe("closed");
  });
  it("a spa under the public code does not pass 1", () => {
    const set = RANGE_SETS["public-code"] as RangeSet;
    expect(state({ set, kind: "spa", readings: { freeChlorine: read(1) } })).toBe("closed");
    expect(state({ set, kind: "spa", readings: { freeChlorine: read(3) } })).toBe("open");
  });
  it("a salt pool at 3 with 70 of stabiliser is low and not closed", () => {
    const set = RANGE_SETS["salt-cell"] as RangeSet;
    expect(state({ set, sanitiser: "salt-cell", stabiliser: 70, readings: { freeChlorine: read(3) } })).toBe(
      "care",
    );
  });
  it("a hot tub of 44 °C, and bromine of 0 under the public code, close", () => {
    const set = RANGE_SETS["spa-warm-water"] as RangeSet;
    expect(
      state({ set, kind: "spa", readings: { freeChlorine: read(4), ph: read(7.6), temperature: read(44) } }),
    ).toBe("closed");
    const code = RANGE_SETS["public-code"] as RangeSet;
    expect(state({ set: code, sanitiser: "bromine", readings: { bromine: read(0) } })).toBe("closed");
    expect(state({ set: code, sanitiser: "bromine", readings: { bromine: read(5) } })).toBe("open");
  });
});

describe("an incident", () => {
  const at = new Date("2026-07-01T12:00:00Z");
  const later = (minutes: number) => new Date(at.getTime() + minutes * 60_000);
  const why = (
    kind: IncidentKind,
    minutes: number,
    readings: [quantity: string, value: number, minutes: number][] = [],
    more: { stabiliser?: number; who?: string } = {},
  ) =>
    whyNotOver(
      { kind, at },
      {
        now: later(minutes),
        readings: readings.map(([quantity, value, made]) => ({
          quantity,
          value,
          bound: "within",
          takenAt: later(made),
        })),
        stabiliser: 0,
        who: "",
        ...more,
      },
    );
  it("closes while it is not over, and after it until both are tested", () => {
    for (const kind of INCIDENT_KINDS) {
      const incident = { id: "1", kind, at, by: "Wren", note: "", over: null };
      const closed = bathingOf({
        sanitiser: "chlorine",
        seen: { closing: [], urgent: [] },
        findings: [],
        possible: [],
        tested: { freeChlorine: 1e15, ph: 1e15 },
        closers: [],
        incidents: [incident],
        until: null,
      });
      expect(closed).toMatchObject({ state: "closed", because: [{ code: "incident", incident: kind }] });
    }
  });
  it("of formed stool is over after 25 minutes at 2 mg/L and pH 7.5, read from the first test of both", () => {
    expect(why("stool-formed", 60)).toEqual({ code: "not-held", freeChlorine: 2, ph: 7.5 });
    const held: [string, number, number][] = [
      ["freeChlorine", 3, 5],
      ["ph", 7.4, 10],
    ];
    expect(why("stool-formed", 34, held)).toEqual({ code: "too-soon", minutes: 1 });
    expect(why("stool-formed", 35, held)).toBeNull();
    // A pH over 7.5 slows it; chlorine that fell in between starts the clock anew.
    expect(
      why("stool-formed", 90, [
        ["freeChlorine", 3, 5],
        ["ph", 7.8, 10],
      ]),
    ).toMatchObject({
      code: "not-held",
    });
    expect(why("stool-formed", 90, [...held, ["freeChlorine", 1, 20]])).toMatchObject({ code: "not-held" });
    // Readings of before it say nothing.
    expect(
      why("stool-formed", 90, [
        ["freeChlorine", 3, -5],
        ["ph", 7.4, -5],
      ]),
    ).toMatchObject({
      code: "not-held",
    });
  });
  it("of loose stool takes 15 300 mg·min/L, more with stabiliser, and cannot be had with much of it", () => {
    const hold = INCIDENTS["stool-loose"].hold;
    expect((hold?.freeChlorine ?? 0) * (hold?.minutes ?? 0)).toBe(15_300);
    const held: [string, number, number][] = [
      ["freeChlorine", 20, 0],
      ["ph", 7.5, 0],
    ];
    expect(why("stool-loose", 764, held)).toMatchObject({ code: "too-soon" });
    expect(why("stool-loose", 765, held)).toBeNull();
    expect(why("stool-loose", 765, held, { stabiliser: 10 })).toMatchObject({ code: "too-soon" });
    expect(why("stool-loose", 1680, held, { stabiliser: 10 })).toBeNull();
    expect(why("stool-loose", 5000, held, { stabiliser: 40 })).toEqual({
      code: "stabiliser-too-high",
      most: 15,
    });
  });
  it("that others decide wants their name, and thunder half an hour", () => {
    expect(why("legionella", 1e6)).toEqual({ code: "nobody-named" });
    expect(why("legionella", 1, [], { who: "Dr Varrow, county health" })).toBeNull();
    expect(why("gas", 100, [], { who: " " })).toEqual({ code: "nobody-named" });
    expect(why("lightning", 29)).toEqual({ code: "too-soon", minutes: 1 });
    expect(why("lightning", 30)).toBeNull();
  });
});

describe("a look", () => {
  it("of an older build found nothing of what it was not asked for", () => {
    expect(Object.keys(nothingFound())).toEqual(["see", "safe", "hear", "smell", "feel", "note"]);
  });
});
