import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { checked } from "../check";
import { combinedFrom } from "./combined";
import { type CountAction, type CountState, countStep, laterCount, newCount } from "./counting";
import { methodById, stepsFor } from "./kit";
import { kitSchema } from "./kit.schema";
import { TITRATION_KIT } from "./kits/titration-kit";
import { measure } from "./result";
import { methodsAt, nextStation } from "./stations";

const reading = (value: number, low: number, high: number) => ({
  value,
  unit: "mg/L" as const,
  low,
  high,
  bound: "within" as const,
});

describe("the running count", () => {
  const action = fc.oneof(
    { weight: 8, arbitrary: fc.constant<CountAction>({ kind: "drop" }) },
    { weight: 2, arbitrary: fc.constant<CountAction>({ kind: "take-back" }) },
    fc.constant<CountAction>({ kind: "start-again" }),
    fc.constantFrom<CountAction>({ kind: "sample", millilitres: 10 }, { kind: "sample", millilitres: 25 }),
  );
  const run = (actions: CountAction[], from = newCount(25)) => actions.reduce(countStep, from);

  it("is what a patient bystander would have written down", () => {
    fc.assert(
      fc.property(fc.array(action, { maxLength: 80 }), (actions) => {
        let drops = 0;
        let sample = 25;
        for (const { kind, ...rest } of actions) {
          if (kind === "drop") drops += 1;
          if (kind === "take-back") drops = Math.max(0, drops - 1);
          if (kind === "start-again") drops = 0;
          if (kind === "sample" && "millilitres" in rest && rest.millilitres !== sample)
            [sample, drops] = [rest.millilitres, 0];
        }
        expect(run(actions)).toMatchObject({ drops, sample });
      }),
    );
  });

  it("comes back whole from any mix of old and new copies", () => {
    fc.assert(
      fc.property(
        fc.array(action, { minLength: 1, maxLength: 60 }),
        fc.array(fc.nat(), { maxLength: 20 }),
        (actions, order) => {
          const states: CountState[] = [newCount(25)];
          for (const one of actions) states.push(countStep(states.at(-1) ?? newCount(25), one));
          // Copies arrive late, twice and out of order; the last one arrives at least once.
          const arrived = [
            ...order.map((index) => states[index % states.length] ?? newCount(25)),
            states.at(-1) ?? newCount(25),
          ];
          expect(arrived.reduce(laterCount)).toEqual(states.at(-1));
        },
      ),
    );
  });

  it("stops at the most a vessel takes, and restores what was wiped by mistake", () => {
    const full = run(Array.from({ length: 600 }, (): CountAction => ({ kind: "drop" })));
    expect(full.drops).toBe(500);
    const wiped = countStep(full, { kind: "start-again" });
    expect(countStep(wiped, { kind: "restore", drops: 500, sample: 25 })).toMatchObject({
      drops: 500,
      sequence: 502,
    });
  });
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
    expect(checked(kitSchema, TITRATION_KIT)).toEqual(TITRATION_KIT);
  });
  it("answers every station", () => {
    expect(methodsAt(TITRATION_KIT, "combinedChlorine").map(({ id }) => id)).toEqual([
      "combined-chlorine-fas-dpd",
      "total-chlorine-dpd",
    ]);
    expect(nextStation(new Set())).toBe("freeChlorine");
    expect(nextStation(new Set(["freeChlorine", "combinedChlorine"]))).toBe("ph");
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
