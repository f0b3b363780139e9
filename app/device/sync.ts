import { parse } from "devalue";
import { type Brought, type By, type KeptCount, laterCount, type Written } from "#core";
import type { FaultView } from "../fault";
import type { DeviceStore, Waiting } from "./database";
import { memberBy, withPendingCommands } from "./outbox";
import { deviceStore } from "./store";
import type { SyncAnswer } from "./take-commands.server";
import { FAULT_HEADER, OTHER_MEMBER, OURS_HEADER } from "./whose";

/** What waits on this device is sent, oldest first, by one page at a time. */

/** Nobody waits longer for an answer. */
const SILENT_MS = 20_000;
/** Commands that are sent together. */
const BATCH = 25;

export type DrainEnd =
  /** Nothing waits any more. */
  | "empty"
  /** Nobody answered, or the server could not do it just now. */
  | "unreached"
  /** The session is over: somebody has to sign in. */
  | "signed-out";

const CHANNEL = "pelagon.device";
type Heard = (visits: string[]) => void;
const listeners = new Set<Heard>();
const channel =
  typeof BroadcastChannel === "undefined" || typeof window === "undefined"
    ? null
    : new BroadcastChannel(CHANNEL);
channel?.addEventListener("message", ({ data }) => {
  for (const hear of listeners) hear(data);
});

/** Hears of visits that came back from the server, in this page or in another of this device. */
export function onSynced(hear: Heard): () => void {
  listeners.add(hear);
  return () => listeners.delete(hear);
}

function tell(visits: string[]): void {
  for (const hear of listeners) hear(visits);
  channel?.postMessage(visits);
}

let draining: Promise<DrainEnd> | null = null;

/** Sends what waits; calls that come while it is under way get its end, and what came since goes too. */
export function drain(): Promise<DrainEnd> {
  draining ??= locked(drainAll).finally(() => {
    draining = null;
  });
  return draining;
}

/** One page of this device at a time: the others wait for it. */
const locked = <T>(work: () => Promise<T>): Promise<T> =>
  typeof navigator.locks === "undefined"
    ? work()
    : (navigator.locks.request("pelagon sync", work) as Promise<T>);

async function drainAll(): Promise<DrainEnd> {
  const store = await deviceStore();
  if (!store) return "empty";
  for (;;) {
    const waiting = await store.waiting.orderBy("sequence").limit(BATCH).toArray();
    if (waiting.length === 0) return "empty";
    const end = await sendSome(store, waiting);
    if (end !== "empty") return end;
  }
}

/** Sends the first of what waits: a photo alone, everything else together up to the next photo. */
async function sendSome(store: DeviceStore, waiting: Waiting[]): Promise<DrainEnd> {
  const photo = waiting.findIndex(({ name }) => name === "photograph");
  const [first] = waiting;
  if (photo === 0 && first) return sendPhoto(store, first);
  const some = photo < 0 ? waiting : waiting.slice(0, photo);
  const answer = await asked("/sync", {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({
      member: store.memberId,
      sentAt: new Date(),
      commands: some.map(({ id, name, visitId, given, made, sequence }) => ({
        id,
        name,
        visitId,
        given,
        made: { ...made, sequence },
      })),
    }),
  });
  if (typeof answer === "string") return answer;
  const told = await readAnswer(answer, some);
  if (!told && !answer.ok) return sendApart(store, some, answer.status);
  // A portal's page, or half an answer: the server has said nothing.
  if (!told) return "unreached";
  await takeIn(store, some, told);
  return "empty";
}

/** Something among these is refused: each goes alone, and what is refused is told of and blocks nothing. */
async function sendApart(store: DeviceStore, some: Waiting[], status: number): Promise<DrainEnd> {
  const [only, ...more] = some;
  if (only && more.length === 0) {
    const fault = refusalOf(only, status);
    await takeIn(store, some, { results: [{ id: only.id, visitId: only.visitId, fault }] });
    return "empty";
  }
  for (const one of some) {
    const end = await sendSome(store, [one]);
    if (end !== "empty") return end;
  }
  return "empty";
}

/** The answer to commands; null where it is none: a portal's page, half an answer, another server's. */
async function readAnswer(answer: Response, some: Waiting[]): Promise<SyncAnswer | null> {
  try {
    const told = parse(await answer.text()) as SyncAnswer;
    const known = Array.isArray(told?.results) && told.results.some(({ id }) => id === some[0]?.id);
    return known && Array.isArray(told.visits) ? told : null;
  } catch {
    return null;
  }
}

/** Whether the same may be taken at another time: everything else that is no answer is a refusal, for good. */
const waitsFor = (status: number): boolean => status === 408 || status === 429 || status >= 500;

/** Why the server took nothing of it, by its status; the page says it in words. */
function refusalOf({ name }: Waiting, status: number): FaultView {
  const fault = { code: "malformed", field: "command", value: name, limit: null } as const;
  // Whoever reads along, or was removed, sends nothing for a firm any more.
  if (status === 403) return { ...fault, code: "inconsistent", field: "sender" };
  if (status === 404) return { ...fault, code: "not-there", field: "visit" };
  if (status === 413)
    return { ...fault, code: "too-long", field: name === "photograph" ? "photo" : "command" };
  return fault;
}

