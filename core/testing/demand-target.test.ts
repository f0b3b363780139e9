import { describe, expect, it } from "vitest";
import { demandByModel } from "../reading/demand-model";
import { waterFromReadings } from "../reading/from-readings";
import { demandTarget, methodFrom } from "../visit/water";
import type { VisitReading } from "../visit/written";
import { demandTargetOf } from "./demand-target";
import { methodById, type TitrationMethod } from "./kit";
import { TITRATION_KIT } from "./kits/titration-kit";

const method = (id: string) => methodById(TITRATION_KIT, id) as TitrationMethod;
const ACID = method("acid-demand");
const BASE = method("base-demand");

describe("the standard that demand drops are matched to", () => {
  it("is the nearest to the set's aim; between two the one that is reached first", () => {
    expect(demandTargetOf(TITRATION_KIT, ACID, { aim: 7.6 })).toBe(7.6);
    expect(demandTargetOf(TITRATION_KIT, ACID, { aim: 7.5 })).toBe(7.6);
    expect(demandTargetOf(TITRATION_KIT, BASE, { aim: 7.5 })).toBe(7.4);
    expect(demandTargetOf(TITRATION_KIT, ACID, { aim: 7.45 })).toBe(7.4);
  });
  it("is the kit's own where the set has no aim, and none for another count", () => {
    expect(demandTargetOf(TITRATION_KIT, ACID, { high: 7.8 })).toBe(7.4);
    expect(demandTargetOf(TITRATION_KIT, ACID, undefined)).toBe(7.4);
    expect(demandTargetOf({ ...TITRATION_KIT, methods: [ACID] }, ACID, { aim: 7.6 })).toBe(7.4);
    expect(demandTargetOf(TITRATION_KIT, method("total-alkalinity"), { aim: 100 })).toBeNull();
  });

  it("goes along with the count, and a pH off its scale comes out as it was", () => {
    const place = { kind: "pool", outdoors: true } as const;
    const made = (value: number, more: object = {}) =>
      ({
        value,
        unit: "mg/L",
        low: value,
        high: value,
        bound: "within",
        kind: "titration",
        ...more,
      }) as const;
    const rest = { totalAlkalinity: made(100), calciumHardness: made(300), cyanuricAcid: made(40) };
    const { water } = waterFromReadings({ ...rest, ph: made(8.5) }, place);
    const needed = demandByModel(water, 7.6);
    const counted = { kitId: "k", methodId: ACID.id, quantity: "acidDemand" } as const;
    const reading = (target?: number) =>
      ({
        ...counted,
        observation: { kind: "drops", count: 9, sample: 44, ...(target ? { target } : {}) },
      }) as VisitReading;
    const methods = methodFrom([{ id: "k", kit: TITRATION_KIT }]);
    const told = demandTarget([reading(7.6)], methods);
    expect(told).toBe(7.6);
    // A count of before, which says nothing of it, went to the kit's own.
    expect(demandTarget([reading()], methods)).toBe(7.4);
    const off = { ...rest, ph: made(8.2, { bound: "at-least", high: null }), acidDemand: made(needed) };
    expect(waterFromReadings(off, place, told).water.ph).toBeCloseTo(8.5, 2);
    expect(waterFromReadings(off, place, 7.4).water.ph).toBeLessThan(8.2);
  });
});
