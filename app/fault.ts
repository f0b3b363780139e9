import type { InputFault } from "#core";

export interface FaultView {
  code: InputFault["code"];
  field: string;
  value: string;
  limit: InputFault["limit"] | null;
}

/** A fault as a page is told it. */
export const faultView = ({ code, field, value, limit }: InputFault): FaultView => ({
  code,
  field,
  value: value === undefined || value === null ? "" : String(value),
  limit: limit ?? null,
});
