import { goalsOf, STEERED, type Steered } from "../dosing/plan/goals";
import { type PlanInput, type PlanProduct, WEIGHTS } from "../dosing/plan/input";
import { fillWater } from "../dosing/plan/problem";
import { type WhatIfAnswer, whatIf } from "../dosing/what-if";
import { InputFault } from "../fault";
import { placeInRange } from "../judging/findings";
import { USUAL_WINDOW } from "../judging/notices/saturated";
import type { Quantity } from "../measure/quantity";
import { PRODUCTS, type ProductId } from "../products/products";
import { isAcid, isChlorine, mostAtATime } from "../products/traits";
import { type RangeSet, rangeFor, type Surface } from "../ranges/range-set";
import { OUTDOOR_FIXED_BAND, SPA_WARM_WATER } from "../ranges/sets";
import { type Sampling, type SamplingProblem, samplingProblems } from "../testing/order/sampling";
import type { Sample } from "../water/sample";
import { saturation } from "../water/saturation";
import type { HiddenWater, Story } from "./hidden";
import { POOL, type Score, UNSAFE } from "./score";
import { truthOf } from "./vessel";

/** A whole sheet that is practised: one hidden water through all of its tests, judged, and dosed. */

/** The tests of a sheet, in the order in which they are made: what fades comes first. */
export const SHEET_TESTS = [
  "free-chlorine-fas-dpd",
  "combined-chlorine-fas-dpd",
  "ph-phenol-red",
  "total-alkalinity",
  "calcium-hardness",
  "cyanuric-acid-tube",
] as const;

/** The basin that the sample is said to come from. */
export interface SheetBasin {
  kind: "pool" | "spa";
  litres: number;
  surface: Surface;
  set: RangeSet;
  /** What its tap gives. */
  fill: Sample;
}

const SPA_LITRES = 1200;
const TAP = { totalAlkalinity: 90, calciumHardness: 120 };

/** @example sheetBasin("soft-spa").kind // "spa" */
export function sheetBasin(story: Story): SheetBasin {
  return story === "soft-spa"
    ? { kind: "spa", litres: SPA_LITRES, surface: "acrylic", set: SPA_WARM_WATER, fill: fillWater(TAP, 15) }
    : { kind: "pool", litres: POOL, surface: "plaster", set: OUTDOOR_FIXED_BAND, fill: fillWater(TAP, 15) };
}

/** What is found at the basin before the sample is taken. */
export interface Found {
  circulation: Sampling["circulation"];
  /** null when nothing went in that anybody knows of. */
  hoursSinceDose: number | null;
}

/** How the sample was taken. */
export interface SampleTaken {
  place: SamplePlace;
  /** The pump was started, and a turnover waited for, before it. */
  waited: boolean;
}

export const SAMPLE_PLACES = ["elbow-deep", "surface", "at-return"] as const;
export type SamplePlace = (typeof SAMPLE_PLACES)[number];

/** @example foundAt(0).circulation // "running" */
export function foundAt(seed: number): Found {
  switch (seed % 4) {
    case 1:
      return { circulation: "off", hoursSinceDose: null };
    case 2:
      return { circulation: "running", hoursSinceDose: 1 + (seed % 3) / 2 };
    default:
      return { circulation: "running", hoursSinceDose: null };
  }
}

export type SampleSlip = SamplingProblem | Exclude<SamplePlace, "elbow-deep"> | "waited-for-nothing";

/**
 * What speaks against a sample as it was taken.
 * @example sampleSlips(foundAt(1), { place: "surface", waited: false }, "pool") // ["pump-off", "surface"]
 */
export function sampleSlips(
  { circulation, hoursSinceDose }: Found,
  { place, waited }: SampleTaken,
  kind: SheetBasin["kind"],
): SampleSlip[] {
  const problems = samplingProblems(circulation, hoursSinceDose, kind);
  return [
    ...(waited ? (problems.length === 0 ? (["waited-for-nothing"] as const) : []) : problems),
    ...(place === "elbow-deep" ? [] : [place]),
  ];
}

const stocked = (product: ProductId, pricePerKg: number): PlanProduct => ({
  key: product,
  product,
  strength: PRODUCTS[product].strength,
  pricePerKg,
  stock: null,
});

/** What stands in the truck; prices are made up, so that amounts can be weighed against each other. */
export const SHEET_SHELF: readonly PlanProduct[] = [
  stocked("sodium-hypochlorite", 1.4),
  stocked("hydrochloric-acid", 1.1),
  stocked("sodium-bicarbonate", 1.6),
  stocked("sodium-carbonate", 1.9),
  stocked("calcium-chloride", 1.8),
  stocked("cyanuric-acid", 7.2),
];

export const PLACES = ["low", "within", "high"] as const;
export type Place = (typeof PLACES)[number];

/** What is judged: each reading, and whether the water takes up lime or drops it. */
export type Judged = Quantity | "saturation";

/** A judgement that was made, beside what the readings said and what is so. */
export interface SheetVerdict {
  of: Judged;
  /** What somebody said; null where nothing was. */
  said: Place | null;
  /** What their own reading says; null for the index and for what was set aside. */
  read: Place | null;
  truly: Place;
  /** It says what is so, or what an honest reading says whose bracket holds the truth. */
  isRight: boolean;
}

/**
 * Where the hidden water stands.
 * @example truePlace(hidden, "ph", sheetBasin("ordinary")) // "within"
 */
