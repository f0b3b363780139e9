import fc from "fast-check";
import { expect, it } from "vitest";
import { smallMeasure } from "./small-amounts";

const POWDER = { form: "solid", density: 1 } as const;

it("weighs what the scale tells within 5 %, spoons what it cannot, and else says from where on it can", () => {
  expect(smallMeasure(20.4, POWDER, 1)).toEqual({ by: "scale" });
  // 2.4 g on a scale of whole grams is 2 g, 17 % too little; two level quarter teaspoons hold 2.46 mL.
  expect(smallMeasure(2.4, { form: "solid", density: 0.98 }, 1)).toEqual({ by: "spoon", quarters: 2 });
  expect(smallMeasure(2.4, { form: "solid", density: null }, 1)).toEqual({ by: "nothing", least: 10 });
  expect(smallMeasure(0.07, POWDER, 1)).toEqual({ by: "nothing", least: 10 });
  expect(smallMeasure(0.07, POWDER, 0.01)).toEqual({ by: "scale" });
});

it("never measures out more than 5 % beside what is meant", () => {
  const step = fc.constantFrom(0.01, 0.1, 1, 2, 5, 10, 50);
  fc.assert(
    fc.property(
      fc.double({ min: 0.01, max: 5000, noNaN: true }),
      fc.double({ min: 0.4, max: 2, noNaN: true }),
      step,
      (grams, density, step) => {
        const found = smallMeasure(grams, { form: "solid", density }, step);
        const measured =
          found.by === "scale"
            ? Math.round(grams / step) * step
            : found.by === "spoon"
              ? found.quarters * 1.23223 * density
              : null;
        if (measured !== null) expect(Math.abs(measured / grams - 1)).toBeLessThanOrEqual(0.0501);
        else expect(grams).toBeLessThan(step * 10);
      },
    ),
  );
});
