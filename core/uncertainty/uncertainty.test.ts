import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { checked } from "../check";
import { effectOf } from "../products/effects";
import { chlorineShares } from "../water/chlorine";
import { carbonateAlkalinity, saturation } from "../water/saturation";
import { anyWater, POOL_WATER } from "../water/water.fixtures";
import { intervalOf } from "./agreement";
import { runJob, type UncertaintyJob } from "./job";
import { jobSchema } from "./job.schema";
import { balanceModel, DRAWN_READINGS, effectModel, exactSample, volumeModel } from "./models";
import { chanceAbove, type Model, propagate, propagated } from "./propagate";
import { about, exactly, SAMPLE_VOLUME_DEVIATION, type Spread, spreadOf } from "./spread";

const identity: Model<"x"> = {
  outputs: ["x"],
  run: (drawn, out) => {
    out[0] = drawn[0] ?? Number.NaN;
    return true;
  },
};
const draws = (spread: Spread, samples = 60_000) =>
  propagated(identity, [spread], { samples, seed: 7 }).intervals.x;

const PLAN = [
  { product: "hydrochloric-acid", strength: 0.3145, grams: 400 },
  { product: "sodium-bicarbonate", strength: 0.99, grams: 2500 },
  { product: "sodium-hypochlorite", strength: 0.107, grams: 900 },
] as const;

describe("a spread", () => {
  it("of a bracket has the moments of an even one: width / √12", () => {
    const { mean, deviation, low, high } = draws({ low: 80, high: 90, deviation: 0 });
    expect(mean).toBeCloseTo(85, 1);
    expect(deviation).toBeCloseTo(10 / Math.sqrt(12), 1);
    expect(low).toBeCloseTo(80.25, 1);
    expect(high).toBeCloseTo(89.75, 1);
  });
  it("of a scatter has the moments of a normal one", () => {
    const { mean, deviation, high } = draws(about(1000, 0.05));
    expect(mean / 1000).toBeCloseTo(1, 2);
    expect(deviation / 50).toBeCloseTo(1, 1);
    expect(high).toBeCloseTo(1000 + 1.96 * 50, -1);
  });
  it("of a titration is its quantum with drop size and sample volume", () => {
    // ±5 % and ±2 %: 5.4 %
    expect(
      spreadOf({ value: 90, unit: "mg/L", low: 80, high: 90, bound: "within" }, "titration").deviation,
    ).toBeCloseTo(0.0539, 4);
    expect(() =>
      spreadOf({ value: 8.2, unit: "pH", low: 8.2, high: null, bound: "at-least" }, "comparator"),
    ).toThrow("bound: inconsistent");
  });
});

