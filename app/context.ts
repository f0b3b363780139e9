import type { RateLimiterMemory } from "rate-limiter-flexible";
import { createContext, data, type RouterContextProvider } from "react-router";
import { InputFault } from "#core";
import type { SignInLimits } from "#server/auth/limits";
import type { NamedAuthor } from "#server/author";
import { isInvalidData, isPermissionDenied, isUnavailable } from "#server/db/away";
import {
  asCardHolder,
  asFirm,
  asHolder,
  asReader,
  type Database,
  type FirmScope,
} from "#server/db/connection";
import { demoLoaded, hasOwnFirm } from "#server/db/instance";
import { siteMailBy } from "#server/db/mail";
import { noteFull } from "#server/db/readiness";
import { positionFrom, positionOf, type Replica } from "#server/db/replica";
import { type SignedIn, sessionOf } from "#server/db/sessions";
import { sharedVisit } from "#server/db/shares";
import type { Jobs } from "#server/jobs/boss";
import { braked } from "#server/metrics";
import { askedFor } from "#server/request-id";
import { Crowded } from "#server/work/fair-queue";
import type { Shares } from "#server/work/shares";
import type { Workbench } from "#server/work/workbench";
import { faultView } from "./fault";
import { goOnIn } from "./language.server";
import { cookie } from "./request";

/** What the web server hands to every request. */
export interface Services {
  limits: SignInLimits;
  /** Counts what each token of the interface asks of this server. */
  apiRate: RateLimiterMemory;
  /** What each firm takes of this server's answering. */
  pages: Shares;
  /** What may be read from beside the database; null where there is none. */
  replica: Replica | null;
  /** Nobody from outside can reach this server: the demo's sign-in may be shown, where one is loaded. */
  mayShowDemo: boolean;
  secureCookies: boolean;
  /** Addresses of photometers that the bench may read. */
  photometers: string[];
  /** Address of the weather service that a visit asks. */
  weather: string | null;
  /** The work of the night; null until the queue has started, or where it is off. */
  jobs: () => Jobs | null;
  /** With which passwords are sealed; null where there is none. */
  secretsKey: string | null;
  /** The code with which a fresh instance is set up; good for nothing once a firm is there. */
  setup: () => Promise<string>;
  /** What takes long, done beside. */
  work: Workbench;
  now: () => Date;
}

type Context = Readonly<RouterContextProvider>;

/** Not exported: whoever wants rows comes through one of the doors below. */
const databaseContext = createContext<Database>();
export const servicesContext = createContext<Services>();
export const nonceContext = createContext<string>("");
export const addressContext = createContext<string>("");
export const memberContext = createContext<SignedIn>();

/** Gives a request what it works with. */
export function provideServices(
  context: RouterContextProvider,
  db: Database,
  services: Services,
  { nonce, address }: { nonce: string; address: string },
): void {
  context.set(databaseContext, db);
  context.set(servicesContext, services);
  context.set(nonceContext, nonce);
  context.set(addressContext, address);
}

/** Seconds after which to try again when the database is away: it mostly takes one to come back. */
const RETRY_AFTER = "2";

/** Work on the database whose faults are told for what they are: not there just now, or not fit to be kept. */
async function answered<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (fault) {
    noteFull(fault, new Date());
    if (isUnavailable(fault))
      throw new Response("The database cannot be reached", {
        status: 503,
        headers: { "Retry-After": RETRY_AFTER },
      });
    if (isPermissionDenied(fault)) throw new Response("Not yours to change", { status: 403 });
    if (isInvalidData(fault)) throw new Response("Something sent here cannot be kept", { status: 400 });
    throw fault;
  }
}

