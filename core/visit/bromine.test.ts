import { describe, expect, it } from "vitest";
import { SPA_WARM_WATER } from "../ranges/sets";
import { DOUBT_CODES } from "../testing/doubt";
import { nothingFound } from "../testing/order/look";
import { bathingAt } from "./bathing";
import { bromineAt } from "./bromine";
import { commandOf, decide } from "./decide";
import { afterCommand } from "./facts";
import { judge } from "./judgement";
import { visitOf } from "./visit";
import { brought, STARTED, uuidOf, WREN } from "./visit.fixtures";
import { NOTHING_WRITTEN, type VisitReading } from "./written";

/** A bromine spa of 1.5 m³, called at every day. */
const CALL = (() => {
  const base = brought({ rangeSet: SPA_WARM_WATER });
  return {
    ...base,
    visit: { ...base.visit, litres: 1500 },
    basin: {
      ...base.basin,
      kind: "spa" as const,
      sanitiser: "bromine" as const,
      litres: 1500,
      calls: { ...base.basin.calls, callDays: [1, 2, 3, 4, 5, 6, 7] },
    },
  };
})();
const AT = { by: WREN, at: STARTED };

const visitWith = (methodId: string, drops: number, earlier: VisitReading[] = []) => {
  const call = { ...CALL, earlier };
  const seen = { kind: "drops" as const, count: drops, sample: 25 };
  const tests = [
    { id: uuidOf(31), methodId, seen, confirmed: [...DOUBT_CODES] },
    {
      id: uuidOf(32),
      methodId: "ph-phenol-red",
      seen: { kind: "place" as const, place: { from: 7.6, to: 7.6 } },
      confirmed: [...DOUBT_CODES],
    },
  ];
  const looked = afterCommand(
    NOTHING_WRITTEN,
    decide(call, NOTHING_WRITTEN, commandOf("look", nothingFound(), { id: uuidOf(30), ...AT })),
  );
  const written = afterCommand(
    looked,
    decide(call, looked, commandOf("read", { tests }, { id: uuidOf(33), ...AT })),
  );
  return visitOf(call, written, STARTED);
};

describe("a bromine basin", () => {
  it("takes a chlorine test for what it is: bromine, 2.25 times as much", () => {
    // 10 drops of 0.2 are 2.0 as chlorine, 4.5 as bromine; the drop's bracket goes along.
    const { readings } = visitWith("free-chlorine-fas-dpd", 10);
    expect(readings.find(({ quantity }) => quantity === "bromine")).toMatchObject({
      value: 4.5,
      low: expect.closeTo(1.8 * 2.25, 9),
      high: expect.closeTo(4.5, 9),
    });
    expect(readings.some(({ quantity }) => quantity === "freeChlorine")).toBe(false);
    // The kit's own bromine test needs no converting: 10 drops of 0.45.
    expect(
      visitWith("bromine-fas-dpd", 10).readings.find(({ quantity }) => quantity === "bromine")?.value,
    ).toBe(4.5);
  });
  it("opens by bromine and pH, and closes under its floor", () => {
    expect(bathingAt(visitWith("bromine-fas-dpd", 12)).state).toBe("open");
    expect(bathingAt(visitWith("bromine-fas-dpd", 8))).toMatchObject({
      state: "closed",
      because: [{ finding: "bromine.low" }],
    });
    expect(bathingAt(visitWith("bromine-fas-dpd", 20)).state).toBe("closed");
  });
  it("is closed by a dose that takes bromine over what closes, until it was tested again", () => {
    // 12 drops are 5.4; 60 g of 12.5 % in 1.5 m³ are 5 mg/L of chlorine, 11 of bromine; 25 g are 4.7 of it.
    const dosed = (grams: number) => {
      const opened = visitWith("bromine-fas-dpd", 12);
      const given = {
        id: uuidOf(60),
        visitId: CALL.visit.id,
        productId: CALL.products[2]?.id ?? "",
        code: "bromine.low",
        plannedGrams: grams,
        givenGrams: grams,
        givenAt: new Date(STARTED.getTime() + 60_000),
      };
      return bathingAt({ ...opened, doses: [given] });
    };
    expect(dosed(25)).toMatchObject({ state: "closed", because: [{ code: "since", what: "shock" }] });
    expect(dosed(5).state).toBe("mixing");
  });
  it("is raised to what lasts until the next visit, also where it is inside today", () => {
    const inside = visitWith("bromine-fas-dpd", 11);
    const ahead = bromineAt(inside);
    // 4.95 read; a tenth of the waters lose fast: the band's top is all that may be left.
    expect(ahead).toMatchObject({ leave: 6, willNotLast: true });
    const judged = judge(inside);
    expect(judged.findings.map(({ code }) => code)).not.toContain("bromine.low");
    const dose = judged.advice.find(({ finding }) => finding.quantity === "bromine");
    // 1.05 mg/L in 1.5 m³ are 1.575 g of bromine; a gram of 12.5 % makes 0.2817
    expect(dose).toMatchObject({ kind: "dose", aim: 6 });
    expect(dose?.kind === "dose" && dose.grams).toBeCloseTo(1.575 / 0.28173, 1);
  });
  it("loses by its own last interval once there was one", () => {
    const last = {
      ...(visitWith("bromine-fas-dpd", 13).readings.find(
        ({ quantity }) => quantity === "bromine",
      ) as VisitReading),
      takenAt: new Date(STARTED.getTime() - 4 * 86_400_000),
    };
    // 5.85 four days ago, 5.4 now: it hardly loses any.
    const slow = bromineAt(visitWith("bromine-fas-dpd", 12, [last]));
    const usual = bromineAt(visitWith("bromine-fas-dpd", 12));
    expect(slow?.leave).toBeLessThan(usual?.leave ?? 0);
    expect(slow?.willNotLast).toBe(false);
  });
});
