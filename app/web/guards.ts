import type { RequestHandler, Response } from "express";
import helmet from "helmet";
import onHeaders from "on-headers";
import type { Config } from "#server/config";
import { MOST_FILE_BYTES } from "#server/exchange/import/uploads";
import { API_ROOT } from "../api/operation";

/** What every request passes and every answer carries, before any page is asked. */

/** The largest body that is taken; a file to import is kept piece by piece as it comes. */
const MOST_BODY_BYTES = 1_000_000;
const FILES = "/book/import/file";

/** Scripts by nonce only, nothing from elsewhere; the solver is WebAssembly of our own. Style attributes are allowed: drawings set sizes by them. */
export function headers(config: Config, development: boolean): RequestHandler {
  const nonce = (_: unknown, response: unknown) => `'nonce-${(response as Response).locals.nonce}'`;
  return helmet({
    contentSecurityPolicy: development
      ? false
      : {
          useDefaults: false,
          directives: {
            defaultSrc: ["'none'"],
            scriptSrc: ["'self'", nonce, "'wasm-unsafe-eval'"],
            styleSrc: ["'self'", nonce],
            styleSrcAttr: ["'unsafe-inline'"],
            imgSrc: ["'self'", "data:", "blob:"],
            fontSrc: ["'self'"],
            connectSrc: ["'self'"],
            manifestSrc: ["'self'"],
            formAction: ["'self'"],
            baseUri: ["'none'"],
            frameAncestors: ["'none'"],
          },
        },
    referrerPolicy: { policy: "same-origin" },
    strictTransportSecurity: config.publicUrl?.startsWith("https:") ? { maxAge: 31_536_000 } : false,
  });
}

/** Refuses a request that does not say whom it asks: addresses of ours are made by it. */
export const namedHost: RequestHandler = (request, response, next) => {
  if (request.headers.host) return next();
  response.status(400).type("text/plain").send("Refused: this request names no host.");
};

/** Refuses a write that does not come from one of our own pages: its Origin must be there and be ours. */
export function sameOrigin(publicUrl: string | null): RequestHandler {
  return (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    // Programs come with a token of their own, and no cookie counts there.
    if (pathAsked(request.originalUrl).startsWith(`${API_ROOT}/`)) return next();
    const ours = publicUrl ? new URL(publicUrl).origin : `http://${request.headers.host}`;
    if (request.headers.origin === ours) return next();
    response
      .status(403)
      .type("text/plain")
      .send("Refused: this request does not come from a page of this site.");
  };
}

/** The path as the pages see it: without the steps up that an address may be written with. */
const pathAsked = (address: string): string => new URL(address, "http://here").pathname;

/** Refuses a body over the limit before any of it is kept. */
export const bodyLimit: RequestHandler = (request, response, next) => {
  const length = Number(request.headers["content-length"] ?? 0);
  const chunked = request.headers["transfer-encoding"] !== undefined;
  const most = request.path === FILES ? MOST_FILE_BYTES : MOST_BODY_BYTES;
  if (!chunked && length <= most) return next();
  response
    .status(413)
    .type("text/plain")
    .send(`Refused: ${chunked ? "a body of unknown length" : `${length} bytes`}; at most ${most} are taken.`);
};

/** Refuses an address that cannot be read, or that holds what no text may hold. */
export const readableAddress: RequestHandler = (request, response, next) => {
  try {
    if (!decodeURIComponent(request.url.replaceAll("+", " ")).includes("\0")) return next();
  } catch {
    // An escape that stands for nothing.
  }
  response.status(400).type("text/plain").send("Refused: this address cannot be read.");
};

/** Only reading is asked of the addresses of the pages' own data; React Router would break on the rest. */
const METHODS = ["GET", "HEAD", "POST"];
export const knownMethod: RequestHandler = (request, response, next) => {
  if (METHODS.includes(request.method)) return next();
  response.status(405).set("Allow", METHODS.join(", ")).type("text/plain").send("Refused: unknown method.");
};

/** What every answer carries besides its own: nothing on the way keeps what is somebody's, and "not now" says when. */
export const lastHeaders: RequestHandler = (_, response, next) => {
  onHeaders(response, () => {
    if (!response.hasHeader("Cache-Control")) response.setHeader("Cache-Control", "no-store");
    // Nothing here is for a search engine: a link that somebody passed on least of all.
    response.setHeader("X-Robots-Tag", "noindex, nofollow");
    if (response.statusCode === 503 && !response.hasHeader("Retry-After"))
      response.setHeader("Retry-After", "2");
  });
  next();
};

/** Since when this server only finishes what it has; null while it takes everything. */
export interface Draining {
  since: number | null;
}

/** A server that is about to end sends nobody away, but keeps nobody: and says so to whoever sends people here. */
export const whileDraining =
  (draining: Draining): RequestHandler =>
  (request, response, next) => {
    if (draining.since === null) return next();
    response.set("Connection", "close");
    if (request.path !== "/health" && request.path !== "/ready") return next();
    response.status(503).json({ ok: false, draining: true });
  };
