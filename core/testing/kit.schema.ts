import Joi from "joi";
import { QUANTITY_NAMES } from "../measure/quantity";
import type { Kit } from "./kit";

const id = Joi.string()
  .pattern(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  .max(60);
const words = Joi.string().trim().min(1).max(80);
const colour = Joi.object({
  word: words.required(),
  swatch: Joi.string()
    .pattern(/^#[0-9a-f]{6}$/)
    .required(),
});

const step = Joi.object({
  reagent: words.required(),
  amount: Joi.number().positive().max(100).required(),
  measure: Joi.valid("drops", "scoops", "tablets", "mL").required(),
  mix: Joi.valid("swirl", "invert", "shake", "none").required(),
  wait: Joi.number().positive().max(3600),
  sample: Joi.number().positive().max(1000),
});

const base = {
  id: id.required(),
  quantity: Joi.valid(...QUANTITY_NAMES).required(),
  name: words.required(),
  steps: Joi.array().items(step).max(12).required(),
};

const titration = Joi.object({
  ...base,
  kind: Joi.valid("titration").required(),
  titrant: words.required(),
  samples: Joi.array()
    .items(
      Joi.object({
        millilitres: Joi.number().positive().max(1000).required(),
        factor: Joi.number().positive().max(1000).required(),
      }),
    )
    .unique("millilitres")
    .min(1)
    .max(6)
    .required(),
  before: colour.required(),
  after: colour.required(),
  continues: id,
});

const scale = Joi.object({
  ...base,
  kind: Joi.valid("comparator", "turbidity").required(),
  sample: Joi.number().positive().max(1000).required(),
  marks: Joi.array().items(Joi.number().min(0).max(40_000)).min(2).max(24).unique().required(),
  before: colour,
  after: colour,
}).custom((value: { marks: number[] }, helpers) => {
  const ascending = value.marks.every((mark, index) => index === 0 || mark > (value.marks[index - 1] ?? 0));
  return ascending ? value : helpers.error("any.custom", { error: new Error("marks must ascend") });
});

const meter = Joi.object({
  ...base,
  kind: Joi.valid("meter").required(),
  accuracy: Joi.number().min(0).max(1000).required(),
});

/** A kit as stored, sent or imported. */
export const kitSchema = Joi.object<Kit>({
  name: words.required(),
  methods: Joi.array()
    .items(
      Joi.alternatives().conditional(".kind", {
        switch: [
          { is: "titration", then: titration },
          { is: "meter", then: meter },
        ],
        otherwise: scale,
      }),
    )
    .unique("id")
    .min(1)
    .max(40)
    .required(),
});
