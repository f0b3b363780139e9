import { API_SCOPES } from "#server/db/api-tokens";
import { words } from "../words";
import { ofJoi } from "./json-schema";
import { API_ROOT, type JsonSchema, type Operation, parametersIn } from "./operation";
import { OPERATIONS } from "./operations";
import { PROBLEMS, problemSchema } from "./problem";

/** The interface as OpenAPI 3.1: made from the table of operations and from the schemas that they are checked by. */
export const openApiDocument = () => ({
  openapi: "3.1.1",
  info: { title: words.api.title, version: "1.0.0", description: words.api.intro },
  servers: [{ url: API_ROOT }],
  security: [{ token: [] }],
  paths: paths(),
  components: {
    schemas: { Problem: problemSchema },
    securitySchemes: { token: { type: "http", scheme: "bearer" } },
    responses: Object.fromEntries(
      Object.values(PROBLEMS).map((name) => [
        name,
        {
          description: words.api.problems[name],
          content: { "application/problem+json": { schema: { $ref: "#/components/schemas/Problem" } } },
        },
      ]),
    ),
  },
  "x-scopes": Object.fromEntries(API_SCOPES.map((scope) => [scope, words.api.scopes[scope]])),
});

function paths(): Record<string, Record<string, object>> {
  const all: Record<string, Record<string, object>> = {};
  for (const operation of OPERATIONS)
    all[operation.path] = {
      ...all[operation.path],
      [operation.method.toLowerCase()]: described(operation),
    };
  return all;
}

/** What any of them may be answered with besides. */
const READ_PROBLEMS = [401, 403, 404, 422, 429, 500, 503] as const;
const WRITE_PROBLEMS = [...READ_PROBLEMS, 400, 409, 413, 415] as const;

function described(operation: Operation) {
  const { id, path, scope, method, query, answer } = operation;
  const body = bodySchemaOf(operation);
  return {
    operationId: id,
    summary: words.api.operations[id],
    "x-scope": scope,
    parameters: [
      ...parametersIn(path).map((name) => ({
        name,
        in: "path",
        required: true,
        schema: { type: "string", format: "uuid" },
      })),
      ...(query ? queryParameters(ofJoi(query)) : []),
      ...(method === "POST"
        ? [
            {
              name: "Idempotency-Key",
              in: "header",
              required: false,
              schema: { type: "string", format: "uuid" },
            },
          ]
        : []),
    ],
    ...(body ? { requestBody: { required: true, content: { "application/json": { schema: body } } } } : {}),
    responses: {
      200: { description: words.api.done, content: { "application/json": { schema: answer } } },
      ...(method === "GET" ? { 304: { description: words.api.unchanged } } : {}),
      ...Object.fromEntries(
        (method === "GET" ? READ_PROBLEMS : WRITE_PROBLEMS).map((status) => [
          status,
          { $ref: `#/components/responses/${PROBLEMS[status]}` },
        ]),
      ),
    },
  };
}

const queryParameters = (schema: JsonSchema) =>
  Object.entries(schema.properties as Record<string, JsonSchema>).map(([name, one]) => ({
    name,
    in: "query",
    required: false,
    schema: one,
  }));

/** What is sent: without what stands in the path, and with an id that may be left out where the key stands for it. */
export function bodySchemaOf({ body, path, isMadeUnderKey = false }: Operation): JsonSchema | null {
  if (!body) return null;
  const {
    properties = {},
    required = [],
    ...schema
  } = ofJoi(body) as {
    properties?: Record<string, JsonSchema>;
    required?: string[];
  };
  const given = parametersIn(path);
  const left = Object.entries(properties).filter(([name]) => !given.includes(name));
  const asked = required.filter((name) => !given.includes(name) && !(isMadeUnderKey && name === "id"));
  return {
    ...schema,
    properties: Object.fromEntries(left),
    ...(asked.length > 0 ? { required: asked } : {}),
  };
}
