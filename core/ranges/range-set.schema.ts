import Joi from "joi";
import { QUANTITIES, QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import { type Range, type RangeOverrides, type RangeSet, SURFACES } from "./range-set";

const range = (quantity: Quantity) => {
  const number = Joi.number().min(QUANTITIES[quantity].low).max(QUANTITIES[quantity].high);
  return Joi.object({
    low: number,
    high: number,
    aim: number,
    closeBelow: number,
    closeAbove: number,
    heldBy: Joi.valid("hypochlorous-acid"),
    unstabilised: Joi.object({ low: number, closeBelow: number }),
  })
    .custom(inOrder)
    .messages({ "range.order": "{{#label}} has limits that cross at {{#limit}}" });
};

/** Limits from the foot up; each that is given must not lie under one before it. */
const FROM_THE_FOOT = ["closeBelow", "low", "aim", "high", "closeAbove"] as const;
/** Held by its acid a range has limits of two kinds: what closes is free chlorine. */
const OF_THE_ACID = ["low", "aim", "high"] as const;

function inOrder(range: Range, helpers: Joi.CustomHelpers): Range | Joi.ErrorReport {
  const given = (range.heldBy ? OF_THE_ACID : FROM_THE_FOOT).filter((name) => range[name] !== undefined);
  for (const [index, upper] of given.entries()) {
    const lower = given[index - 1];
    if (lower && (range[lower] ?? 0) > (range[upper] ?? 0))
      return helpers.error("range.order", { limit: upper });
  }
  return range;
}

const ranges = Joi.object(Object.fromEntries(QUANTITY_NAMES.map((name) => [name, range(name)])));

/** A range set as stored, sent or imported. */
export const rangeSetSchema = Joi.object<RangeSet>({
  id: Joi.string().max(60).required(),
  name: Joi.string().trim().max(80).required(),
  // A day; in sets that came from elsewhere it may be a moment.
  date: Joi.string()
    .pattern(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])(T[\d:.]+(Z|[+-]\d\d:\d\d)?)?$/)
    .required(),
  purpose: Joi.string().trim().max(400).required(),
  ranges: ranges.required(),
  saturation: Joi.object({
    low: Joi.number().min(-2).max(0).required(),
    high: Joi.number().min(0).max(2).required(),
  }),
  bySurface: Joi.object(Object.fromEntries(SURFACES.map((surface) => [surface, ranges]))),
});

/** A basin's own limits. */
export const rangeOverridesSchema = (ranges as Joi.ObjectSchema<RangeOverrides>).required();
