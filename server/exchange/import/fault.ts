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

/** A constraint of the database that a file broke, as a fault that names it. */
export function constraintFault(fault: unknown): RowFault | null {
  const { code, constraint, table } = fault as { code?: string; constraint?: string; table?: string };
  if (code !== "23503" && code !== "23505" && code !== "23514") return null;
  return rowFault(null, table ?? "", "inconsistent", constraint ?? "");
}
