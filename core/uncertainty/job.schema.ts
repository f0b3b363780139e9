import Joi from "joi";
import { PRODUCT_IDS } from "../products/products";
import { SAMPLE_LIMITS } from "../water/sample";
import type { UncertaintyJob } from "./job";
import { DRAWN_READINGS } from "./models";
import { MOST_SAMPLES } from "./propagate";

const number = Joi.number();
const spread = Joi.object({
  low: number.required(),
  high: number.min(Joi.ref("low")).required(),
  deviation: number.min(0).max(1).required(),
});
const water = Joi.object(
  Object.fromEntries(
    Object.entries(SAMPLE_LIMITS).map(([name, { low, high }]) => [
      name,
      number.min(low).max(high).required(),
    ]),
  ),
);
const readings = Joi.object(Object.fromEntries(DRAWN_READINGS.map((name) => [name, spread.required()])));

const common = {
  samples: number.integer().min(1).max(MOST_SAMPLES).required(),
  seed: number
    .integer()
    .min(0)
    .max(2 ** 32 - 1)
    .required(),
};

/** What a worker is sent. */
export const jobSchema: Joi.Schema<UncertaintyJob> = Joi.alternatives().conditional(".model", {
  switch: [
    {
      is: "balance",
      then: Joi.object({
        ...common,
        model: Joi.valid("balance").required(),
        water: water.required(),
        readings: readings.required(),
      }),
    },
    {
      is: "volume",
      then: Joi.object({
        ...common,
        model: Joi.valid("volume").required(),
        moles: spread.required(),
        before: spread.required(),
        after: spread.required(),
      }),
    },
  ],
  otherwise: Joi.object({
    ...common,
    model: Joi.valid("effect").required(),
    water: water.required(),
    readings: readings.required(),
    litres: spread.required(),
    additions: Joi.array()
      .items(
        Joi.object({
          product: Joi.valid(...PRODUCT_IDS).required(),
          strength: number.greater(0).max(1.2).required(),
          grams: number.min(0).max(1e6).required(),
        }),
      )
      .max(20)
      .required(),
  }),
});
