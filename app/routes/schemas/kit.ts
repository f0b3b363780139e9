import { kitJsonSchema } from "#server/shelf/kit-json-schema";

/** The published JSON Schema of a kit. */
export const loader = () => Response.json(kitJsonSchema());
