import { InputFault } from "../fault";
import { BESIDES_LIMITS, SAMPLE_LIMITS, type Sample } from "../water/sample";
import { type Place, standIns } from "../water/stand-ins";
import { onlyKeys } from "./fields";
import { type Fields, isGiven } from "./verb";

/** What stands in for a reading that a line leaves out. pH, alkalinity and hardness have no stand-in. */
const ASSUMED = {
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
  salt: "mg/L as NaCl, by the salt test; counts as sodium chloride in the ionic strength",
  sulfate: "mg/L as SO4; pairs with calcium in the index",
};

/** Usual values for every reading of a basin, where a verb does without it; see `waterFromReadings`. */
export const usualWater = (place: Place): Partial<Sample> => ({ ...standIns(place), borate: 0 });

/** What may be known of a water besides; nothing stands in for it. */
const BESIDES = Object.keys(BESIDES_LIMITS) as (keyof typeof BESIDES_LIMITS)[];

interface WaterOptions {
  /** What stands in for a reading that is left out; `ASSUMED` when nothing else is said. */
  standIns?: Partial<Sample>;
  /** Refuses keys that are no reading. */
  only?: boolean;
}

/** A water out of a line, with the names of what was assumed. Limits are checked where it is used. */
export function waterFrom(
  fields: unknown,
  prefix = "",
  { standIns: usual = ASSUMED, only = false }: WaterOptions = {},
): { sample: Sample; assumed: Partial<Sample> } {
  const name = prefix.replace(/\.$/, "") || "water";
  if (fields === undefined || fields === null) throw new InputFault("missing", name, fields);
  if (typeof fields !== "object" || Array.isArray(fields))
    throw new InputFault("malformed", name, fields, "object");
  const given = fields as Fields;
  if (only) onlyKeys(prefix, given, [...Object.keys(SAMPLE_LIMITS), ...BESIDES]);
  const assumed: Partial<Sample> = {};
  const value = (name: keyof Sample): number => {
    if (isGiven(given, name)) return given[name] as number;
    const standIn = usual[name];
    if (standIn === undefined) throw new InputFault("missing", prefix + name, undefined);
    assumed[name] = standIn;
    return standIn;
  };
  const sample = Object.fromEntries(
    (Object.keys(SAMPLE_LIMITS) as (keyof Sample)[]).map((name) => [name, value(name)]),
  ) as unknown as Sample;
  for (const name of BESIDES) if (isGiven(given, name)) sample[name] = given[name] as number;
  return { sample, assumed };
}

/** Runs work on a water; a fault in it is named with the field's whole path. */
export function within<T>(prefix: string, work: () => T): T {
  try {
    return work();
  } catch (fault) {
    if (fault instanceof InputFault && (fault.field in SAMPLE_LIMITS || fault.field in BESIDES_LIMITS))
      throw new InputFault(fault.code, prefix + fault.field, fault.value, fault.limit);
    throw fault;
  }
}

/** JSON Schema of a water. */
export const waterSchema = {
  type: "object",
  properties: Object.fromEntries(
    Object.entries({ ...SAMPLE_LIMITS, ...BESIDES_LIMITS }).map(([name, { low, high }]) => [
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