/** One door: runs work on the rows of the signed-in member's firm; a reader's on those of their own sites. */
export function inFirm<T>(
  context: Context,
  work: (scope: FirmScope, member: SignedIn, now: Date) => Promise<T>,
): Promise<T> {
  const db = context.get(databaseContext);
  const now = context.get(servicesContext).now();
  const member = context.get(memberContext);
  return answered(() =>
    member.role === "reader"
      ? asReader(db, member.firmId, member.memberId, (scope) => work(scope, member, now))
      : asFirm(db, member.firmId, (scope) => work(scope, member, now)),
  );
}

/**
 * As `inFirm`, for what may be some seconds old: read from the replica where there is one that is close behind and has
 * whatever this session wrote, else from the database. A reader's walls may have just been moved: theirs is always new.
 * @param work only reads; `asOf` is as of when the replica can tell, null for what is read from the database itself
 */
export async function inFirmLately<T>(
  request: Request,
  context: Context,
  work: (scope: FirmScope, member: SignedIn, now: Date, asOf: Date | null) => Promise<T>,
): Promise<T> {
  const { replica, now } = context.get(servicesContext);
  const member = context.get(memberContext);
  if (replica && member.role !== "reader") {
    const found = await replica.read(writtenBy(request), (db, asOf) =>
      asFirm(db, member.firmId, async (scope) => work(scope, member, now(), await asOf(scope))),
    );
    if (found) return found.value;
  }
  return inFirm(context, (scope, who, at) => work(scope, who, at, null));
}

/** What is this much behind goes without saying. Seconds */
const UNSAID_BEHIND = 2;

/** How far behind something was read, to be said on its page; null where there is nothing to say. Seconds */
export function secondsBehind(asOf: Date | null, now: Date): number | null {
  const seconds = asOf ? Math.ceil((now.getTime() - asOf.getTime()) / 1000) : 0;
  return seconds > UNSAID_BEHIND ? seconds : null;
}

/** As of when something was read, for whoever keeps a file of it. */
export const asOfHeader = (asOf: Date | null): Record<string, string> =>
  asOf ? { "X-Pelagon-As-Of": asOf.toISOString() } : {};

const WRITTEN_COOKIE = "pelagon_written";
/** A replica that is read from has all that is older, see `Replica`. Seconds */
const WRITTEN_FOR = 60;
const UNKNOWN = "unknown";

/** Where the database's log was when this session last wrote; what is no place in a log is none that is known. */
function writtenBy(request: Request) {
  const text = cookie(request, WRITTEN_COOKIE);
  return text === null ? null : (positionFrom(text) ?? UNKNOWN);
}

const writtenContext = createContext(false);

/** Says that what this session was just told of was written for it, though by no request of its own. */
export const toldOfWrites = (context: Context): void => {
  (context as RouterContextProvider).set(writtenContext, true);
};

/** The answer with a mark of how far the database had come, where the request may have written: it is not read behind that. */
export async function markedWritten(request: Request, context: Context, answer: Response): Promise<Response> {
  const { replica, secureCookies } = context.get(servicesContext);
  const mayHaveWritten = context.get(writtenContext) || !["GET", "HEAD"].includes(request.method);
  if (!replica || !mayHaveWritten) return answer;
  const position = await positionOf(context.get(databaseContext)).catch(() => UNKNOWN);
  answer.headers.append(
    "Set-Cookie",
    `${WRITTEN_COOKIE}=${position}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${WRITTEN_FOR}${secureCookies ? "; Secure" : ""}`,
  );
  return answer;
}

/** Runs work on the rows of a firm for somebody who holds a link of it; it reads and changes nothing. */
export const byLink = <T>(
  context: Context,
  firmId: string,
  work: (scope: FirmScope) => Promise<T>,
): Promise<T> => {
  askedFor(firmId);
  return answered(() => asHolder(context.get(databaseContext), firmId, work));
};

/** Runs work for somebody who holds a card's link: on what that card is, and what is said of it. */
export const byCard = <T>(
  context: Context,
  card: { firmId: string; cardId: string },
  work: (scope: FirmScope, now: Date) => Promise<T>,
): Promise<T> =>
  answered(() =>
    asCardHolder(context.get(databaseContext), card, (scope) =>
      work(scope, context.get(servicesContext).now()),
    ),
  );

