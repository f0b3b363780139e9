import { InputFault } from "../fault";
import { SAMPLE_LIMITS, type Sample } from "../water/sample";
import { type Fields, isGiven } from "./verb";

/** What stands in for a reading that a line leaves out. pH, alkalinity and hardness have no stand-in. */
export const ASSUMED = {
  cyanuricAcid: 0,
  freeChlorine: 0,
  temperature: 25,
  totalDissolvedSolids: 1000,
  borate: 0,
} as const satisfies Partial<Sample>;

const UNITS: Record<keyof Sample, string> = {
  ph: "pH, activity of H+",
  totalAlkalinity: "mg/L as CaCO3, titrated with the chlorine destroyed",
  calciumHardness: "mg/L as CaCO3",
  cyanuricAcid: "mg/L",
  freeChlorine: "mg/L as Cl2",
  borate: "mg/L as B",
  temperature: "°C",
  totalDissolvedSolids: "mg/L",
};

/** A water out of a line, with the names of what was assumed. Limits are checked where it is used. */
export function waterFrom(fields: unknown, prefix = ""): { sample: Sample; assumed: Partial<Sample> } {
  if (typeof fields !== "object" || fields === null || Array.isArray(fields))
    throw new InputFault("missing", prefix.replace(/\.$/, "") || "water", fields);
  const given = fields as Fields;
  const assumed: Partial<Sample> = {};
  const value = (name: keyof Sample): number => {
    if (isGiven(given, name)) return given[name] as number;
    if (!(name in ASSUMED)) throw new InputFault("missing", prefix + name, undefined);
    assumed[name] = ASSUMED[name as keyof typeof ASSUMED];
    return ASSUMED[name as keyof typeof ASSUMED];
  };
  const sample = Object.fromEntries(
    (Object.keys(SAMPLE_LIMITS) as (keyof Sample)[]).map((name) => [name, value(name)]),
  ) as unknown as Sample;
  return { sample, assumed };
}

/** Runs work on a water; a fault in it is named with the field's whole path. */
export function within<T>(prefix: string, work: () => T): T {
  try {
    return work();
  } catch (fault) {
    if (fault instanceof InputFault && fault.field in SAMPLE_LIMITS)
      throw new InputFault(fault.code, prefix + fault.field, fault.value, fault.limit);
    throw fault;
  }
}

/** JSON Schema of a water. */
export const waterSchema = {
  type: "object",
  properties: Object.fromEntries(
    Object.entries(SAMPLE_LIMITS).map(([name, { low, high }]) => [
      name,
      {
        type: "number",
        minimum: low,
        maximum: high,
        description: UNITS[name as keyof Sample],
        ...(name in ASSUMED ? { default: ASSUMED[name as keyof typeof ASSUMED] } : {}),
      },
    ]),
  ),
  required: Object.keys(SAMPLE_LIMITS).filter((name) => !(name in ASSUMED)),
} as const;

/** JSON Schema of a measured number in an answer. */
export const numberOf = (description: string) => ({ type: ["number", "null"], description });
