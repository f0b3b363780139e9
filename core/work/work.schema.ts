import Joi from "joi";
import { WORK_KEYS, type WorkItem, type WorkList, type WorkRule } from "./work";

/** A list has no more than what somebody looks through at a call. */
const MOST_ITEMS = 40;

const rule = Joi.alternatives<WorkRule>().conditional(".by", {
  switch: [
    { is: "bathers", then: Joi.object({ by: Joi.valid("bathers").required() }) },
    { is: "call", then: Joi.object({ by: Joi.valid("call").required() }) },
    {
      is: "days",
      then: Joi.object({
        by: Joi.valid("days").required(),
        every: Joi.number().integer().min(1).max(400).required(),
      }),
    },
  ],
  otherwise: Joi.object({
    by: Joi.valid("season").required(),
    times: Joi.number().integer().min(1).max(12).required(),
  }),
});

/** The firm's own have a name; what ships has its words. */
const item = Joi.object<WorkItem>({
  key: Joi.alternatives(
    Joi.valid(...WORK_KEYS),
    Joi.string()
      .pattern(/^own-[a-z0-9-]{1,40}$/)
      .required(),
  ).required(),
  name: Joi.string()
    .min(1)
    .max(80)
    .when("key", { is: Joi.valid(...WORK_KEYS), then: Joi.forbidden(), otherwise: Joi.required() }),
  rule: rule.required(),
});

export const workListSchema = Joi.object<WorkList>({
  items: Joi.array().items(item).unique("key").max(MOST_ITEMS).required(),
});