/** Hands the database on: to what lets somebody in or out, and to what keeps what comes in pieces, each by itself. */
export const atGate = <T>(context: Context, work: (db: Database, now: Date) => Promise<T>): Promise<T> =>
  answered(() => work(context.get(databaseContext), context.get(servicesContext).now()));

/** Counts a try of whoever asks at an account, or at what a link opens; see `SignInLimits`. */
export async function tried(context: Context, account: string): ReturnType<SignInLimits["tried"]> {
  const { limits } = context.get(servicesContext);
  const brake = await answered(() => limits.tried(account, context.get(addressContext)));
  if ("refusedFor" in brake) braked.inc();
  return brake;
}

/** A right password forgets the wrong ones made from here. */
export const succeeded = (context: Context, account: string): Promise<void> =>
  answered(() => context.get(servicesContext).limits.succeeded(account, context.get(addressContext)));

/** Whether nobody has set this instance up yet; asked of the database each time. */
export const setupIsOpen = async (context: Context): Promise<boolean> => !(await atGate(context, hasOwnFirm));

/** Whether the demo's sign-in may be shown; asked of the database, for another server may have thrown the demo away. */
export const demoIsShown = async (context: Context): Promise<boolean> =>
  context.get(servicesContext).mayShowDemo && (await atGate(context, demoLoaded));

/**
 * What a link opens, looked up at the gate; 404 when it opens nothing. Guessing is braked by address; a
 * token has 256 bits anyway.
 */
export async function openedByLink<T>(
  context: Context,
  find: (db: Database, now: Date) => Promise<T | null>,
): Promise<T> {
  const found = await atGate(context, find);
  if (found !== null) return found;
  const wait = await guessedAt(context);
  if (wait !== null)
    throw new Response("Too many tries", { status: 429, headers: { "Retry-After": `${wait}` } });
  return notFound();
}

/** Counts a secret that opens nothing; the seconds to wait where there were too many, else null. */
export async function guessedAt(context: Context): Promise<number | null> {
  const wait = await answered(() => context.get(servicesContext).limits.guessed(context.get(addressContext)));
  if (wait !== null) braked.inc();
  return wait;
}

/** Runs work for somebody who has the link that stops a site's letters: on those, and nothing else is handed on. */
export async function byMailLink<T>(
  context: Context,
  token: string,
  work: (scope: FirmScope, siteId: string, now: Date) => Promise<T>,
): Promise<T> {
  const { firmId, siteId } = await openedByLink(context, (db) => siteMailBy(db, token));
  askedFor(firmId);
  return answered(() =>
    asFirm(context.get(databaseContext), firmId, (scope) =>
      work(scope, siteId, context.get(servicesContext).now()),
    ),
  );
}

/** Runs work that writes for somebody who has a sheet's link: what they may say of what stands on it. */
export async function bySheetLink<T>(
  context: Context,
  token: string,
  work: (scope: FirmScope, visitId: string, now: Date) => Promise<T>,
): Promise<T> {
  const { firmId, visitId } = await openedByLink(context, (db, now) => sharedVisit(db, token, now));
  askedFor(firmId);
  return answered(() =>
    asFirm(context.get(databaseContext), firmId, (scope) =>
      work(scope, visitId, context.get(servicesContext).now()),
    ),
  );
}

export const SESSION_COOKIE = "pelagon_session";

/** Who is signed in by this request's cookie; the request goes on as theirs. */
export async function whoIs(request: Request, context: Context): Promise<SignedIn | null> {
  const token = cookie(request, SESSION_COOKIE);
  if (!token) return null;
  const member = await atGate(context, (db, now) => sessionOf(db, token, now));
  if (member) {
    context.set(memberContext, member);
    askedFor(member.firmId);
    goOnIn(member.language);
  }
  return member;
}

