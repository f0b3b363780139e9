import Joi from "joi";
import { QUANTITY_NAMES } from "../measure/quantity";
import { TRAP_CODES } from "./doubt";
import { type Kit, MEASURES } from "./kit";

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
  amount: Joi.number().greater(0).max(100).required(),
  measure: Joi.valid(...MEASURES).required(),
  mix: Joi.valid("swirl", "invert", "shake", "crush", "dip", "none").required(),
  wait: Joi.number().greater(0).max(3600),
  sample: Joi.number().greater(0).max(1000),
});

const base = {
  id: id.required(),
  quantity: Joi.valid(...QUANTITY_NAMES).required(),
  name: words.required(),
  steps: Joi.array().items(step).max(12).required(),
  traps: Joi.array()
    .items(Joi.valid(...TRAP_CODES))
    .unique(),
  continues: id,
  before: colour,
  after: colour,
  caution: Joi.valid("acid-reagent"),
};

const titration = Joi.object({
  ...base,
  kind: Joi.valid("titration").required(),
  titrant: words.required(),
  samples: Joi.array()
    .items(
      Joi.object({
        millilitres: Joi.number().greater(0).max(1000).required(),
        factor: Joi.number().greater(0).max(1000).required(),
      }),
    )
    .unique("millilitres")
    .min(1)
    .max(6)
    .required(),
  computed: Joi.object({
    normality: Joi.number().greater(0).max(20).required(),
    dropVolume: Joi.number().min(0.001).max(1).required(),
    equivalentWeight: Joi.number().min(1).max(500).required(),
  }),
  target: Joi.number().min(6.5).max(8.5),
  before: colour.required(),
  after: colour.required(),
});

const scale = Joi.object({
  ...base,
  kind: Joi.valid("comparator", "turbidity", "strip").required(),
  sample: Joi.number().greater(0).max(1000).required(),
  marks: Joi.array().items(Joi.number().min(0).max(40_000)).min(2).max(24).unique().required(),
  strip: words,
  readAt: Joi.number().greater(0).max(3600),
}).custom((value: { marks: number[] }, helpers) => {
  const ascending = value.marks.every((mark, index) => index === 0 || mark > (value.marks[index - 1] ?? 0));
  return ascending ? value : helpers.error("any.custom", { error: new Error("marks must ascend") });
});

const meter = Joi.object({
  ...base,
  kind: Joi.valid("meter").required(),
  source: Joi.valid("meter", "photometer", "lab"),
  accuracy: Joi.number().min(0).max(1000).required(),
  relative: Joi.number().min(0).max(1),
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
