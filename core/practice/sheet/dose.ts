import { goalsOf, STEERED, type Steered } from "../../dosing/plan/goals";
import { type PlanInput, WEIGHTS } from "../../dosing/plan/input";
import { type WhatIfAnswer, whatIf } from "../../dosing/what-if";
import { InputFault } from "../../fault";
import { placeInRange } from "../../judging/findings";
import type { ProductId } from "../../products/products";
import { isAcid, isChlorine, mostAtATime } from "../../products/traits";
import { rangeFor } from "../../ranges/range-set";
import type { HiddenWater } from "../hidden";
import { UNSAFE } from "../score";
import { SHEET_SHELF, type SheetBasin } from "./basin";
import { type Place, truePlace } from "./judgement";

/** What a chosen dose does to the water that is truly there, and what it needed. */

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
