import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { IncidentKind } from "../judging/incidents";
import { PRODUCTS, type ProductId } from "../products/products";
import { DOUBT_CODES } from "../testing/doubt";
import { type Look, nothingFound, type Trouble } from "../testing/order/look";
import { bathingAt } from "./bathing";
import type { CommandName, VisitCommands } from "./commands";
import { commandOf, decide } from "./decide";
import { seenOf } from "./decide/seen";
import { afterCommand } from "./facts";
import { gasLock } from "./gas-lock";
import { judge } from "./judgement";
import { visitOf } from "./visit";
import { brought, PRODUCTS_HERE, STARTED, uuidOf, WREN } from "./visit.fixtures";
import { NOTHING_WRITTEN, type Written } from "./written";

/** What else stands on the shelf of these visits. */
const MORE = ["sodium-thiosulfate", "potassium-monopersulfate", "clarifier", "sodium-carbonate"] as const;
const SHELF = [
  ...PRODUCTS_HERE,
  ...MORE.map((product, index) => ({
    ...(PRODUCTS_HERE[0] as (typeof PRODUCTS_HERE)[number]),
    id: uuidOf(0xc0 + index),
    product: product as ProductId,
    name: product,
    strength: PRODUCTS[product].strength,
    position: 20 + index,
  })),
];
const CALL = brought({ products: SHELF });
const idOf = (compound: ProductId) => SHELF.find(({ product }) => product === compound)?.id ?? "";

/** A visit that is told minute by minute. */
function told() {
  let written: Written = NOTHING_WRITTEN;
  let minute = 0;
  let key = 1000;
  const at = () => new Date(STARTED.getTime() + minute * 60_000);
  const give = <Name extends CommandName>(name: Name, given: VisitCommands[Name]) => {
    minute += 1;
    key += 1;
    // As a device gives it: what happened there is taken in.
    const frame = { id: uuidOf(key), by: WREN, at: at(), seen: seenOf(written) };
    written = afterCommand(written, decide(CALL, written, commandOf(name, given, frame)));
    return uuidOf(key);
  };
  const test = (methodId: string, seen: VisitCommands["read"]["tests"][number]["seen"]) => {
    key += 1;
    give("read", { tests: [{ id: uuidOf(key), methodId, seen, confirmed: [...DOUBT_CODES] }] });
  };
  return {
    look: (troubles: Partial<Look>) => give("look", { ...nothingFound(), ...troubles }),
    chlorine: (drops: number) => test("free-chlorine-fas-dpd", { kind: "drops", count: drops, sample: 25 }),
    ph: (mark: number) => test("ph-phenol-red", { kind: "place", place: { from: mark, to: mark } }),
    alkalinity: (drops: number) => test("total-alkalinity", { kind: "drops", count: drops, sample: 25 }),
    dose: (compound: ProductId, grams: number) =>
      give("give", { code: `x.${key}`, productId: idOf(compound), givenGrams: grams }),
    happened: (kind: IncidentKind) => give("report-incident", { kind, note: "" }),
    over: (incidentId: string) => give("end-incident", { incidentId, who: "Dr Varrow" }),
    wait: (minutes: number) => {
      minute += minutes;
    },
    get minute() {
      return minute;
    },
    get written() {
      return written;
    },
    bathing: () => bathingAt(visitOf(CALL, written, at())),
    opened: () => visitOf(CALL, written, at()),
  };
}

const right = () => {
  const visit = told();
  visit.look({});
  visit.chlorine(15);
  visit.ph(7.6);
  visit.alkalinity(10);
  return visit;
};

