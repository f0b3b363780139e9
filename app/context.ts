import { createContext, data, type RouterContextProvider } from "react-router";
import { InputFault } from "#core";
import type { SignInLimits } from "#server/auth/limits";
import { type SignedIn, sessionOf } from "#server/auth/sessions";
import { asFirm, asReader, type Database, type FirmScope } from "#server/db/connection";
import type { Uploads } from "#server/exchange/import/uploads";
import type { Jobs } from "#server/jobs/boss";

/** What the web server hands to every request. */
export interface Services {
  db: Database;
  limits: SignInLimits;
  /** The demo's sign-in may be shown: demo data is loaded and nobody from outside can reach this server. */
  showDemo: boolean;
  secureCookies: boolean;
  /** Addresses of photometers that the bench may read. */
  photometers: string[];
  /** Address of the weather service that a visit asks. */
  weather: string | null;
  /** The work of the night; null until the queue has started, or where it is off. */
  jobs: () => Jobs | null;
  /** Files on their way in. */
  uploads: Uploads;
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

/** Runs work on the rows of the signed-in member's firm; a reader's on those of their own sites. */
export function inFirm<T>(
  context: Readonly<RouterContextProvider>,
  work: (scope: FirmScope, member: SignedIn, now: Date) => Promise<T>,
): Promise<T> {
  const { db, now } = context.get(servicesContext);
  const member = context.get(memberContext);
  if (member.role === "reader")
    return asReader(db, member.firmId, member.memberId, (scope) => work(scope, member, now()));
  return asFirm(db, member.firmId, (scope) => work(scope, member, now()));
}

/** Only an owner goes on; the others are told so. */
export function ownerOnly(context: Readonly<RouterContextProvider>): SignedIn {
  const member = context.get(memberContext);
  if (member.role !== "owner") throw new Response("Owners only", { status: 403 });
  return member;
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

/** What a write answers: what the work gives, or the fault that it met. */
export async function attempt<T>(work: () => Promise<T>) {
  try {
    return await work();
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

/** The signed-in member as the author of a write. */
export const authorOf = (member: SignedIn, now: Date) => ({
  firmId: member.firmId,
  memberId: member.memberId,
  now,
});

/** The session cookie; without a token it is taken away. */
export const sessionCookie = (token: string | null, secure: boolean): string =>
  `${SESSION_COOKIE}=${token ?? ""}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${token ? THIRTY_DAYS : 0}${secure ? "; Secure" : ""}`;

const THIRTY_DAYS = 30 * 86_400;

/** A photo as it was sent, to be shown and nothing else. */
export function photoResponse(photo: { kind: string; bytes: Buffer } | undefined): Response {
  if (!photo) return notFound();
  return new Response(new Uint8Array(photo.bytes), {
    headers: {
      "Content-Type": photo.kind,
      "Cache-Control": "private, max-age=86400, immutable",
      "X-Content-Type-Options": "nosniff",
    },
  });
}
