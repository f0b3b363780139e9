import { BASIN_LITRES } from "../measure/units";
import {
  type Addition,
  type EffectAnswer,
  type EffectInput,
  effectOf,
  LEAST_LITRES,
} from "../products/effects";
import { BALANCING_IDS } from "../products/labels";
import { checkedSample, type Sample, totalsOf } from "../water/sample";
import { fieldsOf, flagOf, listOf, named } from "./fields";
import { type Fields, isGiven } from "./verb";
import { numberOf, waterFrom, waterSchema, within } from "./water";

/**
 * The verb `effect`: the readings after additions, water replaced and aeration; pH solved.
 * @example effect({ water: { ph: 8, totalAlkalinity: 100, calciumHardness: 300 }, litres: 38000, additions: [] }).ph // 8
 */
export function effect(input: Fields): EffectAnswer & { assumed: Partial<Sample> } {
  const { sample, assumed } = waterFrom(input.water, "water.");
  const additions = listOf("additions", input.additions ?? []);
  additions.forEach((addition, index) => {
    fieldsOf(`additions.${index}`, addition);
  });
  const job: EffectInput = {
    water: sample,
    litres: input.litres as number,
    additions: additions as Addition[],
    chlorineSpent: flagOf("chlorineSpent", input.chlorineSpent, false),
  };
  if (isGiven(input, "replaced")) {
    const replaced = fieldsOf("replaced", input.replaced);
    job.replaced = {
      fraction: replaced.fraction as number,
      fill: waterFrom(replaced.fill, "replaced.fill.").sample,
    };
    within("replaced.fill.", () => totalsOf(checkedSample(job.replaced?.fill as Sample)));
  }
  if (isGiven(input, "aeratedTo")) job.aeratedTo = input.aeratedTo as number;
  const names = { fraction: "replaced.fraction", carbonDioxide: "aeratedTo" };
  return { ...named(names, () => within("water.", () => effectOf(job))), assumed };
}

export const effectSchema = {
  input: {
    type: "object",
    properties: {
      water: waterSchema,
      litres: { type: "number", minimum: LEAST_LITRES, maximum: BASIN_LITRES.high },
      additions: {
        type: "array",
        items: {
          type: "object",
          properties: {
            product: { enum: BALANCING_IDS },
            strength: {
              type: "number",
              exclusiveMinimum: 0,
              maximum: 1.2,
              description:
                "share by weight of the pure compound, or available chlorine of a chlorine product",
            },
            grams: { type: "number", minimum: 0, maximum: 1e6, description: "as sold" },
          },
          required: ["product", "strength", "grams"],
        },
      },
      chlorineSpent: { type: "boolean", default: false },
      replaced: {
        type: "object",
        properties: { fraction: { type: "number", minimum: 0, maximum: 1 }, fill: waterSchema },
        description: "share of the water replaced before anything is added",
      },
      aeratedTo: {
        type: "number",
        minimum: 1e-9,
        maximum: 0.1,
        description: "dissolved CO2 at the end, mol/L",
      },
    },
    required: ["water", "litres"],
  },
  output: {
    type: "object",
    properties: {
      ...Object.fromEntries(
        Object.entries(waterSchema.properties).map(([name, { description }]) => [
          name,
          numberOf(description),
        ]),
      ),
      chlorideAdded: numberOf("mg/L as Cl-"),
      assumed: { type: "object", description: "readings left out, with what stood in" },
    },
  },
} as const;
