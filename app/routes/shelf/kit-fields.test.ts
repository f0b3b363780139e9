import { describe, expect, it } from "vitest";
import { COMPARATOR_KIT, type Kit, SHIPPED_KITS, TITRATION_KIT } from "#core";
import { checked, kitSchema } from "#core/schemas";
import { emptyMethod, fromKit, toKit } from "./kit-fields";

describe("a kit in its form", () => {
  it.each(SHIPPED_KITS)("$name comes out as it went in", (kit) => {
    const out = toKit(fromKit(kit));
    // A meter says where its number comes from, in the form always.
    const told: Kit = {
      ...kit,
      methods: kit.methods.map((method) =>
        method.kind === "meter" ? { source: "meter", ...method } : method,
      ),
    };
    expect(out).toEqual(told);
    expect(checked(kitSchema, out)).toEqual(told);
  });

  it("keeps what was typed when it is no number, so that the fault can name it", () => {
    const fields = fromKit(COMPARATOR_KIT);
    const [first] = fields.methods;
    if (!first) throw new Error("no method");
    first.marks = "0.5 one 1.5";
    const out = toKit(fields);
    expect(out.methods[0]).toMatchObject({ marks: [0.5, "one", 1.5] });
    expect(() => checked(kitSchema, out)).toThrow("methods.0.marks.1: not-a-number");
  });

  it("takes decimal commas, and leaves out what was left empty", () => {
    const method = {
      ...emptyMethod(3),
      name: "Own",
      titrant: "own titrant",
      samples: [{ millilitres: "12,5", factor: "20" }],
    };
    const [out] = toKit({ name: "Own kit", methods: [method] }).methods;
    expect(out).toMatchObject({ id: "test-3", samples: [{ millilitres: 12.5, factor: 20 }] });
    expect(out).not.toHaveProperty("target");
    expect(out).not.toHaveProperty("computed");
    expect(out).not.toHaveProperty("traps");
  });

  it("changes its kind without losing what the other kind had", () => {
    const [fields] = fromKit(TITRATION_KIT).methods;
    if (!fields) throw new Error("no method");
    const asMeter = toKit({ name: "x", methods: [{ ...fields, kind: "meter", accuracy: "0.1" }] }).methods[0];
    expect(asMeter).toMatchObject({ kind: "meter", accuracy: 0.1 });
    expect(asMeter).not.toHaveProperty("samples");
    expect(fields.samples).toHaveLength(2);
  });
});
