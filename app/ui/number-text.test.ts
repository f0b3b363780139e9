import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { meaningsOf } from "#core";
import { fieldText, typedNumber, typedOrNull } from "./number-text";

describe("a number as it is typed", () => {
  it.each([
    ["1.5", 1.5],
    [" 1,5 ", 1.5],
    ["0", 0],
    ["-2", -2],
  ])("%j is %d", (text, value) => {
    expect(typedNumber(text)).toBe(value);
    expect(typedOrNull(text)).toBe(value);
  });
  it("that is empty is none, or null where that is allowed", () => {
    expect(typedNumber(" ")).toBeNaN();
    expect(typedOrNull("")).toBeNull();
  });
  it("that is a word survives the way to the server", () => {
    // NaN would go out as null, and null is an empty field.
    expect(JSON.parse(JSON.stringify({ price: typedOrNull("a lot") }))).toEqual({ price: "a lot" });
  });
  it("that a field begins with means one number, and that one, whatever language is spoken", () => {
    expect(fieldText(1250.5, 2)).toBe("1250.5");
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1e6, noNaN: true }), (value) => {
        const text = fieldText(value, 2);
        expect(meaningsOf(text)).toBeNull();
        expect(typedNumber(text)).toBeCloseTo(value, 1);
      }),
    );
  });
});
