import { createContext, data, type RouterContextProvider } from "react-router";
import type { InputFault } from "#core";
import type { SignInLimits } from "#server/auth/limits";
import { type SignedIn, sessionOf } from "#server/auth/sessions";
import { asFirm, type Database, type FirmScope } from "#server/db/connection";

/** What the web server hands to every request. */
export interface Services {
  db: Database;
  limits: SignInLimits;
  /** The demo's sign-in may be shown: demo data is loaded and nobody from outside can reach this server. */
  showDemo: boolean;
  secureCookies: boolean;
  /** Addresses of photometers that the bench may read. */
  photometers: string[];
  now: () => Date;
}

export const servicesContext = createContext<Services>();
export const nonceContext = createContext<string>("");
export const addressContext = createContext<string>("");
export const memberContext = createContext<SignedIn>();

export const SESSION_COOKIE = "pelagon_session";

/** One cookie's value out of the request's header. */
export function cookie(request: Request, name: string): string | null {
  const header = request.headers.get("Cookie") ?? "";
  const found = header.split(/;\s*/).find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : null;
}

/** Who is signed in by this request's cookie. */
export async function whoIs(
  request: Request,
  context: Readonly<RouterContextProvider>,
): Promise<SignedIn | null> {
  const token = cookie(request, SESSION_COOKIE);
  if (!token) return null;
  const { db, now } = context.get(servicesContext);
  return sessionOf(db, token, now());
}

/** Runs work on the rows of the signed-in member's firm. */
export function inFirm<T>(
  context: Readonly<RouterContextProvider>,
  work: (scope: FirmScope, member: SignedIn, now: Date) => Promise<T>,
): Promise<T> {
  const { db, now } = context.get(servicesContext);
  const member = context.get(memberContext);
  return asFirm(db, member.firmId, (scope) => work(scope, member, now()));
}

/** What is not this firm's is not there. */
export const notFound = (): never => {
  throw new Response("Not found", { status: 404 });
};

export interface FaultView {
  code: InputFault["code"];
  field: string;
  value: string;
  limit: InputFault["limit"] | null;
}

/** A fault in what was sent, as data for the page: 422, nothing saved. */
export const refuse = (fault: InputFault) =>
  data(
    {
      fault: {
        code: fault.code,
        field: fault.field,
        value: fault.value === undefined || fault.value === null ? "" : String(fault.value),
        limit: fault.limit ?? null,
      } satisfies FaultView,
    },
    { status: 422 },
  );
