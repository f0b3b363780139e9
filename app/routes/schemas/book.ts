import { bookJsonSchema } from "#server/exchange/shape";

/** The published JSON Schema of the book. */
export const loader = () => Response.json(bookJsonSchema());
