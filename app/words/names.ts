import type { EverydayUnit, Kit, Measure, Measurement, ProductId, Quantity, Stop, Surface } from "#core";
import { words } from "./language";
import { formatter, numberText } from "./numbers";

/** What things are called. */

export const quantityName = (quantity: Quantity): string => words.quantities[quantity].name;
export const quantityShort = (quantity: Quantity): string => words.quantities[quantity].short;

/** A stop of a visit, as the run sheet names it. */
export function stopName(stop: Stop): string {
  switch (stop) {
    case "look":
    case "sample":
      return words.stops[stop];
    case "work":
      return words.chores.stop;
    case "judge":
    case "dose":
    case "retest":
    case "close":
      return words.visit[stop];
    default:
      return quantityName(stop);
  }
}

export const surfaceName = (surface: Surface): string => words.surfaces[surface];

export const KINDS = ["pool", "spa", "plunge", "teaching", "exercise", "splash-pad"] as const;

/** A Monday, from which weekdays are counted. */
const MONDAY = Date.UTC(2024, 0, 1);

/** @param day 1 for Monday to 7 for Sunday @example weekdayShort(1) // "Mon" */
export const weekdayShort = (day: number): string =>
  formatter(
    "weekday",
    (locale) => new Intl.DateTimeFormat(locale, { weekday: "short", timeZone: "UTC" }),
  ).format(new Date(MONDAY + (day - 1) * 86_400_000));

/** @param day 1 for Monday to 7 for Sunday @example weekdayLong(1) // "Monday" */
export const weekdayLong = (day: number): string =>
  formatter(
    "long weekday",
    (locale) => new Intl.DateTimeFormat(locale, { weekday: "long", timeZone: "UTC" }),
  ).format(new Date(MONDAY + (day - 1) * 86_400_000));

export const everydayUnit = (unit: EverydayUnit): string => words.units[unit];

/** "below 80" in a word and a shape's name; the shape itself is drawn beside it. */
export const placeWord = (place: "low" | "high"): string => words.places[place];

/** How the bracket of a measurement is told. */
export function bracketText(measured: Pick<Measurement, "bound">, low: string, high: string): string {
  if (measured.bound === "at-least") return words.brackets.atLeast({ value: low });
  if (measured.bound === "at-most") return words.brackets.atMost({ value: high });
  return low === high ? high : words.brackets.between({ low, high });
}

/** The limits of a range in words. */
export const rangeText = (
  range: { low?: number | null; high?: number | null } | undefined,
  text: (value: number) => string,
): string =>
  range?.low == null
    ? range?.high == null
      ? words.compare.none
      : words.brackets.atMost({ value: text(range.high) })
    : range.high == null
      ? words.brackets.atLeast({ value: text(range.low) })
      : words.brackets.between({ low: text(range.low), high: text(range.high) });

/**
 * A text of a kit or a range set in the language spoken: a kit's or a test's name, a reagent, a color. What a firm
 * wrote itself stays as written.
 */
export const shipped = (text: string): string =>
  text in words.shipped ? words.shipped[text as keyof typeof words.shipped] : text;

export const methodName = (kits: readonly Kit[], id: string): string =>
  shipped(kits.flatMap((kit) => kit.methods).find((method) => method.id === id)?.name ?? id);

/** A measure of reagents beside its number. @example measureName("drops", 1) // "drop" */
export const measureName = (measure: Measure, count = 2): string => words.measures[measure]({ count });

/** A compound as people call it. */
export const productName = (product: ProductId): string => words.productNames[product];

/** With its strength, as a label has it. @example soldAs("hydrochloric-acid", 0.3145) // "hydrochloric acid 31.45%" */
export const soldAs = (product: ProductId, strength: number): string =>
  strength < 1
    ? words.soldAs({ name: productName(product), strength: numberText(100 * strength, 2) })
    : productName(product);

/** A range set that ships, by its id; a firm's own has its own name. */
export const rangeSetName = (id: string): string =>
  id in words.rangeSetNames ? words.rangeSetNames[id as keyof typeof words.rangeSetNames] : id;