describe("propagation", () => {
  const options = { samples: 20_000, seed: 42 };
  it("of exact numbers gives what the models give", () => {
    fc.assert(
      fc.property(
        anyWater.filter((water) => water.calciumHardness > 1),
        (water) => {
          const inputs = DRAWN_READINGS.map((name) => exactSample(water)[name]);
          const one = { samples: 1, seed: 1 };
          const balance = propagated(balanceModel(water), inputs, one).intervals;
          expect(balance.saturation.mean).toBeCloseTo(saturation(water).full.corrected, 8);
          expect(balance.hypochlorousAcid.mean).toBeCloseTo(chlorineShares(water).hypochlorousAcid, 8);
          expect(balance.carbonateAlkalinity.mean).toBeCloseTo(carbonateAlkalinity(water), 6);
          const after = effectOf({ water, litres: 40_000, additions: PLAN });
          const planned = propagated(
            effectModel(water, PLAN, { water, litres: 40_000 }),
            [...inputs, exactly(40_000), exactly(1), exactly(1), exactly(1)],
            one,
          ).intervals;
          for (const key of [
            "ph",
            "totalAlkalinity",
            "calciumHardness",
            "cyanuricAcid",
            "freeChlorine",
          ] as const)
            expect(planned[key].mean).toBeCloseTo(after[key], 7);
        },
      ),
      { numRuns: 60 },
    );
  });

  it("is the same for the same seed and another for another", () => {
    const run = (seed: number) =>
      propagated(identity, [about(10, 0.1)], { samples: 500, seed }).intervals.x.mean;
    expect(run(1)).toBe(run(1));
    expect(run(1)).not.toBe(run(2));
  });

  it("tells how far it is, and can be left", () => {
    const steps = propagate(identity, [exactly(1)], options);
    const told = [steps.next().value, steps.next().value];
    expect(told[0]).toBeGreaterThan(0);
    expect(told[1]).toBeGreaterThan(told[0] as number);
    expect(steps.return(undefined as never).done).toBe(true);
  });

  it("widens with what goes in, and says how likely a limit is passed", () => {
    const water = { ...POOL_WATER, cyanuricAcid: 40 };
    const at = (deviation: number) =>
      propagated(
        effectModel(water, PLAN, { water, litres: 40_000 }),
        [
          ...DRAWN_READINGS.map((name) => exactSample(water)[name]),
          about(40_000, deviation),
          exactly(1),
          exactly(1),
          exactly(1),
        ],
        options,
      );
    const [narrow, wide] = [at(0.02), at(0.1)];
    expect(wide.intervals.totalAlkalinity.deviation).toBeGreaterThan(
      4 * narrow.intervals.totalAlkalinity.deviation,
    );
    const middle = wide.intervals.totalAlkalinity.median;
    expect(chanceAbove(wide.draws.totalAlkalinity, middle)).toBeCloseTo(0.5, 2);
    expect(chanceAbove(wide.draws.totalAlkalinity, 1e9)).toBe(0);
  });

  it("leaves out draws that make no water, and counts them", () => {
    const water = { ...POOL_WATER, cyanuricAcid: 100, totalAlkalinity: 60 };
    const inputs = DRAWN_READINGS.map((name) =>
      name === "totalAlkalinity" ? { low: 10, high: 60, deviation: 0 } : exactSample(water)[name],
    );
    const { refused, intervals } = propagated(balanceModel(water), inputs, options);
    // The cyanurate holds 32.2 of it: (32.2 − 10) / 50 of the draws
    expect(refused / options.samples).toBeCloseTo(0.443, 1);
    expect(intervals.carbonateAlkalinity.low).toBeGreaterThan(0);
  });

  it("gives a volume from a dose, skewed as it must be", () => {
    const { intervals } = propagated(
      volumeModel,
      [
        about(12, 0.02),
        { low: 0.0014, high: 0.0016, deviation: 0 },
        { low: 0.0018, high: 0.002, deviation: 0 },
      ],
      options,
    );
    expect(intervals.litres.median).toBeCloseTo(30_000, -3);
    expect(intervals.litres.high - intervals.litres.median).toBeGreaterThan(
      intervals.litres.median - intervals.litres.low,
    );
  });
});

describe("a job", () => {
  const job: UncertaintyJob = {
    model: "effect",
    samples: 5000,
    seed: 3,
    water: POOL_WATER,
    readings: exactSample(POOL_WATER),
    litres: about(40_000, 0.05),
    additions: [...PLAN],
  };
  it("holds to its schema and ends with its intervals", () => {
    expect(checked(jobSchema, job)).toEqual(job);
    const steps = runJob(job);
    let step = steps.next();
    while (!step.done) step = steps.next();
    expect(step.value.intervals.totalAlkalinity?.low).toBeLessThan(
      step.value.intervals.totalAlkalinity?.high ?? 0,
    );
  });
  it.each([
    [{ samples: 0 }, "samples: too-low"],
    [{ samples: 1e9 }, "samples: too-high"],
    [{ model: "guess" }, "model: unknown"],
    [{ litres: { low: 2, high: 1, deviation: 0 } }, "litres.high: too-low"],
    [{ additions: [{ product: "x", strength: 1, grams: 1 }] }, "additions.0.product: unknown"],
  ])("with %o is refused", (part, said) => {
    expect(() => checked(jobSchema, { ...job, ...part })).toThrow(said);
  });
});

describe("the scatter of a hand", () => {
  it("stands in for the usual one, and the vessel's own stays", () => {
    const read = { value: 90, unit: "mg/L", low: 80, high: 90, bound: "within" } as const;
    expect(spreadOf({ ...read, scatter: 0.1 }, "titration").deviation).toBeCloseTo(Math.hypot(0.1, 0.02), 12);
    // A hand that never scatters still fills a vessel to a mark.
    expect(spreadOf({ ...read, scatter: 0 }, "titration").deviation).toBe(SAMPLE_VOLUME_DEVIATION);
    expect(spreadOf({ ...read, scatter: 0.03 }, "comparator").deviation).toBe(0.03);
    expect(spreadOf(read, "comparator").deviation).toBe(0);
    const wide = intervalOf({ ...read, scatter: 0.2 }, "titration");
    const usual = intervalOf(read, "titration");
    expect(wide.low ?? 0).toBeLessThan(usual.low ?? 0);
    expect(wide.high ?? 0).toBeGreaterThan(usual.high ?? 0);
  });
});