/** A body that is longer than this comes as slowly as its sender's reach allows: it is nobody's turn meanwhile. */
const LARGE_BODY = 256 * 1024;

/** Answers in the turn of the member's firm, see `shares`. @throws Response 503 where too much of it waits already */
export async function inTurn<T>(
  request: Request,
  context: Context,
  { firmId }: SignedIn,
  work: () => Promise<T>,
): Promise<T> {
  if (Number(request.headers.get("Content-Length") ?? 0) > LARGE_BODY) return work();
  try {
    return await context.get(servicesContext).pages.take(firmId, work);
  } catch (fault) {
    if (!(fault instanceof Crowded)) throw fault;
    throw new Response(fault.message, { status: 503, headers: { "Retry-After": RETRY_AFTER } });
  }
}

/** The answer with the session's cookie put off as far as the session itself, when that was just done. */
export function renewed(request: Request, context: Context, member: SignedIn, answer: Response): Response {
  const token = cookie(request, SESSION_COOKIE);
  if (member.renewed && token && !answer.headers.has("Set-Cookie"))
    answer.headers.append("Set-Cookie", sessionCookie(token, context.get(servicesContext).secureCookies));
  return answer;
}

/** Only an owner goes on; the others are told so. */
export function ownerOnly(context: Context): SignedIn {
  const member = context.get(memberContext);
  if (member.role !== "owner") throw new Response("Owners only", { status: 403 });
  return member;
}

/** Readers change nothing; everybody else goes on. */
export function workerOnly(member: SignedIn): SignedIn {
  if (member.role === "reader") throw new Response("Readers change nothing", { status: 403 });
  return member;
}

/** What is not this firm's is not there. */
export const notFound = (): never => {
  throw new Response("Not found", { status: 404 });
};

/** The queue has not started yet: it mostly takes a second. */
export const notYet = (): never => {
  throw new Response("Not yet", { status: 503, headers: { "Retry-After": RETRY_AFTER } });
};

/** A fault in what was sent, as data for the page: nothing saved. A key that is taken is a conflict. */
export const refuse = (fault: InputFault) => data({ fault: faultView(fault) }, { status: statusOf(fault) });

const STATUS: Partial<Record<InputFault["code"], number>> = { "key-taken": 409, "not-there": 404 };
const statusOf = ({ code }: InputFault): number => STATUS[code] ?? 422;

/** What a write answers: what the work gives, or the fault that it met. */
export async function attempt<T>(work: () => Promise<T>) {
  try {
    return await work();
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

/** The same for an address that a script asks and no page: all of it is JSON. */
export async function attemptJson(work: () => Promise<object>): Promise<Response> {
  try {
    return Response.json(await work());
  } catch (fault) {
    // Begun on a device that has not sent it yet, or another firm's: not there, and not wrong.
    if (fault instanceof InputFault && fault.code === "not-there") return notFound();
    if (fault instanceof InputFault) return Response.json({ fault: faultView(fault) }, { status: 422 });
    throw fault;
  }
}

/** The signed-in member as the author of a write. */
export const authorOf = (member: SignedIn, now: Date): NamedAuthor => ({
  firmId: member.firmId,
  memberId: member.memberId,
  memberName: member.name,
  now,
});

/** The session cookie; without a token it is taken away. */
export const sessionCookie = (token: string | null, secure: boolean): string =>
  `${SESSION_COOKIE}=${token ?? ""}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${token ? THIRTY_DAYS : 0}${secure ? "; Secure" : ""}`;

const THIRTY_DAYS = 30 * 86_400;

/** A photo as it is kept, to be shown and nothing else. */
export function photoResponse(photo: { kind: string; bytes: Buffer } | undefined): Response {
  if (!photo) return notFound();
  return new Response(new Uint8Array(photo.bytes), {
    headers: { "Content-Type": photo.kind, "X-Content-Type-Options": "nosniff" },
  });
}
