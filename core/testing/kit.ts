import type { Quantity } from "../measure/quantity";
import type { TrapCode } from "./doubt";

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
  /** Which traps this test can fall into; see `doubts/`. */
  traps?: TrapCode[];
  /** Continues in the sample of this method, without a new one. */
  continues?: string;
  /** Colours before and after, as a person names them. */
  before?: Colour;
  after?: Colour;
  /** What to mind with the reagents themselves. */
  caution?: "acid-reagent";
}

/** One line of preparation. `wait` seconds are timed. */
export interface Step {
  reagent: string;
  amount: number;
  measure: Measure;
  mix: "swirl" | "invert" | "shake" | "crush" | "dip" | "none";
  wait?: number;
  /** Only with this sample size, mL; without it the step holds for every size. */
  sample?: number;
}

export const MEASURES = ["drops", "scoops", "tablets", "mL", "strips"] as const;
export type Measure = (typeof MEASURES)[number];

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
  /** How the factor follows from the titrant, when the maker tells; checked against the stated one. */
  computed?: { normality: number; dropVolume: number; equivalentWeight: number };
  /** A demand test runs to this pH colour. */
  target?: number;
  before: Colour;
  after: Colour;
}

export interface ScaleMethod extends MethodBase {
  /** A comparator's colour standards, the lines of a turbidity tube, or the bands of a strip's pad. */
  kind: "comparator" | "turbidity" | "strip";
  sample: number;
  /** Ascending, in the quantity's unit. */
  marks: number[];
  /** Pads of one strip share its name: they are dipped and read together. */
  strip?: string;
  /** Seconds after the dip at which this pad is read. */
  readAt?: number;
}

export interface MeterMethod extends MethodBase {
  kind: "meter";
  /** Where the number comes from. */
  source?: "meter" | "photometer" | "lab";
  /** Stated accuracy, ±, in the quantity's unit. */
  accuracy: number;
  /** Stated accuracy as a share of the reading, on top of `accuracy` where it is larger. */
  relative?: number;
}

/**
 * The first method of the kit for a quantity, or undefined when the kit has none.
 * @example methodFor(kit, "totalAlkalinity").id // "total-alkalinity"
 */
export const methodFor = (kit: Kit, quantity: Quantity): Method | undefined =>
  kit.methods.find((method) => method.quantity === quantity);

/** @example methodById(kit, "salt").quantity // "salt" */
export const methodById = (kit: Kit, id: string): Method | undefined =>
  kit.methods.find((method) => method.id === id);

/** The steps that hold for a sample of this size. @example stepsFor(alkalinity, 25).length // 2 */
export const stepsFor = (method: Method, sample: number | null): Step[] =>
  method.steps.filter((step) => step.sample === undefined || step.sample === sample);

/**
 * The pads that are read together with this one, itself included.
 * @example padsWith(kit, phenolRed).length // 0
 */
export const padsWith = (kit: Kit, method: ScaleMethod): ScaleMethod[] =>
  kit.methods.filter((other): other is ScaleMethod => other.kind === "strip" && other.strip === method.strip);
