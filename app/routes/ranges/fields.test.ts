import { describe, expect, it } from "vitest";
import { InputFault, RANGE_SETS } from "#core";
import { checked, rangeSetSchema } from "#core/schemas";
import { fieldsOf, setFrom } from "./fields";

describe("a range set in its form", () => {
  it("comes back as it was, for every set that ships", () => {
    for (const set of Object.values(RANGE_SETS))
      expect(checked(rangeSetSchema, setFrom(fieldsOf(set), set, set.date))).toEqual(set);
  });

  const set = RANGE_SETS["outdoor-fixed-band"];
  if (!set) throw new Error("no set");
  const changed = (change: (fields: ReturnType<typeof fieldsOf>) => void) => {
    const fields = fieldsOf(set);
    change(fields);
    return setFrom(fields, set, "2026-05-01");
  };

  it("takes what was typed, with a comma too, and leaves out what was cleared", () => {
    const made = changed((fields) => {
      Object.assign(fields.ranges.ph ?? {}, { low: "7,3" });
      Object.assign(fields.ranges.combinedChlorine ?? {}, { high: "" });
      Object.assign(fields.surfaces.vinyl ?? {}, { low: "100", high: "250" });
    });
    expect(made.ranges.ph?.low).toBe(7.3);
    expect(made.ranges.combinedChlorine).toBeUndefined();
    expect(made.bySurface?.vinyl?.calciumHardness).toEqual({ low: 100, high: 250 });
    expect(made.date).toBe("2026-05-01");
  });

  it("is refused with the field where a limit is no number, or limits cross", () => {
    const refused = (change: (fields: ReturnType<typeof fieldsOf>) => void): InputFault => {
      try {
        checked(rangeSetSchema, changed(change));
      } catch (fault) {
        if (fault instanceof InputFault) return fault;
      }
      throw new Error("was taken");
    };
    expect(refused((fields) => Object.assign(fields.ranges.ph ?? {}, { low: "seven" }))).toMatchObject({
      code: "not-a-number",
      field: "ranges.ph.low",
    });
    expect(refused((fields) => Object.assign(fields.ranges.ph ?? {}, { low: "7.9" }))).toMatchObject({
      code: "inconsistent",
      field: "ranges.ph",
    });
    expect(refused((fields) => Object.assign(fields.ranges.ph ?? {}, { high: "99" }))).toMatchObject({
      code: "too-high",
      field: "ranges.ph.high",
    });
  });
});
