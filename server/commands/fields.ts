import Joi from "joi";
import { isDay } from "#core";

/** Fields that commands of many kinds carry. */

export const uuidSchema = Joi.string().guid({ separator: "-" }).required();
/** The key of a command that changes what is there: with it, the same one sent again counts once. */
export const keySchema = Joi.string().guid({ separator: "-" });
export const idSchema = Joi.object<{ id?: string }>({ id: keySchema });
/** Only which row is meant. */
export const onlyId = Joi.object<{ id: string }>({ id: uuidSchema });

/** @example "2031-03-05" */
export const daySchema = Joi.string()
  .custom((day: string, helpers) => (isDay(day) ? day : helpers.error("any.invalid")))
  .required();

/** A day of any year. @example "04-01" */
export const monthDaySchema = Joi.string()
  .pattern(/^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/)
  .required();

export const nameSchema = Joi.string().trim().min(1).max(120).required();
export const memberOrNobody = Joi.string().guid({ separator: "-" }).allow(null).required();
export const isUuid = (text: string | undefined): text is string => !uuidSchema.validate(text).error;
