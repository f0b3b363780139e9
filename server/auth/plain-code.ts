/**
 * A code as it is compared: its letters from A to Z and its figures, however they were typed.
 * @example plainCode("abcd efgh") // "ABCDEFGH"
 */
export const plainCode = (text: string): string => text.toUpperCase().replace(/[^A-Z0-9]/g, "");
