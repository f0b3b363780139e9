import { type ClientActionFunctionArgs, data, redirect } from "react-router";
import {
  type Brought,
  InputFault,
  nextStop,
  stopAfterTest,
  type VisitCommands,
  visitOf,
  visitSoFar,
  type Written,
} from "#core";
import { faultView } from "../fault";
import type { basinPage } from "../pages/basin.server";
import { offlineAware } from "../ui/offline";
import { bundleState, rememberBasin } from "./bundle";
import type { DeviceStore, KeptVisit } from "./database";
import { looseHere } from "./drafts";
import { keep, kept } from "./items";
import { memberHere, setMemberHere } from "./member";
import { enqueue, memberBy, startOffline } from "./outbox";
import { type PageCommand, savedIn } from "./page-command";
import { PATIENCE_MS, reachFirst } from "./reach";
import { deviceStore, wipe } from "./store";
import { drain, putVisit } from "./sync";
import { isStop, isWholeVisit } from "./visit-address";

/** The pages' side of the device: which loader and action answers here, and how. */

/** A page that lies here under a key: the server's when it answers, or else as it was last told. */
export async function page<T>(serverLoader: () => Promise<unknown>, key: string): Promise<T> {
  const store = await deviceStore();
  if (!store) return (await serverLoader()) as T;
  return reachFirst<T>({
    server: serverLoader as () => Promise<T>,
    here: () => kept<T>(store, key),
    keep: (told) => keep(store, key, told),
  });
}

/** What the layout of a visit tells its stops. */
export interface VisitPage {
  brought: Brought;
  written: Written;
  cost: number | null;
  now: Date;
}

export interface PageAsked {
  params: Partial<Record<string, string>>;
  request: Request;
  serverLoader: () => Promise<unknown>;
}

/** A visit: from here while anything of it waits to be sent, or else from the server when it answers. */
export async function visitPage({ params, request, serverLoader }: PageAsked): Promise<VisitPage> {
  const store = await deviceStore();
  const id = params.visitId ?? "";
  if (!store) return (await serverLoader()) as VisitPage;
  const here = await store.visits.get(id);
  if (here?.becameOf) throw redirect(new URL(request.url).pathname.replace(id, here.becameOf));
  if (here && (await store.waiting.where("visitId").equals(id).count()) > 0)
    return fromHere(here, request, params);
  return reachFirst<VisitPage>({
    server: serverLoader as () => Promise<VisitPage>,
    here: async () => {
      const found = await store.visits.get(id);
      return found ? fromHere(found, request, params) : null;
    },
    keep: ({ brought, written }) => keepVisit(store, brought, written),
  });
}

async function keepVisit(store: DeviceStore, brought: Brought, written: Written): Promise<void> {
  const by = await memberBy(store);
  await store
    .transaction("rw", [store.visits, store.waiting], () => putVisit(store, brought, written, by))
    .catch(() => {});
}

/** As the server's loader: what is no stop is not there, and a visit under way opens at its next one. */
function fromHere({ brought, written }: KeptVisit, request: Request, params: PageAsked["params"]): VisitPage {
  if (!isStop(params)) throw new Response("Not found", { status: 404 });
  const now = new Date();
  const isWhole = isWholeVisit(request.url);
  if (isWhole && !written.finishedAt)
    throw redirect(`/visits/${brought.visit.id}/${nextStop(visitSoFar(visitOf(brought, written, now)))}`);
  // Closed here: there is nothing more to test.
  if (!isWhole && written.finishedAt) throw redirect(`/visits/${brought.visit.id}`);
  return { brought, written, cost: null, now };
}

/** What a form or JSON of a page carries. */
async function bodyOf(request: Request): Promise<unknown> {
  if (request.headers.get("Content-Type")?.startsWith("application/json")) return request.json();
  return Object.fromEntries([...(await request.formData())].filter(([, value]) => typeof value === "string"));
}

/**
 * The action of a page that sends a command to its visit: given here first, sent at once when there is
 * reach. Where nothing can be kept here, the server is asked as ever.
 */
export const onDevice =
  (command: PageCommand, taken: () => void = () => {}) =>
  async ({ params, request, serverAction }: ClientActionFunctionArgs) => {
    const store = await deviceStore();
    const visitId = params.visitId ?? "";
    if (!store) return offlineAware(() => serverAction());
    const body = await bodyOf(request.clone());
    const sent = command.command(body);
    try {
      const visit = await enqueue(store, visitId, sent);
      if (!visit) return offlineAware(() => serverAction());
      taken();
      const answer = await answerHere(store, visit, sent);
      const to = command.next(body, answer);
      if (to === null) return { saved: savedIn(body) };
      return redirect(`/visits/${visitId}${to === "" || to.startsWith("?") ? to : `/${to}`}`);
    } catch (fault) {
      // A plan that could not be worked out here is worked out there.
      const isForServer = fault instanceof InputFault && fault.field === "content";
      if (fault instanceof InputFault && !isForServer) return refused(fault);
      // The device is full, or its store broke: nothing was written, and the server is asked.
      return offlineAware(() => serverAction());
    }
  };

/** As the server tells it: a fault that nothing has to be read again for. */
const refused = (fault: InputFault) => data({ fault: faultView(fault) }, { status: 422 });

