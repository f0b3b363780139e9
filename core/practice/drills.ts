import { type Random, seeded } from "../random";
import { rangeFor } from "../ranges/range-set";
import { OUTDOOR_FIXED_BAND } from "../ranges/sets";
import { adviseSample } from "../testing/count/sample-size";
import { type Method, stepsFor, type TitrationMethod } from "../testing/kit";
import { type ScalePlace, scalePlaces } from "../testing/scale";
import { type HiddenWater, hiddenWater } from "./hidden";
import { DOT_GONE, dotGoneAt, endOf, lookOf, newVessel, type Vessel } from "./vessel";
import { watched } from "./watch";

/** One thing looked at, and an answer: endpoints, standards, a dot, a level, a sample size. */

export const DRILLS = ["endpoint", "standard", "dot", "meniscus", "sample-size"] as const;
export type DrillKind = (typeof DRILLS)[number];

export interface Drill {
  kind: DrillKind;
  method: Method;
  /** What is looked at; a sample size is picked by what is expected alone. */
  vessel: Vessel | null;
  choices: DrillChoice[];
  /** Which of them is right. */
  right: number;
  /** What the last reading was, for a sample size. */
  expected: number | null;
}

export type DrillChoice =
  | { code: "not-yet" | "there" | "dot-seen" | "dot-gone" | "under" | "on-line" | "over" }
  | { code: "place"; place: ScalePlace }
  | { code: "millilitres"; millilitres: number };

/** A colour is there when an eye sees no more than so much of the way to go. */
const THERE = 0.93;
/** A bottom of the curve so far off the line is seen, share. */
const SEEN_OFF = 0.045;

/**
 * A drill's question; the same seed asks the same.
 * @param methods of the kit that is practised with
 * @throws Error where the kit has no test for the drill
 * @example drillOf("meniscus", kit.methods, 1).choices.length // 3
 */
export function drillOf(kind: DrillKind, methods: readonly Method[], seed: number): Drill {
  const random = seeded(seed * 131 + DRILLS.indexOf(kind) * 17 + 5);
  const water = hiddenWater("ordinary", seed);
  switch (kind) {
    case "endpoint":
      return endpoint(pick(titrations(methods), random), water, random);
    case "standard":
      return standard(methods, water);
    case "dot":
      return dot(methods, water, random);
    case "meniscus":
      return meniscus(pick(titrations(methods), random), water, random);
    case "sample-size":
      return sampleSize(
        pick(
          titrations(methods).filter(({ samples }) => samples.length > 1),
          random,
        ),
        random,
      );
  }
}

const pick = <T>(list: readonly T[], random: Random): T => {
  const one = list[Math.floor(random() * list.length)];
  if (one === undefined) throw new Error("the kit has no test for this drill");
  return one;
};

const titrations = (methods: readonly Method[]): TitrationMethod[] =>
  methods.filter(
    (method): method is TitrationMethod =>
      method.kind === "titration" && !method.continues && method.quantity !== "bromine",
  );

/** The sample of a test with everything in it that belongs there, mixed. */
function ready(method: Method, water: HiddenWater, line: number): Vessel {
  const added: Record<string, number> = {};
  for (const { reagent, amount } of stepsFor(method, line)) added[reagent] = amount;
  return {
    ...newVessel(method, water, line),
    millilitres: line,
    added,
    mixing: [{ how: "shake", seconds: 40, after: null }],
  };
}

function endpoint(method: TitrationMethod, water: HiddenWater, random: Random): Drill {
  const vessel = ready(method, water, method.samples[0]?.millilitres ?? 25);
  const end = endOf(vessel);
  const titrant = Math.max(0, random() < 0.5 ? end + 0.35 : end - 0.6 - 2 * random());
  const at = { ...vessel, titrant };
  const isThere = (watched(at).share ?? 0) >= THERE;
  return {
    kind: "endpoint",
    method,
    vessel: at,
    choices: [{ code: "not-yet" }, { code: "there" }],
    right: isThere ? 1 : 0,
    expected: null,
  };
}

function standard(methods: readonly Method[], water: HiddenWater): Drill {
  const method = methods.find(({ kind, quantity }) => kind === "comparator" && quantity === "ph");
  if (method?.kind !== "comparator") throw new Error("the kit has no comparator for pH");
  const [low = 0, high = 0] = [method.marks[0], method.marks.at(-1)];
  // On a standard or midway, so that one answer is right: nobody sees a tenth of the way.
  const places = scalePlaces(method).filter(({ from, to }) => from !== null && to !== null);
  const nearest = places.reduce<{ place: ScalePlace; off: number } | null>((best, place) => {
    const middle = ((place.from ?? low) + (place.to ?? high)) / 2;
    const off = Math.abs(middle - water.ph);
    return best === null || off < best.off ? { place, off } : best;
  }, null);
  if (!nearest) throw new Error("the comparator has no standards");
  const ph = ((nearest.place.from ?? low) + (nearest.place.to ?? high)) / 2;
  const still = { ...water, ph, temperature: 25, totalDissolvedSolids: 1000, freeChlorine: 0 };
  return {
    kind: "standard",
    method,
    vessel: ready(method, still, method.sample),
    choices: places.map((place) => ({ code: "place", place })),
    right: places.indexOf(nearest.place),
    expected: null,
  };
}

function dot(methods: readonly Method[], water: HiddenWater, random: Random): Drill {
  const method = methods.find(({ kind }) => kind === "turbidity");
  if (method?.kind !== "turbidity") throw new Error("the kit has no viewing tube");
  const vessel = ready(method, { ...water, temperature: 25 }, method.sample);
  const gone = dotGoneAt(water.cyanuricAcid);
  const at = { ...vessel, level: Math.min(1, gone * (random() < 0.5 ? 0.55 + 0.25 * random() : 1.06)) };
  return {
    kind: "dot",
    method,
    vessel: at,
    choices: [{ code: "dot-seen" }, { code: "dot-gone" }],
    right: lookOf(at).dot <= DOT_GONE * 1.15 ? 1 : 0,
    expected: null,
  };
}

function meniscus(method: TitrationMethod, water: HiddenWater, random: Random): Drill {
  const line = method.samples[0]?.millilitres ?? 25;
  const right = Math.floor(random() * 3);
  const off = right === 1 ? 0.01 * (random() - 0.5) : (right - 1) * (SEEN_OFF + 0.06 * random());
  return {
    kind: "meniscus",
    method,
    vessel: { ...newVessel(method, water, line), millilitres: line * (1 + off) },
    choices: [{ code: "under" }, { code: "on-line" }, { code: "over" }],
    right,
    expected: null,
  };
}

function sampleSize(method: TitrationMethod, random: Random): Drill {
  const factor = method.samples[0]?.factor ?? 1;
  // Few drops, or more than anybody wants to count.
  const expected = factor * Math.round(random() < 0.5 ? 4 + 14 * random() : 32 + 40 * random());
  const range = rangeFor(OUTDOOR_FIXED_BAND, method.quantity, "plaster");
  const { millilitres } = adviseSample(method, expected, range);
  return {
    kind: "sample-size",
    method,
    vessel: null,
    choices: method.samples.map((size) => ({ code: "millilitres", millilitres: size.millilitres })),
    right: method.samples.findIndex((size) => size.millilitres === millilitres),
    expected,
  };
}
