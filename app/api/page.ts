import Joi from "joi";
import { InputFault } from "#core";

/** Lists in pages: each answers with where the next one begins, a text that means nothing to whoever sends it back. */

const MOST_ITEMS = 200;
const USUAL_ITEMS = 50;

export interface PageAsked {
  limit: number;
  cursor?: string;
}

export const pageQuery = {
  limit: Joi.number().integer().min(1).max(MOST_ITEMS).default(USUAL_ITEMS),
  cursor: Joi.string().max(300),
};

/** Where a page begins. @example cursorOf({ id: "a" }) // "eyJpZCI6ImEifQ" */
export const cursorOf = (place: object): string => Buffer.from(JSON.stringify(place)).toString("base64url");

/**
 * The place that a cursor names; null where none was sent.
 * @throws InputFault "malformed" for one that was never told
 */
export function placeBehind<Place extends object>(
  cursor: string | undefined,
  schema: Joi.ObjectSchema<Place>,
): Place | null {
  if (cursor === undefined) return null;
  try {
    const { value, error } = schema.validate(JSON.parse(Buffer.from(cursor, "base64url").toString()));
    if (!error) return value;
  } catch {
    // No JSON: told below.
  }
  throw new InputFault("malformed", "cursor", cursor.slice(0, 80));
}

/** A page out of rows of which one more was read than is shown. */
export const pageOf = <Row, Item>(
  rows: readonly Row[],
  limit: number,
  item: (row: Row) => Item,
  place: (row: Row) => object,
): { items: Item[]; next: string | null } => {
  const shown = rows.slice(0, limit);
  const last = shown.at(-1);
  return { items: shown.map(item), next: rows.length > limit && last ? cursorOf(place(last)) : null };
};
