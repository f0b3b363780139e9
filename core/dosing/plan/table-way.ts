import { findings, placeInRange } from "../../judging/findings";
import type { Readings } from "../../measure/quantity";
import { QUANTITIES } from "../../measure/quantity";
import { effectOf } from "../../products/effects";
import type { RangeSet, Surface } from "../../ranges/range-set";
import { rangesOf } from "../../ranges/range-set";
import { WATER_READINGS, type WaterEstimate } from "../../reading/from-readings";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { adviseEach } from "../advice";
import { STEERED, type Steered } from "./goals";
import type { PlanInput } from "./input";

/** What comes of giving every reading its own dose. */
export interface TableWay {
  after: Sample;
  saturation: number;
  cost: number;
  products: number;
  /** Share of the water replaced. */
  replaced: number;
  /** Readings that end outside their range. */
  out: Steered[];
}

/**
 * The reading-by-reading way, for comparison: every finding gets the dose a table would give, worked
 * out for its own reading by exact mole balance (a real table is coarser), and all of them go in.
 * @example tableWay(input, set, "plaster").replaced // 0
 */
export function tableWay(input: PlanInput, set: RangeSet, surface: Surface): TableWay {
  const { water, litres, products, fill } = input;
  const readings = exactReadings(water);
  const advice = adviseEach({
    findings: findings(readings, set, surface, water),
    readings,
    known: { water, standing: ALL_READ, possible: true },
    litres,
    products,
    ...(fill ? { fill: { calciumHardness: fill.calciumHardness } } : {}),
  });
  const doses = advice.filter((one) => one.kind === "dose");
  const replaced = Math.max(0, ...advice.map((one) => (one.kind === "replace-water" ? one.fraction : 0)));
  const after = effectOf({
    water,
    litres,
    additions: doses.map(({ product, strength, grams }) => ({ product, strength, grams })),
    ...(fill && replaced > 0 ? { replaced: { fraction: replaced, fill } } : {}),
  });
  const ranges = rangesOf(set, surface, after);
  const price = (id: string) => products.find((one) => one.product === id)?.pricePerKg ?? 0;
  return {
    after,
    saturation: saturation(after).full.corrected,
    cost: doses.reduce((sum, one) => sum + (one.grams / 1000) * price(one.product), 0),
    products: doses.length,
    replaced: fill ? replaced : 0,
    out: STEERED.filter(
      (name) =>
        placeInRange({ value: Number(after[name].toPrecision(6)), bound: "within" }, ranges[name]) !==
        "within",
    ),
  };
}

const ALL_READ = Object.fromEntries(
  WATER_READINGS.map((name) => [name, "read"]),
) as WaterEstimate["standing"];

/** A sample as readings without brackets. */
const exactReadings = (sample: Sample): Readings =>
  Object.fromEntries(
    [...STEERED, "temperature" as const].map((name) => [
      name,
      {
        value: sample[name],
        unit: QUANTITIES[name].unit,
        low: sample[name],
        high: sample[name],
        bound: "within" as const,
      },
    ]),
  );
