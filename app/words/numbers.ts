import { spoken, words } from "./language";

/** Numbers, lists and lengths of time as the language writes them. */

/** Formatters are dear to make and are wanted on every drop. */
const cache = new Map<string, unknown>();

/** The formatter of some options in the language spoken, made once. */
export function formatter<Made>(key: string, make: (locale: string) => Made): Made {
  const { locale } = spoken();
  const name = `${locale} ${key}`;
  const known = cache.get(name) as Made | undefined;
  if (known !== undefined) return known;
  const made = make(locale);
  cache.set(name, made);
  return made;
}

/** @param most decimals at most @param least decimals at least @example numberText(1250, 0) // "1,250" */
export const numberText = (value: number, most: number, least = 0): string =>
  formatter(
    `${most} ${least}`,
    (locale) =>
      new Intl.NumberFormat(locale, {
        maximumFractionDigits: most,
        minimumFractionDigits: least,
        // No zero has a sign.
        signDisplay: "negative",
      }),
  ).format(value);

/** Without marks between thousands, which could be taken for a decimal mark. @example ungroupedText(1250) // "1250" */
export const ungroupedText = (value: number): string =>
  formatter(
    "ungrouped",
    (locale) => new Intl.NumberFormat(locale, { maximumFractionDigits: 10, useGrouping: false }),
  ).format(value);

/** A number to some figures. @example figuresText(0.0712, 2) // "0.071" */
export const figuresText = (value: number, figures = 3): string =>
  numberText(Number(value.toPrecision(figures)), 10);

/** @example listText(["pH", "salt"]) // "pH, salt" */
export const listText = (items: readonly string[]): string =>
  formatter("list", (locale) => new Intl.ListFormat(locale, { type: "unit", style: "short" })).format(items);

/** A whole length of time. @param seconds @example durationText(90) // "2 minutes" */
export function durationText(seconds: number): string {
  const { durations } = words;
  if (seconds < 60) return durations.seconds({ count: Math.round(seconds) });
  if (seconds < 3600) return durations.minutes({ count: Math.round(seconds / 60) });
  if (seconds < 36 * 3600) return durations.hours({ count: Math.round(seconds / 3600) });
  return durations.days({ count: Math.round(seconds / 86_400) });
}

/** Whole days, one at least. */
export const daysText = (days: number | undefined): string =>
  words.durations.days({ count: Math.max(1, Math.round(days ?? 0)) });
