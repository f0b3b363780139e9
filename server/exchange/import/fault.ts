import type { InputFault } from "#core";

/** What stood in the way of a row. */
export interface RowFault {
  /** Row of the file as a person counts, the heading is 1; null where a file has no rows. */
  row: number | null;
  /** Column by its heading, or the place in a JSON file. */
  column: string;
  code: InputFault["code"];
  value: string;
  limit: InputFault["limit"] | null;
}

/** Faults that are told one by one; the others are counted. */
export const MOST_TOLD = 200;

const shown = (value: unknown): string =>
  value === undefined || value === null ? "" : String(value).replaceAll("\0", "␀").slice(0, 80);

export const rowFault = (
  row: number | null,
  column: string,
  code: RowFault["code"],
  value: unknown,
  limit: RowFault["limit"] = null,
): RowFault => ({ row, column, code, value: shown(value), limit });

/** An `InputFault` at its row; a column of its own stands before the field. */
export const faultAt = (
  row: number | null,
  column: string,
  { code, field, value, limit }: InputFault,
): RowFault => rowFault(row, column || field, code, value, limit ?? null);

/** What a file may break of the tables' own rules, by SQLSTATE; the page has the words. */
const BROKEN: Record<string, "names-nothing" | "twice" | "beyond-limits"> = {
  "23503": "names-nothing", // foreign_key_violation
  "23505": "twice", // unique_violation
  "23514": "beyond-limits", // check_violation
};

/** A rule of the tables that a file broke, as a fault in what it says; null for any other fault. */
export function constraintFault(fault: unknown): RowFault | null {
  const { code = "", table = "" } = fault as { code?: string; table?: string };
  const broken = BROKEN[code];
  return broken ? rowFault(null, table, "inconsistent", "", broken) : null;
}

/** Rows that are another firm's on this server: neither written nor here. */
export const othersFault = (part: string, count: number): RowFault =>
  rowFault(null, part, "inconsistent", count, "another-firm");
