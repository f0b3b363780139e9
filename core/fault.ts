/**
 * The one error the core throws on bad input: a code and the numbers, never a sentence.
 * `field` is a dotted path into what was given, `value` what stood there, `limit` what it broke.
 */
export class InputFault extends Error {
  override readonly name = "InputFault";
  constructor(
    readonly code: FaultCode,
    readonly field: string,
    readonly value: unknown,
    readonly limit?: Limit,
  ) {
    super(`${field}: ${code}`);
  }
}

export type FaultCode =
  | "not-a-number"
  | "not-a-whole-number"
  | "too-low"
  | "too-high"
  | "missing"
  | "unknown"
  | "inconsistent"
  | "malformed"
  | "too-long"
  /** Nothing of this id is here, or nothing that whoever asks may know of. */
  | "not-there"
  /** Something has to be answered first: `limit` names what. */
  | "unconfirmed"
  /** Somebody else changed it in the meantime. */
  | "changed"
  /** The key of this write stands for another one already. */
  | "key-taken";

/** What a value broke: a bound, a list of what is allowed, or the name of the field it clashes with. */
export type Limit = number | string | readonly (number | string)[];

/**
 * Returns `value` when it is a finite number within [low, high]; throws an `InputFault` otherwise.
 * @example numberWithin("litres", 40_000, 20, 15_000_000) // 40000
 */
export function numberWithin(field: string, value: unknown, low: number, high: number): number {
  if (value === undefined || value === null || value === "") throw new InputFault("missing", field, value);
  if (typeof value !== "number" || !Number.isFinite(value))
    throw new InputFault("not-a-number", field, value, [low, high]);
  if (value < low) throw new InputFault("too-low", field, value, low);
  if (value > high) throw new InputFault("too-high", field, value, high);
  return value;
}

/** As `numberWithin`, and a whole number. */
export function wholeWithin(field: string, value: unknown, low: number, high: number): number {
  const number = numberWithin(field, value, low, high);
  if (!Number.isInteger(number)) throw new InputFault("not-a-whole-number", field, value, [low, high]);
  return number;
}

/** Returns the entry of `table` under `key`; throws `unknown` with the known keys otherwise. */
export function known<T>(field: string, key: unknown, table: Readonly<Record<string, T>>): T {
  const found = typeof key === "string" && Object.hasOwn(table, key) ? table[key] : undefined;
  if (found === undefined) throw new InputFault("unknown", field, key, Object.keys(table));
  return found;
}
