import { placeInRange } from "../../judging/findings";
import { USUAL_WINDOW } from "../../judging/notices/saturated";
import type { Quantity } from "../../measure/quantity";
import { rangeFor } from "../../ranges/range-set";
import { saturation } from "../../water/saturation";
import type { HiddenWater } from "../hidden";
import type { Score } from "../score";
import { truthOf } from "../vessel";
import type { SheetBasin } from "./basin";

/** Low, in range or high: what was said of a hidden water beside what is so. */

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
