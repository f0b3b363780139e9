import type Joi from "joi";
import toJsonSchema from "joi-to-json";
import type { JsonSchema } from "./operation";

/** JSON Schema (2020-12), as OpenAPI 3.1 has it: of Joi's schemas, and by hand of what no Joi checks. */

/** @example ofJoi(Joi.object({ name: Joi.string().required() })).required // ["name"] */
export const ofJoi = (schema: Joi.Schema): JsonSchema =>
  tidied(toJsonSchema(schema, "open-api-3.1")) as JsonSchema;

/** A choice of values needs no list of every type beside it. */
function tidied(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(tidied);
  if (value === null || typeof value !== "object") return value;
  const { type, ...rest } = value as Record<string, unknown>;
  const isListed = "enum" in rest && Array.isArray(type);
  const fields = Object.entries(rest).map(([name, one]) => [name, tidied(one)]);
  return { ...(type === undefined || isListed ? {} : { type }), ...Object.fromEntries(fields) };
}

export const text: JsonSchema = { type: "string" };
export const id: JsonSchema = { type: "string", format: "uuid" };
export const time: JsonSchema = { type: "string", format: "date-time" };
export const day: JsonSchema = { type: "string", format: "date" };
export const number: JsonSchema = { type: "number" };
export const whole: JsonSchema = { type: "integer" };
export const flag: JsonSchema = { type: "boolean" };

/** @example orNull(text).type // ["string", "null"] */
export const orNull = (schema: JsonSchema): JsonSchema => ({ ...schema, type: [schema.type, "null"] });

export const list = (items: JsonSchema): JsonSchema => ({ type: "array", items });

/** An object with all of these and nothing else. */
export const object = (properties: Record<string, JsonSchema>): JsonSchema => ({
  type: "object",
  properties,
  required: Object.keys(properties),
  additionalProperties: false,
});

/** A page of a list. */
export const page = (item: JsonSchema): JsonSchema => object({ items: list(item), next: orNull(text) });
