import Joi from "joi";
import { ACCESS_FIELDS, type SiteAccess } from "./access";

const LONGEST = 300;

/** Digits, and what people put between them. */
const phone = Joi.string()
  .max(40)
  .pattern(/^\s*([+\d][\d\s().,#*/-]*)?$/)
  .allow("");

export const siteAccessSchema = Joi.object<SiteAccess>(
  Object.fromEntries(
    ACCESS_FIELDS.map((field) => [field, field === "phone" ? phone : Joi.string().allow("").max(LONGEST)]),
  ),
);
