import { describe, expect, it } from "vitest";
import { volumeTold } from "./by-dose";

const counted = (value: number) => ({ value, low: value - 10, high: value });

describe("a volume told by a dose", () => {
  it("is the calcium given over the rise that it made", () => {
    // 2000 g of 77 % flake hold 2000 × 0.77 / 110.98 = 13.876 mol; 50 mg/L as CaCO3 are 0.4996 mmol/L: 27 776 L
    const told = volumeTold({
      quantity: "calciumHardness",
      given: [{ product: "calcium-chloride", strength: 0.77, grams: 2000 }],
      before: counted(200),
      after: counted(250),
    });
    expect(told?.litres).toBeCloseTo(27_776, -2);
    expect(told?.low).toBeLessThan(told?.litres ?? 0);
    expect(told?.high).toBeGreaterThan(told?.litres ?? 0);
  });

  it("is open above where the change may have been none, and none where nothing tells", () => {
    const bicarbonate = { product: "sodium-bicarbonate", strength: 0.99, grams: 300 } as const;
    const check = { quantity: "totalAlkalinity", before: counted(80), after: counted(90) } as const;
    expect(volumeTold({ ...check, given: [bicarbonate] })?.high).toBeNull();
    expect(volumeTold({ ...check, given: [] })).toBeNull();
    expect(volumeTold({ ...check, given: [{ ...bicarbonate, grams: 0 }] })).toBeNull();
    // Acid went in too: the change tells nothing of one of them.
    expect(
      volumeTold({
        ...check,
        given: [bicarbonate, { product: "hydrochloric-acid", strength: 0.31, grams: 200 }],
      }),
    ).toBeNull();
    expect(volumeTold({ ...check, given: [bicarbonate], after: counted(70) })).toBeNull();
  });
});
