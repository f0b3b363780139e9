import toJsonSchema from "joi-to-json";
import { kitSchema } from "#core/schemas";

/** The JSON Schema of a kit, made from the schema that the server itself checks by. */
export const kitJsonSchema = (): object => ({
  $schema: "http://json-schema.org/draft-07/schema#",
  $id: "/schemas/kit.json",
  title: "Kit",
  description:
    "What is in a test case, and how each of its tests is worked and read. Values in mg/L (pH, °C, meq/L for a demand), samples in mL, waits in seconds.",
  ...toJsonSchema(kitSchema),
});
