import { parse } from "devalue";
import { v7 as uuid } from "uuid";
import { type CountState, type KeptCount, NOTHING_WRITTEN, seenOf, type VisitCommands } from "#core";
import { enqueue, isCountOf } from "./outbox";
import { deviceStore } from "./store";
import { drain } from "./sync";
import type { SyncAnswer } from "./take-commands.server";

/** A count under way goes the outbox's way like everything else that is given to a visit. */

export interface CountKept {
  /** How the server stands to it: it has the count, has not answered yet, or will not take it. */
  server: "has" | "silent" | "refuses";
  /** The copy that stands, which may be another screen's; null where nobody has told. */
  stands: CountState | null;
}

/** Keeps a copy of a count here and sends it; asked again with the same copy, it is sent again where it has to be. */
export async function keepCount(visitId: string, count: VisitCommands["count"]): Promise<CountKept> {
  // One that came back from where it is kept says when that was; that is no part of it.
  const { methodId, drops, ahead, idle, sample, holder, term, sequence } = count;
  const given = { methodId, drops, ahead, idle, sample, holder, term, sequence };
  const store = await deviceStore();
  const here = store && (await enqueue(store, visitId, { name: "count", given }).catch(() => null));
  if (!store || !here) return sendAlone(visitId, given);
  await drain();
  const isOf = (one: Parameters<typeof isCountOf>[0]) => isCountOf(one, given.methodId);
  const stands = (await store.visits.get(visitId))?.written.counts[given.methodId] ?? null;
  if (await store.waiting.where("visitId").equals(visitId).filter(isOf).count())
    return { server: "silent", stands };
  if (await store.refused.where("visitId").equals(visitId).filter(isOf).count())
    return { server: "refuses", stands };
  return { server: "has", stands };
}

const SILENT_MS = 10_000;

/** Where nothing can be kept here, the server is asked as the outbox would ask it. */
async function sendAlone(visitId: string, given: VisitCommands["count"]): Promise<CountKept> {
  const at = new Date();
  const made = { device: uuid(), sequence: 0, at, seen: seenOf(NOTHING_WRITTEN) };
  try {
    const answer = await fetch("/sync", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ sentAt: at, commands: [{ id: uuid(), name: "count", visitId, given, made }] }),
      redirect: "manual",
      signal: AbortSignal.timeout(SILENT_MS),
    });
    if (!answer.ok) return { server: answer.status >= 500 ? "silent" : "refuses", stands: null };
    const { counts, results } = parse(await answer.text()) as SyncAnswer;
    const stands: KeptCount | undefined = counts[0]?.stands;
    return stands
      ? { server: "has", stands }
      : { server: results.length > 0 ? "refuses" : "silent", stands: null };
  } catch {
    return { server: "silent", stands: null };
  }
}
