/** What was typed as a number; NaN for nothing or for what is none, so that a check can say so. */
export const typedNumber = (text: string): number =>
  text.trim() === "" ? Number.NaN : Number(text.trim().replace(",", "."));

/** What was typed, or null where the field was left empty. */
export const typedOrNull = (text: string): number | null => (text.trim() === "" ? null : typedNumber(text));
