import { numberFrom } from "#core";

/** What was typed as a number; NaN for nothing or for what is none, so that a check can say so. */
export const typedNumber = (text: string): number => numberFrom(text);

/** What was typed, for a field that must be filled: what is no number goes to the server as it stands, which says so. */
export function typedOr(text: string): number {
  const value = numberFrom(text);
  return Number.isNaN(value) ? (text as unknown as number) : value;
}

/**
 * What was typed, or null where the field was left empty. What is no number goes out as it stands:
 * JSON has no NaN, and a null in its place would be taken for an empty field.
 */
export function typedOrNull(text: string): number | null {
  if (text.trim() === "") return null;
  const value = typedNumber(text);
  return Number.isNaN(value) ? (text as unknown as number) : value;
}

/**
 * A number as a field begins with it: no marks between thousands, and a point that every language reads as one.
 * @param digits decimals at most, two or fewer: three could be taken for thousands
 */
export const fieldText = (value: number, digits: 0 | 1 | 2): string => String(Number(value.toFixed(digits)));
