import type { InputFault } from "#core";
import { faultView } from "../fault";
import { faultSentence, words } from "../words";
import { object, orNull, text, whole } from "./json-schema";
import type { JsonSchema } from "./operation";

/** What went wrong, as RFC 9457 tells it, with the field, the value and the limit of what was sent. */

/** What each status is called; the catalogue says it for people. */
export const PROBLEMS = {
  400: "bad-request",
  401: "no-token",
  403: "not-allowed",
  404: "not-found",
  405: "wrong-method",
  409: "key-taken",
  413: "too-large",
  415: "not-json",
  422: "refused",
  429: "too-many",
  500: "broken",
  503: "not-now",
} as const;
export type ProblemStatus = keyof typeof PROBLEMS;

export const problemSchema: JsonSchema = {
  ...object({
    type: text,
    title: text,
    status: whole,
    code: text,
    field: orNull(text),
    value: orNull(text),
    limit: {},
  }),
  properties: {
    ...(object({ type: text, title: text, status: whole, code: text, field: orNull(text) })
      .properties as object),
    detail: text,
    value: orNull(text),
    limit: {},
  },
};

interface Told {
  detail?: string;
  code?: string;
  field?: string;
  value?: string;
  limit?: unknown;
}

export function problem(
  status: ProblemStatus,
  { detail, code = PROBLEMS[status], field, value, limit = null }: Told = {},
  headers: Record<string, string> = {},
): Response {
  const title = words.api.problems[PROBLEMS[status]];
  return new Response(
    JSON.stringify({
      type: `/api#${PROBLEMS[status]}`,
      title,
      status,
      ...(detail ? { detail } : {}),
      code,
      field: field ?? null,
      value: value ?? null,
      limit,
    }),
    { status, headers: { "Content-Type": "application/problem+json", ...headers } },
  );
}

const STATUS: Partial<Record<InputFault["code"], ProblemStatus>> = { "key-taken": 409, "not-there": 404 };

/** A fault in what was sent. */
export function problemOf(fault: InputFault): Response {
  const view = faultView(fault);
  return problem(STATUS[fault.code] ?? 422, { ...view, detail: faultSentence(view) });
}

/** What a page would be answered with, for a program. */
export function problemFrom(answer: Response): Response {
  const status =
    answer.status in PROBLEMS ? (answer.status as ProblemStatus) : answer.status < 500 ? 400 : 500;
  const retry = answer.headers.get("Retry-After");
  return problem(status, {}, retry ? { "Retry-After": retry } : {});
}