export function truePlace(water: HiddenWater, of: Judged, { set, surface }: SheetBasin): Place {
  if (of === "saturation") {
    const { low, high } = set.saturation ?? USUAL_WINDOW;
    const index = saturation(water).full.corrected;
    return index < low ? "low" : index > high ? "high" : "within";
  }
  const value = truthOf({ quantity: of }, water);
  return placeInRange({ value, bound: "within" }, rangeFor(set, of, surface, water));
}

/**
 * The judgements of a sheet beside what is so. A reading that was set aside is not judged.
 * @param scores of the tests that were made, by quantity
 * @example verdictsOf(hidden, sheetBasin("ordinary"), {}, { ph: "low" })[0].truly // "within"
 */
export function verdictsOf(
  water: HiddenWater,
  basin: SheetBasin,
  scores: Partial<Record<Quantity, Pick<Score, "reading" | "inBracket">>>,
  said: Partial<Record<Judged, Place>>,
): SheetVerdict[] {
  return JUDGED.filter((of) => said[of] !== undefined || (of !== "saturation" && scores[of])).map((of) => {
    const score = of === "saturation" ? undefined : scores[of];
    const read = of === "saturation" ? null : placeRead(of, score, water, basin);
    const truly = truePlace(water, of, basin);
    const told = said[of] ?? null;
    const isRight = told === truly || (told !== null && told === read && score?.inBracket === true);
    return { of, said: told, read, truly, isRight };
  });
}

/** What is judged, in the order of the sheet. */
export const JUDGED: readonly Judged[] = [
  "freeChlorine",
  "combinedChlorine",
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
  "saturation",
];

function placeRead(
  quantity: Quantity,
  score: Pick<Score, "reading"> | undefined,
  water: HiddenWater,
  { set, surface }: SheetBasin,
): Place | null {
  return score ? placeInRange(score.reading, rangeFor(set, quantity, surface, water)) : null;
}

/** What is chosen to go in: grams as sold by the shelf's keys, and the share of the water that is replaced. */
export interface SheetDose {
  grams: Readonly<Record<string, number>>;
  replaced: number;
}

export type DoseRisk =
  /** Over what anybody bathes in, by what was given. */
  | "chlorine-over"
  /** Next to no chlorine is left in it. */
  | "chlorine-under"
  | "ph-out"
  /** Both are given: apart in time, never through one bucket. */
  | "acid-and-chlorine"
  /** More of a product than goes in at once: in portions, with a retest between. */
  | "in-portions";

/** What a dose does to the water that is truly there. */
export interface SheetDosed {
  answer: WhatIfAnswer;
  places: Record<Steered, Place>;
  risks: DoseRisk[];
}

/**
 * What the chosen dose does to the hidden water.
 * @returns the fault where no water comes of it
 * @example dosedOf(hidden, sheetBasin("ordinary"), { grams: {}, replaced: 0 }).answer.cost // 0
 */
export function dosedOf(
  water: HiddenWater,
  basin: SheetBasin,
  { grams, replaced }: SheetDose,
): SheetDosed | InputFault {
  const { litres, fill, set, surface } = basin;
  const answer = whatIf({ water, litres, products: SHEET_SHELF, fill, grams, replaced, aerated: 0 });
  if (answer instanceof InputFault) return answer;
  const { after } = answer;
  const place = (quantity: Steered): Place =>
    placeInRange({ value: after[quantity], bound: "within" }, rangeFor(set, quantity, surface, after));
  const given = SHEET_SHELF.filter(({ key }) => (grams[key] ?? 0) > 0);
  const gave = (is: (product: ProductId) => boolean) => given.some(({ product }) => is(product));
  const risks: (DoseRisk | false)[] = [
    after.freeChlorine > UNSAFE.high && gave(isChlorine) && "chlorine-over",
    after.freeChlorine < UNSAFE.low && "chlorine-under",
    (after.ph < UNSAFE.ph.low || after.ph > UNSAFE.ph.high) && "ph-out",
    gave(isAcid) && gave(isChlorine) && "acid-and-chlorine",
    given.some((product) => (grams[product.key] ?? 0) > PORTION_SLACK * mostAtATime(product, litres)) &&
      "in-portions",
  ];
  return {
    answer,
    places: Object.fromEntries(STEERED.map((one) => [one, place(one)])) as Record<Steered, Place>,
    risks: risks.filter((risk) => risk !== false),
  };
}

const HARMFUL: readonly DoseRisk[] = ["chlorine-over", "chlorine-under", "ph-out"];

/**
 * Whether a dose did well: nobody is harmed, and nothing that stood in its range was put out of it.
 * @example isSoundDose(hidden, sheetBasin("ordinary"), { risks: ["ph-out"], places: {} }) // false
 */
export const isSoundDose = (
  water: HiddenWater,
  basin: SheetBasin,
  { places, risks }: Pick<SheetDosed, "places" | "risks">,
): boolean =>
  risks.every((risk) => !HARMFUL.includes(risk)) &&
  STEERED.every((one) => places[one] === "within" || truePlace(water, one, basin) !== "within");

/** A portion is a rule of thumb: a little more than one is no fault. */
const PORTION_SLACK = 1.05;

/**
 * The question to the planner what this water truly needed, with the same shelf and tap.
 * @example truePlan(hidden, sheetBasin("ordinary")).litres // 40000
 */
export function truePlan(water: HiddenWater, { kind, litres, set, surface, fill }: SheetBasin): PlanInput {
  return {
    water,
    litres,
    goals: goalsOf(set, surface, water, null, { kind, outdoors: true }),
    products: SHEET_SHELF,
    fill,
    mostReplaced: 0.5,
    aeration: false,
    weights: WEIGHTS,
  };
}
