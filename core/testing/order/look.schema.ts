import Joi from "joi";
import { type Look, SENSE_NAMES, SENSES } from "./look";
import { SAMPLING_PROBLEMS, type Sampling } from "./sampling";

const senses = Object.fromEntries(
  SENSE_NAMES.map((sense) => [
    sense,
    Joi.array()
      .items(Joi.valid(...SENSES[sense]))
      .unique()
      // A device of an older build does not ask for all of it.
      .default([]),
  ]),
);

/** A look as sent and stored. */
export const lookSchema = Joi.object<Look>({
  ...senses,
  note: Joi.string().allow("").max(1000).required(),
});

/** How the sample was taken, as sent and stored. */
export const samplingSchema = Joi.object<Sampling>({
  circulation: Joi.valid("running", "off").required(),
  ignored: Joi.array()
    .items(Joi.valid(...SAMPLING_PROBLEMS))
    .unique()
    .required(),
});
