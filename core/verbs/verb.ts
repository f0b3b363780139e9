import { type FaultCode, InputFault } from "../fault";

/** One line in, as parsed. */
export type Fields = Readonly<Record<string, unknown>>;

export const isGiven = (input: Fields, field: string): boolean =>
  input[field] !== undefined && input[field] !== null;

export interface FaultAnswer {
  error: { code: FaultCode; field: string; value?: unknown; limit?: unknown; message: string };
}

/** A value as it is said back: long words cut, and of a list or an object only that it was one. */
function echoed(value: unknown): unknown {
  if (typeof value === "string") return value.slice(0, 80);
  if (Array.isArray(value)) return "list";
  return typeof value === "object" && value !== null ? "object" : value;
}

/** A fault as one flat object for a line of output; long values are cut. */
export function faultAnswer(fault: InputFault): FaultAnswer {
  const shown = echoed(fault.value);
  const limit = fault.limit === undefined ? "" : `, limit ${JSON.stringify(fault.limit)}`;
  const value = shown === undefined ? "" : `, value ${JSON.stringify(shown) ?? String(shown)}`;
  return {
    error: {
      code: fault.code,
      field: fault.field,
      ...(shown === undefined ? {} : { value: shown }),
      ...(fault.limit === undefined ? {} : { limit: fault.limit }),
      message: `${fault.field}: ${fault.code}${value}${limit}`,
    },
  };
}

/** Answers one line: the verb's answer, or the fault as data. Never throws. */
export function answerLine(verb: (input: Fields) => object, line: string): object {
  let parsed: unknown;
  try {
    parsed = JSON.parse(line);
  } catch {
    return faultAnswer(new InputFault("malformed", "line", line.slice(0, 80), "one JSON object a line"));
  }
  if (typeof parsed !== "object" || parsed === null || Array.isArray(parsed))
    return faultAnswer(new InputFault("malformed", "line", line.slice(0, 80), "one JSON object a line"));
  try {
    return verb(parsed as Fields);
  } catch (fault) {
    if (fault instanceof InputFault) return faultAnswer(fault);
    throw fault;
  }
}
