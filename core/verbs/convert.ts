import { InputFault } from "../fault";
import { type Measurement, QUANTITIES, type Unit } from "../measure/quantity";
import { methodById } from "../testing/kit";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import { computedFactor, dropFactor, titrate } from "../testing/titration";
import { type Fields, isGiven } from "./verb";

/** What one drop is worth, and the measurement when a count came with it. */
export type ConvertAnswer = { factor: number } & Partial<Measurement>;

const KIT_FIELDS = ["normality", "dropVolume", "equivalentWeight"] as const;

/**
 * The verb `convert`: a count of drops to mg/L, by a method of the default kit, by a stated factor,
 * or by a factor computed from an own kit's normality, drop volume and equivalent weight.
 *
 * @example convert({ method: "free-chlorine-fas-dpd", sample: 25, count: 23 }) // { value: 4.6, low: 4.4, high: 4.6, … }
 */
export function convert(input: Fields): ConvertAnswer {
  const { factor, unit } = factorOf(input);
  const dilution = isGiven(input, "dilution") ? (input.dilution as number) : 1;
  if (!isGiven(input, "count")) {
    if (isGiven(input, "normality")) return { factor };
    throw new InputFault("missing", "count", undefined);
  }
  return { ...titrate(input.count as number, factor, unit, dilution), factor };
}

function factorOf(input: Fields): { factor: number; unit: Unit } {
  const unit = "mg/L";
  if (isGiven(input, "method")) {
    const id = input.method;
    const method = typeof id === "string" ? methodById(TITRATION_KIT, id) : undefined;
    if (method?.kind !== "titration")
      throw new InputFault(
        "unknown",
        "method",
        id,
        TITRATION_KIT.methods.filter(({ kind }) => kind === "titration").map((known) => known.id),
      );
    return { factor: dropFactor(method, input.sample), unit: QUANTITIES[method.quantity].unit };
  }
  if (isGiven(input, "factor")) {
    titrate(0, input.factor as number, "mg/L");
    return { factor: input.factor as number, unit };
  }
  if (KIT_FIELDS.some((field) => isGiven(input, field)))
    return { factor: computedFactor(input as unknown as Parameters<typeof computedFactor>[0]), unit };
  throw new InputFault("missing", "method", undefined);
}

const number = (description: string) => ({ type: "number", description });

export const convertSchema = {
  input: {
    type: "object",
    properties: {
      method: { type: "string", description: "id of a titration of the default kit" },
      sample: number("mL"),
      count: {
        type: "integer",
        minimum: 0,
        maximum: 500,
        description: "drops, the one that changed the colour included",
      },
      factor: number("mg/L for one drop"),
      normality: number("eq/L"),
      dropVolume: number("mL"),
      equivalentWeight: number("mg/meq"),
      dilution: { type: "number", minimum: 1, maximum: 100, default: 1 },
    },
    anyOf: [
      { required: ["method", "sample", "count"] },
      { required: ["factor", "count"] },
      { required: ["normality", "dropVolume", "equivalentWeight", "sample"] },
    ],
  },
  output: {
    type: "object",
    properties: {
      value: number("mg/L"),
      unit: { enum: ["mg/L", "meq/L"] },
      low: number("mg/L; the truth lies above"),
      high: number("mg/L; and not over"),
      bound: { const: "within" },
      factor: number("mg/L for one drop"),
    },
  },
} as const;