describe("whether the water of a visit may be used", () => {
  it("is open where it was looked at, and sanitiser and pH are inside", () => {
    expect(right().bathing()).toEqual({ state: "open", because: [], until: null, urgent: [] });
    const unseen = told();
    unseen.chlorine(15);
    unseen.ph(7.6);
    expect(unseen.bathing()).toMatchObject({ state: "untested", because: [{ code: "not-looked" }] });
    const one = told();
    one.look({});
    one.alkalinity(10);
    expect(one.bathing().state).toBe("untested");
  });

  it("is closed by what was seen, and open after another look and a test of both", () => {
    const visit = right();
    visit.look({ see: ["cloudy"], safe: ["gate"] });
    expect(visit.bathing()).toMatchObject({ state: "closed", urgent: ["gate"] });
    expect(
      judge(visit.opened())
        .notices.map(({ code }) => code)
        .slice(0, 2),
    ).toEqual(["basin.closed", "basin.urgent"]);
    visit.look({});
    expect(visit.bathing()).toMatchObject({ state: "closed", because: [{ code: "since", what: "seen" }] });
    visit.chlorine(15);
    expect(visit.bathing().state).toBe("closed");
    visit.ph(7.6);
    expect(visit.bathing().state).toBe("open");
  });

  it("waits by the clock for what mixes, and by a test for a shock, a reducer, an oxidiser and a clarifier", () => {
    const mixing = right();
    // 0.5 mg/L in 40 m³ are 20 g of chlorine, 160 g as sold.
    mixing.dose("sodium-hypochlorite", 160);
    expect(mixing.bathing()).toMatchObject({
      state: "mixing",
      until: STARTED.getTime() + (mixing.minute + 240) * 60_000,
    });
    mixing.wait(241);
    expect(mixing.bathing().state).toBe("open");
    for (const [compound, grams, what] of [
      // 5 mg/L in 40 m³ are 200 g, 1600 g as sold.
      ["sodium-hypochlorite", 1600, "shock"],
      ["sodium-thiosulfate", 50, "chlorine-out"],
      ["potassium-monopersulfate", 500, "oxidiser"],
      ["clarifier", 100, "clouding"],
      // 5 kg of acid take any pool of 40 m³ under 7.0.
      ["hydrochloric-acid", 5000, "ph-moved"],
      ["sodium-carbonate", 6000, "ph-moved"],
    ] as const) {
      const visit = right();
      visit.dose(compound, grams);
      visit.wait(3000);
      expect(visit.bathing(), compound).toMatchObject({
        state: "closed",
        because: [{ code: "since", what }],
      });
      visit.chlorine(15);
      visit.ph(7.6);
      expect(visit.bathing().state, compound).toBe("open");
    }
  });

  it("adds doses up since the last test: four small ones are a shock", () => {
    const visit = right();
    for (let time = 0; time < 3; time++) visit.dose("sodium-hypochlorite", 400);
    expect(visit.bathing().state).toBe("mixing");
    visit.dose("sodium-hypochlorite", 400);
    expect(visit.bathing()).toMatchObject({ state: "closed" });
  });

  it("of a basin that was closed opens by tests after the dose only, of both", () => {
    const visit = told();
    visit.look({});
    visit.chlorine(2);
    visit.ph(7.6);
    visit.dose("sodium-hypochlorite", 640);
    expect(visit.bathing().state).toBe("closed");
    visit.chlorine(12);
    expect(visit.bathing().state).toBe("closed");
    visit.ph(7.6);
    // Tested after it; the rest of it is mixing still.
    expect(visit.bathing().state).toBe("mixing");
    visit.wait(240);
    expect(visit.bathing().state).toBe("open");
  });

  it("is closed by an incident until it is over and tested, over visits too", () => {
    const visit = right();
    const incident = visit.happened("legionella");
    expect(visit.bathing()).toMatchObject({
      state: "closed",
      because: [{ code: "incident", incident: "legionella" }],
    });
    visit.chlorine(15);
    visit.ph(7.6);
    expect(visit.bathing().state).toBe("closed");
    visit.over(incident);
    expect(visit.bathing()).toMatchObject({ because: [{ code: "since", what: "incident" }] });
    visit.chlorine(15);
    visit.ph(7.6);
    expect(visit.bathing().state).toBe("open");
    // Another visit, on which it is not over.
    const kept = { id: uuidOf(77), kind: "glass" as const, at: STARTED, by: "Jory", note: "", over: null };
    const later = visitOf({ ...CALL, incidents: [kept] }, visit.written, STARTED);
    expect(bathingAt(later).because).toContainEqual({ code: "incident", incident: "glass" });
    const ended = decide(
      { ...CALL, incidents: [kept] },
      visit.written,
      commandOf("end-incident", { incidentId: kept.id, who: "" }, { id: uuidOf(78), by: WREN, at: STARTED }),
    );
    const after = visitOf({ ...CALL, incidents: [kept] }, afterCommand(visit.written, ended), STARTED);
    expect(after.incidents.find(({ id }) => id === kept.id)?.over?.by).toBe("Wren");
  });

  it("refuses to end an incident too soon, and names what is missing", () => {
    const visit = right();
    const incident = visit.happened("stool-formed");
    const end = (incidentId: string) => () =>
      decide(
        CALL,
        visit.written,
        commandOf("end-incident", { incidentId, who: "" }, { id: uuidOf(79), by: WREN, at: STARTED }),
      );
    expect(end(incident)).toThrow(
      expect.objectContaining({ code: "unconfirmed", field: "incident", limit: ["not-held", 2, 7.5] }),
    );
    expect(end(uuidOf(4711))).toThrow("incidentId: unknown");
  });
});

