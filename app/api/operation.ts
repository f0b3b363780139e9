import type Joi from "joi";
import type { RouterContextProvider } from "react-router";
import type { ApiScope, TokenHolder } from "#server/db/api-tokens";
import type { words } from "../words";

/** One thing that a program may ask of a firm's book over HTTP. */
export interface Operation {
  id: OperationId;
  method: "GET" | "POST";
  /** Below `/api/v1`, parameters in braces: "/basins/{basinId}". */
  path: string;
  scope: ApiScope;
  /** What may stand in the address after the question mark. */
  query?: Joi.ObjectSchema;
  /** What is sent as JSON; the path's own parameters are put in. */
  body?: Joi.Schema;
  /** Whether `id` of the body may be left out and the request's key stand for it. */
  isMadeUnderKey?: boolean;
  /** JSON Schema (2020-12) of an answer that says yes. */
  answer: JsonSchema;
  run(call: ApiCall): Promise<unknown>;
}

/** Each has a line in the catalogue of messages. */
export type OperationId = keyof (typeof words)["api"]["operations"];

export type JsonSchema = Readonly<Record<string, unknown>>;

export interface ApiCall {
  context: Readonly<RouterContextProvider>;
  request: Request;
  holder: TokenHolder;
  /** The path's parameters, each a UUID. */
  params: Readonly<Record<string, string>>;
  /** The query, checked. */
  query: Readonly<Record<string, unknown>>;
  /** The body as it came, with the path's parameters; an object. */
  body: Readonly<Record<string, unknown>>;
  /** Under which the request counts once, a UUID; nothing where it named none. */
  key: string | undefined;
}

/** The names in a path's braces. @example parametersIn("/basins/{basinId}") // ["basinId"] */
export const parametersIn = (path: string): string[] =>
  [...path.matchAll(/\{(\w+)\}/g)].map((found) => found[1] ?? "");

/** Where the interface stands. */
export const API_ROOT = "/api/v1";
