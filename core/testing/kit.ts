import type { Quantity } from "../measure/quantity";

/**
 * A kit is data: what is in the case, and how each of its tests is worked and read. A visit keeps
 * the version of the kit that it used, so an old count can always be worked out again.
 */
export interface Kit {
  name: string;
  methods: Method[];
}

export type Method = TitrationMethod | ScaleMethod | MeterMethod;

interface MethodBase {
  /** Stable within the kit, lower-case words with hyphens. */
  id: string;
  quantity: Quantity;
  name: string;
  /** Reagents in the order they go in, with counts and how to mix. */
  steps: Step[];
}

/** One line of preparation. `wait` seconds are timed. */
export interface Step {
  reagent: string;
  amount: number;
  measure: "drops" | "scoops" | "tablets" | "mL";
  mix: "swirl" | "invert" | "shake" | "none";
  wait?: number;
  /** Only with this sample size, mL; without it the step holds for every size. */
  sample?: number;
}

/** A colour as a person names it, with a swatch for the screen (sRGB hex). */
export interface Colour {
  word: string;
  swatch: string;
}

export interface TitrationMethod extends MethodBase {
  kind: "titration";
  titrant: string;
  /** Sample sizes offered and what one drop is worth in each, in the quantity's unit. */
  samples: { millilitres: number; factor: number }[];
  before: Colour;
  after: Colour;
  /** Continues in the sample of this method, without a new one. */
  continues?: string;
}

export interface ScaleMethod extends MethodBase {
  /** A comparator's colour standards, or the lines of a turbidity tube. */
  kind: "comparator" | "turbidity";
  sample: number;
  /** Ascending, in the quantity's unit. */
  marks: number[];
  before?: Colour;
  after?: Colour;
}

export interface MeterMethod extends MethodBase {
  kind: "meter";
  /** Stated accuracy, ±, in the quantity's unit. */
  accuracy: number;
}

/** The first method of the kit for a quantity, or undefined when the kit has none. */
export const methodFor = (kit: Kit, quantity: Quantity): Method | undefined =>
  kit.methods.find((method) => method.quantity === quantity);

export const methodById = (kit: Kit, id: string): Method | undefined =>
  kit.methods.find((method) => method.id === id);

/** The steps that hold for a sample of this size. */
export const stepsFor = (method: Method, sample: number | null): Step[] =>
  method.steps.filter((step) => step.sample === undefined || step.sample === sample);