/** Asks the server; the end of draining where nobody who counts has answered. */
async function asked(path: string, init: RequestInit): Promise<Response | DrainEnd> {
  try {
    const answer = await fetch(path, {
      ...init,
      // A redirect leads to the sign-in: followed, unsent work would look sent.
      redirect: "manual",
      signal: AbortSignal.timeout(SILENT_MS),
    });
    if (answer.type === "opaqueredirect" || answer.status === 401) return "signed-out";
    // Somebody else signed in in this browser: what waits is not theirs, and stays until its maker is back.
    if (answer.status === 409 && answer.headers.get(FAULT_HEADER) === OTHER_MEMBER) return "signed-out";
    const isOurs = answer.ok || answer.status === 422 || answer.headers.has(OURS_HEADER);
    return waitsFor(answer.status) || !isOurs ? "unreached" : answer;
  } catch {
    return "unreached";
  }
}

/** A photo goes by itself, with its command. */
async function sendPhoto(store: DeviceStore, command: Waiting): Promise<DrainEnd> {
  const photo = await store.photos.get(command.id);
  if (!photo) {
    await store.waiting.where("id").equals(command.id).delete();
    return "empty";
  }
  const form = new FormData();
  form.set("id", command.id);
  form.set("made", JSON.stringify({ ...command.made, sequence: command.sequence }));
  form.set("sentAt", new Date().toISOString());
  form.set("member", store.memberId);
  form.set("photo", photo.blob, "photo.jpg");
  const answer = await asked(`/visits/${command.visitId}/photos.data`, { method: "POST", body: form });
  if (typeof answer === "string") return answer;
  if (answer.ok) {
    await store.transaction("rw", [store.waiting, store.photos], async () => {
      await store.waiting.where("id").equals(command.id).delete();
      await store.photos.delete(command.id);
    });
    return "empty";
  }
  const fault = (await faultIn(answer)) ?? refusalOf(command, answer.status);
  await takeIn(store, [command], {
    results: [{ id: command.id, visitId: command.visitId, fault }],
  });
  return "empty";
}

/** What the server said of a photo that it refused; null where it said nothing that can be read. */
async function faultIn(answer: Response): Promise<FaultView | null> {
  try {
    const told = parse(await answer.text()) as { data?: { fault?: FaultView }; fault?: FaultView };
    return told?.data?.fault ?? told?.fault ?? null;
  } catch {
    return null;
  }
}

/** Takes in how commands ended: what was done leaves the outbox, what was refused is kept beside. */
async function takeIn(
  store: DeviceStore,
  sent: Waiting[],
  { results, counts = [], visits = [] }: Pick<SyncAnswer, "results"> & Partial<SyncAnswer>,
): Promise<void> {
  const by = await memberBy(store);
  await store.transaction("rw", [store.visits, store.waiting, store.refused], async () => {
    for (const result of results) {
      const command = sent.find(({ id }) => id === result.id);
      if (!command) continue;
      // A count that was tapped on meanwhile has a later copy waiting in its place.
      const waited = await store.waiting.where("id").equals(result.id).count();
      if ("fault" in result && waited > 0)
        await store.refused.put({ ...command, fault: result.fault, refusedAt: new Date() });
      await store.waiting.where("id").equals(result.id).delete();
      if (command.name === "start" && result.visitId !== command.visitId)
        await store.visits.update(command.visitId, { becameOf: result.visitId });
    }
    for (const { brought, written } of visits) await putVisit(store, brought, written, by);
    for (const { visitId, methodId, stands } of counts) await putCount(store, visitId, methodId, stands);
  });
  const touched = new Set([...results, ...sent].map(({ visitId }) => visitId));
  tell([...touched]);
}

/** Puts a count as the server tells it: another screen may have taken it over. What waits here is put over it. */
async function putCount(
  store: DeviceStore,
  visitId: string,
  methodId: string,
  stands: KeptCount,
): Promise<void> {
  const visit = await store.visits.get(visitId);
  if (!visit) return;
  const here = visit.written.counts[methodId];
  if (here && laterCount(stands, here) === here) return;
  const counts = { ...visit.written.counts, [methodId]: stands };
  await store.visits.put({ ...visit, written: { ...visit.written, counts } });
}

/** Puts a visit as the server tells it, with what waits here over it; an older copy never replaces a newer. */
export async function putVisit(
  store: DeviceStore,
  brought: Brought,
  written: Written,
  by: By | null,
): Promise<void> {
  const { id, basinId } = brought.visit;
  const here = await store.visits.get(id);
  if (here && here.serverVersion > written.version) return;
  const waiting = await store.waiting.where("visitId").equals(id).sortBy("sequence");
  await store.visits.put({
    id,
    basinId,
    brought,
    written: withPendingCommands(brought, here ? withCounts(written, here.written) : written, waiting, by),
    serverVersion: written.version,
  });
}

/** What the server tells, with the counts of here that are later: a count has no version of the visit's. */
function withCounts(told: Written, here: Written): Written {
  const counts = { ...told.counts };
  for (const [methodId, count] of Object.entries(here.counts)) {
    const stands = counts[methodId];
    if (!stands || laterCount(stands, count) === count) counts[methodId] = count;
  }
  return { ...told, counts };
}
