import Joi from "joi";
import { QUANTITIES, QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import { type RangeSet, SURFACES } from "./range-set";

const range = (quantity: Quantity) => {
  const number = Joi.number().min(QUANTITIES[quantity].low).max(QUANTITIES[quantity].high);
  return Joi.object({
    low: number,
    high: number,
    aim: number,
    closeBelow: number,
    closeAbove: number,
    heldBy: Joi.valid("hypochlorous-acid"),
  });
};
const ranges = Joi.object(Object.fromEntries(QUANTITY_NAMES.map((name) => [name, range(name)])));

/** A range set as stored, sent or imported. */
export const rangeSetSchema = Joi.object<RangeSet>({
  id: Joi.string().max(60).required(),
  name: Joi.string().trim().max(80).required(),
  date: Joi.string().isoDate().required(),
  purpose: Joi.string().trim().max(400).required(),
  ranges: ranges.required(),
  saturation: Joi.object({
    low: Joi.number().min(-2).max(0).required(),
    high: Joi.number().min(0).max(2).required(),
  }),
  bySurface: Joi.object(Object.fromEntries(SURFACES.map((surface) => [surface, ranges]))),
});