describe("acid and chlorine", () => {
  it("keep half an hour apart whatever they are given for: a plan, a finding, a label", () => {
    const sequestrant = { ...SHELF[0], id: uuidOf(0xd0), product: "sequestrant" as const };
    const products = [...SHELF, sequestrant];
    const dose = (compound: ProductId, givenGrams: number) => ({
      id: uuidOf(1),
      visitId: uuidOf(1),
      productId: products.find(({ product }) => product === compound)?.id ?? "",
      code: "x",
      plannedGrams: givenGrams,
      givenGrams,
      givenAt: STARTED,
    });
    const at = (minutes: number) => new Date(STARTED.getTime() + minutes * 60_000);
    const chlorine = { doses: [dose("sodium-hypochlorite", 500)], products };
    for (const acid of [
      "hydrochloric-acid",
      "sodium-bisulfate",
      "potassium-monopersulfate",
      "sequestrant",
    ] as const)
      expect(gasLock(chlorine, acid), acid).toEqual(at(30));
    for (const other of ["sodium-bicarbonate", "dichlor", "algaecide"] as const)
      expect(gasLock(chlorine, other), other).toBeNull();
    expect(gasLock({ doses: [dose("sequestrant", 100)], products }, "trichlor")).toEqual(at(30));
    // Taken back, it never went in.
    expect(gasLock({ doses: [dose("sequestrant", 0)], products }, "trichlor")).toBeNull();
  });
});

/** One thing that is done at a visit, at random. */
type Step =
  | { do: "look"; troubles: Trouble[] }
  | { do: "chlorine"; drops: number }
  | { do: "ph"; mark: number }
  | { do: "dose"; compound: ProductId; grams: number }
  | { do: "incident"; kind: IncidentKind }
  | { do: "over" }
  | { do: "wait"; minutes: number };

const pick = <T>(...of: readonly T[]) => fc.constantFrom(...of);
const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 2,
    arbitrary: fc.record({
      do: fc.constant("look" as const),
      troubles: pick<Trouble[]>([], [], ["green"], ["stains"], ["drain-cover"], ["floor-hidden", "foam"]),
    }),
  },
  {
    weight: 6,
    arbitrary: fc.record({
      do: fc.constant("chlorine" as const),
      drops: pick(0, 3, 5, 8, 12, 15, 20, 40, 60),
    }),
  },
  {
    weight: 6,
    arbitrary: fc.record({ do: fc.constant("ph" as const), mark: pick(6.8, 7, 7.2, 7.4, 7.6, 7.8, 8, 8.2) }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("dose" as const),
      compound: pick<ProductId>("sodium-hypochlorite", "hydrochloric-acid", "sodium-bicarbonate", ...MORE),
      grams: pick(50, 200, 900, 3000),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("incident" as const),
      kind: pick<IncidentKind>("blood", "glass", "legionella"),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("over" as const) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("wait" as const), minutes: pick(1, 30, 300) }) },
);

