import Joi from "joi";
import { type CountState, MOST_DROPS, type Observation } from "#core";

/** What a visit's pages may send. */

export const LONGEST_NOTE = 4000;

export const uuidSchema = Joi.string().guid({ separator: "-" }).required();
const methodId = Joi.string().max(60).required();

export const countSchema = Joi.object<CountState & { methodId: string }>({
  methodId,
  drops: Joi.number().integer().min(0).max(MOST_DROPS).required(),
  sample: Joi.number().greater(0).max(1000).required(),
  sequence: Joi.number().integer().min(0).max(1_000_000).required(),
});

const mark = Joi.number().min(0).max(40_000).allow(null).required();
const dilution = Joi.number().min(1).max(100);

export const observationSchema = Joi.object<{ id: string; methodId: string; seen: Observation }>({
  id: uuidSchema,
  methodId,
  seen: Joi.alternatives()
    .conditional(".kind", {
      switch: [
        {
          is: "drops",
          then: Joi.object({
            kind: Joi.valid("drops").required(),
            count: Joi.number().integer().min(0).max(MOST_DROPS).required(),
            sample: Joi.number().min(0).max(1000).required(),
            dilution,
          }),
        },
        {
          is: "place",
          then: Joi.object({
            kind: Joi.valid("place").required(),
            place: Joi.object({ from: mark, to: mark }).required(),
            dilution,
          }),
        },
      ],
      otherwise: Joi.object({ kind: Joi.valid("number").required(), value: Joi.number().required() }),
    })
    .required(),
});

export const doseSchema = Joi.object<{ id: string; code: string; productId: string; givenGrams: number }>({
  id: uuidSchema,
  code: Joi.string().max(80).required(),
  productId: uuidSchema,
  givenGrams: Joi.number().min(0).max(1_000_000).required(),
});

export const noteSchema = Joi.object<{ note: string }>({
  note: Joi.string().allow("").max(LONGEST_NOTE).required(),
});
