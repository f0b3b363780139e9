import { describe, expect, it } from "vitest";
import { checked } from "../check";
import { combinedFrom } from "./combined";
import { type Method, methodById, stepsFor } from "./kit";
import { kitSchema } from "./kit.schema";
import { SHIPPED_KITS } from "./kits/shipped";
import { TITRATION_KIT } from "./kits/titration-kit";
import { methodsAt } from "./order/stations";
import { measure } from "./result";

const reading = (value: number, low: number, high: number) => ({
  value,
  unit: "mg/L" as const,
  low,
  high,
  bound: "within" as const,
});

describe("combined chlorine from a total", () => {
  it("is the total less the free, and so are its edges", () => {
    expect(combinedFrom(reading(3, 2.5, 4), reading(2, 1.8, 2))).toEqual(reading(1, 0.5, 2.2));
  });
  it("is refused when the total is below the free beyond doubt", () => {
    expect(() => combinedFrom(reading(1, 0.75, 1.25), reading(2, 1.8, 2))).toThrow(
      "totalChlorine: inconsistent",
    );
  });
  it("is nought when the two agree within their brackets", () => {
    expect(combinedFrom(reading(1.5, 1.25, 1.75), reading(1.6, 1.4, 1.6)).value).toBe(0);
  });
});

describe("the kit that ships", () => {
  it("holds to its own schema", () => {
    for (const kit of SHIPPED_KITS) expect(checked(kitSchema, kit)).toEqual(kit);
  });
  it("answers every station", () => {
    expect(methodsAt(TITRATION_KIT, "combinedChlorine").map(({ id }) => id)).toEqual([
      "combined-chlorine-fas-dpd",
      "total-chlorine-dpd",
    ]);
  });
  it("doses the hardness reagents by sample size", () => {
    const method = methodById(TITRATION_KIT, "calcium-hardness");
    if (!method) throw new Error("no hardness test");
    expect(stepsFor(method, 25).map(({ amount }) => amount)).toEqual([20, 5]);
    expect(stepsFor(method, 10).map(({ amount }) => amount)).toEqual([10, 3]);
  });
  it("refuses a kit with a broken method, by its place", () => {
    const [first] = TITRATION_KIT.methods;
    const broken = { ...TITRATION_KIT, methods: [{ ...first, samples: [{ millilitres: 0, factor: 0.2 }] }] };
    expect(() => checked(kitSchema, broken)).toThrow("methods.0.samples.0.millilitres: too-low");
  });
});

describe("a number of a diluted sample", () => {
  const chlorine: Method = {
    id: "photometer",
    name: "Photometer",
    steps: [],
    kind: "meter",
    source: "photometer",
    quantity: "freeChlorine",
    accuracy: 0.1,
    relative: 0.04,
  };
  it("is multiplied, its bracket too: the instrument errs at what it shows", () => {
    expect(measure(chlorine, { kind: "number", value: 4, dilution: 4 })).toMatchObject({
      value: 16,
      low: 15.36,
      high: 16.64,
    });
    expect(measure(chlorine, { kind: "number", value: 4 }).value).toBe(4);
  });
  it("is refused where no water can be that", () => {
    expect(() => measure(chlorine, { kind: "number", value: 100, dilution: 4 })).toThrow(
      "freeChlorine: too-high",
    );
  });
});

describe("an observation", () => {
  const ph = methodById(TITRATION_KIT, "ph-phenol-red");
  const temperature = methodById(TITRATION_KIT, "temperature-meter");
  if (!ph || !temperature) throw new Error("kit");
  it("fits its method or is refused", () => {
    expect(() => measure(ph, { kind: "number", value: 7.4 })).toThrow("observation: inconsistent");
  });
  it("is refused where no pool can be", () => {
    // 400 °F are 204 °C
    expect(() => measure(temperature, { kind: "number", value: 204.4 })).toThrow("temperature: too-high");
    expect(() => measure({ ...temperature, quantity: "ph" }, { kind: "number", value: 15 })).toThrow(
      "ph: too-high",
    );
    expect(() => measure(temperature, { kind: "number", value: Number.NaN })).toThrow(
      "temperature: not-a-number",
    );
  });
});