/** Whether it was read, and beyond what closes. */
const isOut = ([minute = -1, value = 0]: number[], low: number, high: number): boolean =>
  minute >= 0 && (value < low - 1e-9 || value > high + 1e-9);

const CLOSING_TROUBLES: readonly Trouble[] = ["green", "drain-cover", "floor-hidden"];
const ALWAYS_CLOSE: readonly ProductId[] = ["sodium-thiosulfate", "potassium-monopersulfate", "clarifier"];

describe("two thousand visits at random", () => {
  it("end open only where both were tested after the last thing that closes", () => {
    let open = 0;
    let shut = 0;
    fc.assert(
      fc.property(fc.array(step, { minLength: 3, maxLength: 14 }), (steps) => {
        const visit = told();
        // What a bystander with a notebook would write, by other rules than the core's.
        let lastClosing = -1;
        let lastLook: Trouble[] | null = null;
        const lastRead = { chlorine: [-1, 0], ph: [-1, 0] };
        const running = new Set<string>();
        let raised = 0;
        for (const one of steps) {
          switch (one.do) {
            case "look":
              visit.look({
                see: one.troubles.filter((trouble) => trouble !== "drain-cover") as Look["see"],
                safe: one.troubles.filter((trouble) => trouble === "drain-cover") as Look["safe"],
              });
              lastLook = one.troubles;
              if (one.troubles.some((trouble) => CLOSING_TROUBLES.includes(trouble)))
                lastClosing = visit.minute;
              break;
            case "chlorine":
              visit.chlorine(one.drops);
              lastRead.chlorine = [visit.minute, one.drops * 0.2];
              raised = 0;
              break;
            case "ph":
              visit.ph(one.mark);
              lastRead.ph = [visit.minute, one.mark];
              break;
            case "dose":
              visit.dose(one.compound, one.grams);
              if (isOut(lastRead.chlorine, 1, 10) || isOut(lastRead.ph, 7, 8)) lastClosing = visit.minute;
              if (one.compound === "sodium-hypochlorite") {
                raised += (one.grams * 0.125 * 1000) / 40_000;
                if (raised >= 5) lastClosing = visit.minute;
              }
              if (ALWAYS_CLOSE.includes(one.compound)) lastClosing = visit.minute;
              break;
            case "incident":
              running.add(visit.happened(one.kind));
              lastClosing = visit.minute;
              break;
            case "over": {
              const [first] = running;
              if (first) {
                visit.over(first);
                running.delete(first);
                lastClosing = visit.minute;
              }
              break;
            }
            case "wait":
              visit.wait(one.minutes);
          }
        }
        const { state } = visit.bathing();
        if (state === "closed" || state === "untested") {
          shut += 1;
          return;
        }
        open += 1;
        expect(lastRead.chlorine[0]).toBeGreaterThan(lastClosing);
        expect(lastRead.ph[0]).toBeGreaterThan(lastClosing);
        expect(lastRead.chlorine[1]).toBeGreaterThanOrEqual(1 - 1e-9);
        expect(lastRead.chlorine[1]).toBeLessThanOrEqual(10 + 1e-9);
        expect(lastRead.ph[1]).toBeGreaterThanOrEqual(7);
        expect(lastRead.ph[1]).toBeLessThanOrEqual(8);
        expect(lastLook).not.toBeNull();
        expect(lastLook?.some((trouble) => CLOSING_TROUBLES.includes(trouble))).toBe(false);
        expect(running.size).toBe(0);
      }),
      { numRuns: 2000, seed: 20_261_129 },
    );
    expect(open).toBeGreaterThan(60);
    expect(shut).toBeGreaterThan(600);
  });
});