/** What a page needs to go on; a close waits a moment for what the server says of it. */
async function answerHere(
  store: DeviceStore,
  { brought, written }: KeptVisit,
  { name, given }: ReturnType<PageCommand["command"]>,
): Promise<string | null> {
  const sent = drain();
  if (name === "read") {
    const [first] = (given as VisitCommands["read"]).tests;
    return first ? stopAfterTest(brought, visitOf(brought, written, new Date()), first) : null;
  }
  if (name !== "close") return null;
  await Promise.race([sent, new Promise((done) => setTimeout(done, PATIENCE_MS))]);
  const now = await store.visits.get(brought.visit.id);
  const by = now?.written.finishedAt?.getTime();
  return by !== undefined && by < (written.finishedAt?.getTime() ?? 0) - PATIENCE_MS ? "before" : "now";
}

/** Begins a visit: here where the round was taken along, or else on the server. */
export async function startOnDevice({ params, request, serverAction }: ClientActionFunctionArgs) {
  const store = await deviceStore();
  const sent = (await bodyOf(request.clone())) as { id?: unknown };
  if (!store || typeof sent.id !== "string") return offlineAware(() => serverAction());
  // With reach the server knows best whether somebody is there already. One that hangs may begin the visit all
  // the same: under one id it is one visit.
  const asked = offlineAware(() => serverAction());
  asked.catch(() => {});
  const late = new Promise<"late">((done) => setTimeout(() => done("late"), PATIENCE_MS));
  const answer = await Promise.race([asked, late]);
  const isAway =
    answer === "late" ||
    (answer !== null && typeof answer === "object" && ("offline" in answer || "trouble" in answer));
  if (!isAway) return answer;
  const visit = await startOffline(store, sent.id, params.basinId ?? "").catch(() => null);
  return visit ? redirect(`/visits/${visit}`) : asked;
}

/** Where a day's round lies; without a day it is today's, as the bundle knows it. */
export async function roundKey(day: string | null): Promise<string> {
  if (day !== null) return `round ${day}`;
  const store = await deviceStore();
  const state = store && (await bundleState(store));
  return `round ${state?.today ?? ""}`;
}

/** A basin's page; one that was opened is taken along from now on. Older pages of its book are the server's. */
export async function basinOnDevice(
  serverLoader: () => Promise<BasinData>,
  basinId: string,
  search: string,
): Promise<BasinData> {
  const store = await deviceStore();
  if (!store) return serverLoader();
  if (search !== "") return reachFirst({ server: serverLoader, here: async () => null });
  const told = await page<BasinData>(serverLoader, `basin ${basinId}`);
  void rememberBasin(store, basinId).catch(() => {});
  const begun = await store.visits
    .where("basinId")
    .equals(basinId)
    .filter(({ written, becameOf }) => written.finishedAt === null && becameOf === undefined)
    .first();
  // Begun here and not sent yet: the server does not know of it.
  return begun && !told.open
    ? { ...told, open: { ...begun.brought.visit, ...EMPTY, id: begun.id, note: begun.written.note } }
    : told;
}

type BasinData = NonNullable<Awaited<ReturnType<typeof basinPage>>>;
const EMPTY = {
  finishedAt: null,
  look: null,
  sampling: null,
  notices: null,
  weather: null,
  bathing: null,
  untested: null,
} as const;

/**
 * Who is signed in. From here on the device keeps what belongs to them, and to nobody who was here before;
 * a reader's device keeps nothing.
 */
export async function homeOnDevice<T extends { memberId: string; role: string }>(
  serverLoader: () => Promise<unknown>,
): Promise<T> {
  const before = await deviceStore();
  const told = await reachFirst<T>({
    server: serverLoader as () => Promise<T>,
    here: async () => (before ? kept<T>(before, "home") : null),
  });
  const member = told.role === "reader" ? null : told.memberId;
  setMemberHere(member);
  const store = await deviceStore();
  if (store) await keep(store, "home", told);
  return told;
}

/**
 * Signs out: what waits is sent first, and while something could not be, nobody is signed out unless they
 * say so. After the server's answer the device forgets.
 */
export async function signOutHere({ request, serverAction }: ClientActionFunctionArgs) {
  const store = await deviceStore();
  const member = memberHere();
  const anyway = (await request.clone().formData()).get("anyway") !== null;
  if (store && !anyway) {
    await Promise.race([drain(), new Promise((done) => setTimeout(done, PATIENCE_MS))]);
    const waiting = (await store.waiting.count()) + (await store.refused.count());
    const loose = looseHere();
    if (waiting + loose > 0) return { waiting, loose };
  }
  try {
    const answer = await offlineAware(() => serverAction());
    return answer;
  } catch (left) {
    // The server has answered: whoever it was is signed out.
    if (member) await wipe(member);
    throw left;
  }
}

/** A photo of a visit: sent at once where there is reach and nothing waits before it, or else kept here. */
export async function photoOnDevice({ params, request, serverAction }: ClientActionFunctionArgs) {
  const store = await deviceStore();
  const visitId = params.visitId ?? "";
  const form = await request.clone().formData();
  const photo = form.get("photo");
  const remove = form.get("remove");
  try {
    const known = store && (await store.visits.get(visitId));
    if (!store || !known) return offlineAware(() => serverAction());
    if (typeof remove === "string")
      await enqueue(store, visitId, { name: "hide-photo", given: { photoId: remove } });
    else if (photo instanceof Blob) {
      const id = `${form.get("id")}`;
      await enqueue(store, visitId, { id, name: "photograph", given: { photoId: id } }, photo);
    } else return offlineAware(() => serverAction());
    void drain();
    return { saved: true as const };
  } catch (fault) {
    if (fault instanceof InputFault) return refused(fault);
    return offlineAware(() => serverAction());
  }
}
