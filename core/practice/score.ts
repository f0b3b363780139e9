import { BATHING_CHLORINE } from "../dosing/plan/goals";
import { chlorineRaised, gramsForChange } from "../dosing/single";
import type { Measurement, Quantity } from "../measure/quantity";
import { PRODUCTS, type ProductId } from "../products/products";
import { measure, type Observation } from "../testing/result";
import { PINK_FOR_A_SCOOP } from "./colour/looks";
import type { Story } from "./hidden";
import { type Slip, slipsOf, type Worked, workedThrough } from "./slips";
import { truthOf, type Vessel } from "./vessel";

/** How a practised test came out, held against the water that was hidden. */
export interface Score {
  reading: Measurement;
  truth: number;
  /** The reading less the truth, in the unit of the test; of a count from the middle of its last drop. */
  error: number;
  /** Whether the truth lies in the bracket that the reading tells. */
  inBracket: boolean;
  slips: Slip[];
  /** The trap that the story set for this test, and whether it was seen; null where it set none. */
  trap: { story: Story; seen: boolean } | null;
  /** Seconds from the sample to the end. */
  seconds: number;
  cost: Cost | null;
}

/** What the error would have cost at a basin. */
export interface Cost {
  /** Litres of the basin it is told for. */
  litres: number;
  /** A product that would have been given for nothing, or was not given, g; null where none is dosed for it. */
  product: ProductId | null;
  grams: number;
  /** Chlorine that is not there, or is far over: what the reading hid. */
  risk: "low-chlorine-unseen" | "high-chlorine-unseen" | "ph-unseen" | null;
}

/** What somebody made of a test besides its hands. */
export interface Called {
  seen: Observation;
  /** The reading was set aside: it is not acted on. */
  setAside: boolean;
}

/**
 * The score of one test.
 * @throws InputFault for an observation that the method does not have
 * @example scoreOf(worked, { seen: { kind: "drops", count: 10, sample: 25 }, setAside: false }).reading.value // 100
 */
export function scoreOf(worked: Worked, { seen, setAside }: Called): Score {
  const { method, water } = worked;
  const reading = measure(method, seen);
  const truth = truthOf(method, water);
  const through = workedThrough(worked);
  const last = through.at(-1)?.after;
  const low = reading.bound === "at-most" ? Number.NEGATIVE_INFINITY : (reading.low ?? reading.value);
  const high = reading.bound === "at-least" ? Number.POSITIVE_INFINITY : (reading.high ?? reading.value);
  // A count says that the end lay in its last drop: its middle is the best guess.
  const middle =
    method.kind === "titration" && reading.low !== null ? (reading.low + reading.value) / 2 : reading.value;
  const error = middle - truth;
  const slack = method.quantity === "ph" ? BETWEEN_COLOURS : TOLERANCE * Math.abs(truth);
  return {
    reading,
    truth,
    error,
    inBracket: truth >= low - slack && truth <= high + slack,
    slips: slipsOf(worked),
    trap: trapOf(worked, last, reading, setAside),
    seconds: (last?.age ?? 0) + worked.until,
    cost: costOf(method.quantity, reading.value, truth),
  };
}

/** Of drop size and sample together, share. */
const TOLERANCE = 0.05;
/** pH is a logarithm, and has no share: where one colour ends and the next begins is known to this. */
const BETWEEN_COLOURS = 0.05;

/** Tests in which a story hides something, and what shows that it was seen. */
function trapOf(
  { method, water }: Worked,
  vessel: Vessel | undefined,
  reading: Measurement,
  setAside: boolean,
): Score["trap"] {
  const { story } = water;
  const { quantity } = method;
  const seen = (isSeen: boolean) => ({ story, seen: isSeen || setAside });
  switch (story) {
    case "bleaching-chlorine": {
      if (quantity === "ph") return seen(false);
      if (quantity !== "freeChlorine" || !vessel) return null;
      const capacity =
        ((vessel.added["DPD powder"] ?? 0) * PINK_FOR_A_SCOOP * 25 * vessel.dilution) /
        Math.max(1, vessel.millilitres);
      return seen(capacity >= water.freeChlorine);
    }
    case "persulfate":
      return quantity === "combinedChlorine" || quantity === "totalChlorine" ? seen(false) : null;
    case "copper":
      return quantity === "calciumHardness" ? seen((vessel?.ahead ?? 0) >= 2) : null;
    case "stabiliser-over":
      return quantity === "cyanuricAcid"
        ? seen((vessel?.dilution ?? 1) > 1 || reading.bound === "at-least")
        : null;
    case "ph-off-scale":
      return quantity === "ph" ? seen(reading.bound !== "within") : null;
    case "cold-sample":
      return quantity === "cyanuricAcid" ? seen((vessel?.temperature ?? 0) >= 21) : null;
    case "soft-spa":
      return quantity === "cyanuricAcid" ? seen(reading.bound === "at-most") : null;
    default:
      return null;
  }
}

/** Litres of a usual pool, for which a cost is told. */
export const POOL = 40_000;
/** What is dosed for a reading that is low; a reading that is high is brought down by other things. */
const DOSED_BY: Partial<Record<Quantity, ProductId>> = {
  freeChlorine: "sodium-hypochlorite",
  totalAlkalinity: "sodium-bicarbonate",
  calciumHardness: "calcium-chloride",
  cyanuricAcid: "cyanuric-acid",
};
/** Chlorine under which a pool is unsafe, and over which nobody bathes; and pH that hurts. */
export const UNSAFE = { low: 1, high: BATHING_CHLORINE, ph: { low: 7.0, high: 8.0 } } as const;

/**
 * What a wrong reading costs: product that would go in for nothing or be left out, and what it hides.
 * @example costOf("totalAlkalinity", 80, 100).grams > 1000 // true
 */
export function costOf(quantity: Quantity, read: number, truth: number): Cost | null {
  if (!Number.isFinite(truth)) return null;
  const compound = DOSED_BY[quantity] ?? null;
  const change = Math.min(5000, Math.abs(truth - read));
  const product = compound && { product: compound, strength: PRODUCTS[compound].strength };
  const grams =
    product === null || change === 0
      ? 0
      : quantity === "freeChlorine"
        ? change / chlorineRaised(product, 1, POOL)
        : gramsForChange(product, quantity as "totalAlkalinity", change, POOL);
  return { litres: POOL, product: compound, grams, risk: riskOf(quantity, read, truth) };
}

function riskOf(quantity: Quantity, read: number, truth: number): Cost["risk"] {
  if (quantity === "freeChlorine") {
    if (truth < UNSAFE.low && read >= UNSAFE.low) return "low-chlorine-unseen";
    if (truth > UNSAFE.high && read <= UNSAFE.high) return "high-chlorine-unseen";
  }
  const isBad = (value: number) => value < UNSAFE.ph.low || value > UNSAFE.ph.high;
  return quantity === "ph" && isBad(truth) && !isBad(read) ? "ph-unseen" : null;
}

/** Stories that set a trap in a test. @example trapsIn("calciumHardness") // ["copper"] */
export const trapsIn = (quantity: Quantity): Story[] => TRAPS[quantity] ?? [];

const TRAPS: Partial<Record<Quantity, Story[]>> = {
  freeChlorine: ["bleaching-chlorine"],
  combinedChlorine: ["persulfate"],
  totalChlorine: ["persulfate"],
  ph: ["ph-off-scale", "bleaching-chlorine"],
  calciumHardness: ["copper"],
  cyanuricAcid: ["stabiliser-over", "cold-sample", "soft-spa"],
};
