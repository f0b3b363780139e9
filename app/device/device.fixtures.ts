import "fake-indexeddb/auto";
import { stringify } from "devalue";
import {
  afterCommand,
  type Brought,
  type CommandName,
  commandOf,
  decide,
  InputFault,
  NOTHING_WRITTEN,
  type Written,
} from "#core";
import { faultView } from "../fault";
import type { DeviceStore } from "./database";
import { setMemberHere } from "./member";
import { deviceStore } from "./store";
import { OURS_HEADER, othersWork } from "./whose";

globalThis.navigator ??= {} as Navigator;

/** A device without a browser, and a server that answers it out of its head. */

/** Keys are properties of its own, as in a browser. */
class Storage {
  getItem(key: string): string | null {
    return (this as unknown as Record<string, string>)[key] ?? null;
  }
  setItem(key: string, value: string): void {
    (this as unknown as Record<string, string>)[key] = value;
  }
  removeItem(key: string): void {
    delete (this as unknown as Record<string, string>)[key];
  }
}
globalThis.localStorage = new Storage() as unknown as typeof localStorage;

interface Waited {
  id: string;
  name: CommandName;
  visitId: string;
  given: never;
  made: { seen: never };
}

/** How the server behaves when it is asked next; it goes back to answering by itself. */
export type Mood =
  | "answers"
  | "silent"
  | "half"
  | "portal"
  | "broken"
  | "signed-out"
  | "others"
  | "busy"
  | "reader"
  | "foreign-403"
  | "too-large"
  | "answer-lost";

export class FakeServer {
  written: Written = NOTHING_WRITTEN;
  moods: Mood[] = [];
  asked = 0;
  readonly answers = new Map<string, object>();

  constructor(readonly brought: Brought) {}

  readonly fetch = async (_: unknown, init?: RequestInit): Promise<Response> => {
    this.asked += 1;
    const mood = this.moods.shift() ?? "answers";
    if (mood === "silent") throw new TypeError("Failed to fetch");
    if (mood === "broken") return new Response("", { status: 500 });
    if (mood === "portal") return new Response("<html>Welcome to the guest network</html>");
    if (mood === "signed-out")
      return Object.defineProperty(new Response(), "type", { value: "opaqueredirect" });
    if (mood === "too-large") return new Response("", { status: 413, headers: { [OURS_HEADER]: "1" } });
    if (mood === "busy") return new Response("", { status: 429 });
    if (mood === "reader")
      return new Response("Readers change nothing", { status: 403, headers: { [OURS_HEADER]: "1" } });
    if (mood === "foreign-403") return new Response("<html>Buy a ticket</html>", { status: 403 });
    if (mood === "others") return othersWork("somebody", "else") ?? new Response("", { status: 500 });
    const { commands } = JSON.parse(String(init?.body)) as { commands: Waited[] };
    const results = commands.map((command) => this.take(command));
    const counts = commands.flatMap(({ name, visitId, given }) => {
      const { methodId } = given as { methodId?: string };
      const stands = methodId === undefined ? undefined : this.written.counts[methodId];
      return name === "count" && stands ? [{ visitId, methodId, stands }] : [];
    });
    // As the server does: of a visit of which but counts came, the counts are told.
    const isCounted = counts.length === commands.length;
    const visits = isCounted ? [] : [{ brought: this.brought, written: this.written }];
    const text = stringify({ results, counts, visits });
    if (mood === "answer-lost") throw new TypeError("Failed to fetch");
    return new Response(mood === "half" ? text.slice(0, text.length / 2) : text);
  };

  private take({ id, name, visitId, given, made }: Waited): object {
    const before = this.answers.get(id);
    if (before) return before;
    const command = commandOf(name, given, {
      id,
      by: { id: this.brought.visit.memberId, name: this.brought.visit.memberName },
      at: new Date(),
      seen: made.seen,
    });
    let result: object;
    try {
      this.written = afterCommand(this.written, decide(this.brought, this.written, command));
      result = { id, visitId, answer: null };
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
      result = { id, visitId, fault: faultView(fault) };
    }
    this.answers.set(id, result);
    return result;
  }
}

/** A store with a visit and who is signed in, of a member of its own. */
export async function storeWith(memberId: string, brought: Brought): Promise<DeviceStore> {
  setMemberHere(memberId);
  const store = await deviceStore(memberId);
  if (!store) throw new Error("no store");
  await store.items.put({
    key: "home",
    digest: "",
    at: new Date(),
    value: { memberId: brought.visit.memberId, member: brought.visit.memberName },
  });
  await store.visits.put({
    id: brought.visit.id,
    basinId: brought.visit.basinId,
    brought,
    written: NOTHING_WRITTEN,
    serverVersion: 0,
  });
  return store;
}
