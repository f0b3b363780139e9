import { InputFault } from "../fault";
import { type Fields, isGiven } from "./verb";

/** Reading the parts of a line: every fault names the field as it was sent. */

/** The object under a field. */
export function fieldsOf(field: string, value: unknown): Fields {
  if (value === undefined || value === null) throw new InputFault("missing", field, value);
  if (typeof value !== "object" || Array.isArray(value))
    throw new InputFault("malformed", field, value, "object");
  return value as Fields;
}

/** The list under a field. */
export function listOf(field: string, value: unknown): unknown[] {
  if (value === undefined || value === null) throw new InputFault("missing", field, value);
  if (!Array.isArray(value)) throw new InputFault("malformed", field, value, "list");
  return value;
}

/** Refuses a key that means nothing here: a slip in a name must not become a reading that was left out. */
export function onlyKeys(prefix: string, fields: Fields, allowed: readonly string[]): void {
  for (const key of Object.keys(fields))
    if (!allowed.includes(key)) throw new InputFault("unknown", prefix + key, fields[key], allowed);
}

export function oneOf<T extends string>(field: string, value: unknown, list: readonly T[]): T {
  if (value === undefined || value === null) throw new InputFault("missing", field, value, list);
  const found = list.find((one) => one === value);
  if (!found) throw new InputFault("unknown", field, value, list);
  return found;
}

export function flagOf(field: string, value: unknown, otherwise: boolean): boolean {
  if (value === undefined || value === null) return otherwise;
  if (typeof value !== "boolean") throw new InputFault("malformed", field, value, ["true", "false"]);
  return value;
}

export const givenOr = (fields: Fields, name: string, otherwise: unknown): unknown =>
  isGiven(fields, name) ? fields[name] : otherwise;

/**
 * Runs work that names a field of its own; the fault goes out under the name that was sent.
 * @param names what the work calls it → what the line calls it
 */
export function named<T>(names: Readonly<Record<string, string>>, work: () => T): T {
  try {
    return work();
  } catch (fault) {
    const name = fault instanceof InputFault ? names[fault.field] : undefined;
    if (fault instanceof InputFault && name) throw new InputFault(fault.code, name, fault.value, fault.limit);
    throw fault;
  }
}
