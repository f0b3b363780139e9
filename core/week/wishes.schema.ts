import Joi from "joi";
import { isDay } from "../schedule/days";
import { type BasinWishes, type FirmWeek, type MemberWeek, WISH_LIMITS } from "./wishes";

const day = Joi.string().custom((text: string, helpers) =>
  isDay(text) ? text : helpers.error("any.invalid"),
);
const days = Joi.array().items(day).unique().max(WISH_LIMITS.days);
const weekday = Joi.number().integer().min(1).max(7);
const within = ({ low, high }: { low: number; high: number }) => Joi.number().min(low).max(high);
const gap = within(WISH_LIMITS.gap).integer();

export const basinWishesSchema = Joi.object<BasinWishes>({
  least: gap.allow(null).required(),
  most: gap.allow(null).required(),
  allowed: Joi.array().items(weekday).unique().min(1).max(7).allow(null).required(),
  fixed: Joi.array().items(weekday).unique().max(7).required(),
  daily: Joi.boolean().required(),
  use: within(WISH_LIMITS.use).required(),
  mayGo: Joi.array()
    .items(Joi.string().guid({ separator: "-" }))
    .unique()
    .max(200)
    .allow(null)
    .required(),
});

export const memberWeekSchema = Joi.object<MemberWeek>({
  hours: Joi.array().items(within(WISH_LIMITS.hours)).length(7).required(),
  off: days.required(),
  carries: within(WISH_LIMITS.carries).allow(null).required(),
});

export const firmWeekSchema = Joi.object<FirmWeek>({ closed: days.required() });
