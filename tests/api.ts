import Ajv2020, { type ValidateFunction } from "ajv/dist/2020";
import addFormats from "ajv-formats";
import { v7 as uuid } from "uuid";
import { type Client, dataOf } from "./client";

/** The interface for programs, as a program sees it. */

export interface ApiOperation {
  operationId: string;
  method: string;
  path: string;
  scope: string;
  parameters: { name: string; in: string; schema: Record<string, unknown> }[];
  body: Record<string, unknown> | null;
  responses: Record<string, { $ref?: string; content?: Record<string, { schema: object }> }>;
}

interface Document {
  paths: Record<
    string,
    Record<
      string,
      Omit<ApiOperation, "method" | "path" | "scope" | "body"> & {
        "x-scope": string;
        requestBody?: { content: Record<string, { schema: Record<string, unknown> }> };
      }
    >
  >;
  components: { schemas: { Problem: object } };
}

export interface ApiClient {
  get(path: string, headers?: Record<string, string>): Promise<Response>;
  post(path: string, body: unknown, headers?: Record<string, string>): Promise<Response>;
}

/** A program with a token. */
export const apiClient = (address: string, token: string): ApiClient => {
  const auth = { Authorization: `Bearer ${token}` };
  return {
    get: (path, headers = {}) => fetch(`${address}/api/v1${path}`, { headers: { ...auth, ...headers } }),
    post: (path, body, headers = {}) =>
      fetch(`${address}/api/v1${path}`, {
        method: "POST",
        body: typeof body === "string" ? body : JSON.stringify(body),
        headers: { ...auth, "Content-Type": "application/json", ...headers },
      }),
  };
};

/** Makes a token as an owner does, on the page. */
export async function newToken(
  owner: Client,
  scopes: readonly string[],
  name = "A program",
): Promise<string> {
  const answer = await owner.postJson("/settings/api.data", {
    command: "make-api-token",
    id: uuid(),
    name,
    scopes,
  });
  const { data } = await dataOf<{ data: { token: string } }>(answer);
  return data.token;
}

/** What the interface says of itself, and a check of an answer by it. */
export async function described(address: string) {
  const document = (await (await fetch(`${address}/api/v1/openapi.json`)).json()) as Document;
  const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(
      ([method, { requestBody, "x-scope": scope, ...one }]): ApiOperation => ({
        ...one,
        method: method.toUpperCase(),
        path,
        scope,
        body: requestBody?.content["application/json"]?.schema ?? null,
      }),
    ),
  );
  const ajv = new Ajv2020({ strict: false });
  addFormats(ajv);
  const problem = ajv.compile(document.components.schemas.Problem);
  const answers = new Map<string, ValidateFunction>();
  for (const { operationId, responses } of operations) {
    const schema = responses[200]?.content?.["application/json"]?.schema;
    if (schema) answers.set(operationId, ajv.compile(schema));
  }
  /** What is wrong with an answer by the document; null where nothing is. */
  const faultOf = async (operation: ApiOperation, answer: Response): Promise<string | null> => {
    const { status } = answer;
    if (!(status in operation.responses)) return `status ${status} is not in the document`;
    if (status === 304) return null;
    const text = await answer.text();
    const type = answer.headers.get("content-type")?.split(";")[0];
    const check = status === 200 ? answers.get(operation.operationId) : problem;
    const wanted = status === 200 ? "application/json" : "application/problem+json";
    if (type !== wanted) return `${status}: ${type}: ${text.slice(0, 200)}`;
    if (!check?.(JSON.parse(text)))
      return `${status}: ${ajv.errorsText(check?.errors)}: ${text.slice(0, 300)}`;
    return null;
  };
  return { document, operations, faultOf };
}
