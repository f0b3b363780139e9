import type Joi from "joi";
import { type FaultCode, InputFault, type Limit } from "./fault";

const CODES: Record<string, FaultCode> = {
  "any.required": "missing",
  "string.empty": "missing",
  "any.only": "unknown",
  "range.order": "inconsistent",
  "object.unknown": "unknown",
  "number.base": "not-a-number",
  "number.infinity": "not-a-number",
  "number.unsafe": "too-high",
  "number.integer": "not-a-whole-number",
  "number.min": "too-low",
  "number.greater": "too-low",
  "number.positive": "too-low",
  "number.max": "too-high",
  "number.less": "too-high",
  "string.max": "too-long",
  "array.max": "too-long",
};

/**
 * The value as the schema leaves it, or an `InputFault` naming the first field that breaks it.
 * @param convert numbers may come as text, as they do in an address
 */
export function checked<T>(schema: Joi.Schema<T>, value: unknown, { convert = false } = {}): T {
  const result = schema.validate(value, { abortEarly: true, convert });
  if (!result.error) return result.value;
  const [detail] = result.error.details;
  const limit: Limit | undefined = detail?.context?.limit ?? detail?.context?.valids;
  const given = detail?.context?.value;
  throw new InputFault(
    CODES[detail?.type ?? ""] ?? "malformed",
    detail?.path.join(".") || "body",
    typeof given === "string" ? given.slice(0, 80) : given,
    typeof limit === "object" && !Array.isArray(limit) ? undefined : limit,
  );
}
