import type { Basin } from "../basin/basin";

/** When the water of a spa is drained and filled anew: by who bathes in it, or by what has gathered in it. */

/** US gallons for each bather. CDC, "Operating and managing hot tubs": days = gallons / 3 / bathers a day. */
const GALLONS_A_BATHER = 3;
const LITRES_A_GALLON = 3.785412;
/** Where nobody said how many bathe: three or four times a year is usual for a household's. */
const USUAL_DAYS = 90;
/** Solids that have gathered since it was filled, mg/L: ANSI/APSP-11 and most codes ask for other water from here. */
const MOST_GATHERED = 1500;
/** Of water from a main, where nobody measured it, mg/L. */
const FROM_MAIN = 300;

/**
 * Days between two fillings.
 * @param bathers a day; null where nobody said
 * @example refillDays(1514, 2) // 66
 */
export const refillDays = (litres: number, bathers: number | null): number =>
  bathers === null || bathers <= 0
    ? USUAL_DAYS
    : Math.max(1, Math.floor(litres / LITRES_A_GALLON / GALLONS_A_BATHER / bathers));

/**
 * Whether more has gathered in a water than it should hold; a salt cell's water is salted on purpose.
 * @param solids as they were last read, mg/L; null where nobody did
 * @example solidsOver({ sanitiser: "chlorine" }, 1900) // true
 */
export const solidsOver = ({ sanitiser }: Pick<Basin, "sanitiser">, solids: number | null): boolean =>
  sanitiser !== "salt-cell" && solids !== null && solids - FROM_MAIN > MOST_GATHERED;
