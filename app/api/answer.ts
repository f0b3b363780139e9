import { createHash } from "node:crypto";
import { RateLimiterRes } from "rate-limiter-flexible";
import type { RouterContextProvider } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { isUuid } from "#server/commands/fields";
import { apiTokenBehind, type TokenHolder } from "#server/db/api-tokens";
import { askedFor } from "#server/request-id";
import { atGate, guessedAt, inTurn, memberContext, servicesContext } from "../context";
import { goOnIn } from "../language.server";
import { log, withoutTokens } from "../log";
import { fieldsOf, jsonBody } from "../request";
import { openApiDocument } from "./openapi";
import { API_ROOT } from "./operation";
import { type Found, operationAt } from "./operations";
import { problem, problemFrom, problemOf } from "./problem";

type Context = Readonly<RouterContextProvider>;

const DOCUMENT = "/openapi.json";
const BEARER = { "WWW-Authenticate": "Bearer" };

/** Answers a request to the interface: whatever happens, with JSON of the schema that its document tells. */
export async function apiAnswer(request: Request, context: Context): Promise<Response> {
  try {
    const path = new URL(request.url).pathname.slice(API_ROOT.length);
    if (path === DOCUMENT && request.method === "GET") return tagged(request, openApiDocument());
    const found = operationAt(request.method, path);
    if (found === null) return problem(404);
    if ("allowed" in found) return problem(405, {}, { Allow: found.allowed.join(", ") });
    return await asHolder(request, context, found);
  } catch (fault) {
    if (fault instanceof InputFault) return problemOf(fault);
    if (fault instanceof Response) return problemFrom(fault);
    log().error({ fault: withoutTokens(fault) }, "an API request broke");
    return problem(500);
  }
}

/** Goes on for whoever holds the token, if it may do this, and not too often. */
async function asHolder(request: Request, context: Context, found: Found): Promise<Response> {
  const token = /^Bearer ([\w-]{43})$/.exec(request.headers.get("Authorization") ?? "")?.[1];
  const holder = token ? await atGate(context, (db, now) => apiTokenBehind(db, token, now)) : null;
  if (!holder) {
    // Whoever guesses for long is asked to wait.
    const wait = token ? await guessedAt(context) : null;
    return wait === null ? problem(401, {}, BEARER) : problem(429, {}, { "Retry-After": `${wait}` });
  }
  (context as RouterContextProvider).set(memberContext, holder.member);
  askedFor(holder.member.firmId);
  goOnIn(holder.member.language);
  const rate = await rated(context, holder);
  const answer = rate.isOver
    ? problem(429, {}, { "Retry-After": rate.headers["RateLimit-Reset"] })
    : await allowed(request, context, found, holder).catch(asProblem);
  for (const [name, value] of Object.entries(rate.headers)) answer.headers.set(name, value);
  return answer;
}

function asProblem(fault: unknown): Response {
  if (fault instanceof InputFault) return problemOf(fault);
  if (fault instanceof Response) return problemFrom(fault);
  throw fault;
}

async function allowed(
  request: Request,
  context: Context,
  { operation, params }: Found,
  holder: TokenHolder,
): Promise<Response> {
  if (!holder.scopes.includes(operation.scope))
    return problem(403, { field: "scope", limit: operation.scope });
  return inTurn(request, context, holder.member, async () => {
    const call = { context, request, holder, params };
    if (operation.method === "GET") {
      const asked = Object.fromEntries(new URL(request.url).searchParams);
      const query = operation.query
        ? checked<Record<string, unknown>>(operation.query, asked, { convert: true })
        : withoutFields(asked);
      return tagged(request, await operation.run({ ...call, query, body: {}, key: undefined }));
    }
    if (!request.headers.get("Content-Type")?.startsWith("application/json")) return problem(415);
    const key = keyOf(request);
    const sent = await jsonBody(request);
    if (sent === null || typeof sent !== "object" || Array.isArray(sent))
      throw new InputFault("malformed", "body", sent === null ? "null" : typeof sent, "object");
    const body: Record<string, unknown> = { ...fieldsOf(sent), ...params };
    if (operation.isMadeUnderKey && body.id === undefined && key) body.id = key;
    return json(await operation.run({ ...call, query: {}, body, key }));
  });
}

/** An address without a query takes none. */
function withoutFields(asked: Record<string, string>): Record<string, never> {
  const [first] = Object.entries(asked);
  if (first) throw new InputFault("unknown", first[0].slice(0, 80), first[1].slice(0, 80));
  return {};
}

/** The key under which a request counts once; nothing where it names none. */
function keyOf(request: Request): string | undefined {
  const key = request.headers.get("Idempotency-Key");
  if (key === null) return undefined;
  if (isUuid(key)) return key.toLowerCase();
  throw new InputFault("malformed", "Idempotency-Key", String(key).slice(0, 80), "UUID");
}

/** Counts a request of a token; what is left of its minute stands in the headers. */
async function rated(context: Context, { tokenId }: TokenHolder) {
  const { apiRate } = context.get(servicesContext);
  const counted = await apiRate.consume(tokenId).catch((over) => {
    if (over instanceof RateLimiterRes) return over;
    throw over;
  });
  return {
    isOver: counted.consumedPoints > apiRate.points,
    headers: {
      "RateLimit-Limit": `${apiRate.points}`,
      "RateLimit-Remaining": `${Math.max(0, counted.remainingPoints)}`,
      "RateLimit-Reset": `${Math.ceil(counted.msBeforeNext / 1000)}`,
    },
  };
}

const json = (value: unknown, headers: Record<string, string> = {}): Response =>
  new Response(JSON.stringify(value), { headers: { "Content-Type": "application/json", ...headers } });

/** JSON with its digest: who has it already is told so, and nothing more. */
function tagged(request: Request, value: unknown): Response {
  const body = JSON.stringify(value);
  const tag = `"${createHash("sha256").update(body).digest("base64url").slice(0, 27)}"`;
  const known = (request.headers.get("If-None-Match") ?? "")
    .split(",")
    .map((one) => one.trim().replace(/^W\//, ""));
  const headers = { ETag: tag, "Cache-Control": "private, no-cache" };
  return known.includes(tag) || known.includes("*")
    ? new Response(null, { status: 304, headers })
    : new Response(body, { headers: { "Content-Type": "application/json", ...headers } });
}
