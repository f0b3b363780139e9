import { setTimeout as delay } from "node:timers/promises";
import { parse } from "devalue";
import { UNSAFE_decodeViaTurboStream as decodeViaTurboStream } from "react-router";
import { v7 as uuid } from "uuid";
import type { SyncAnswer } from "../app/device/take-commands.server";
import { faultSentence } from "../app/words";
import { PASSWORD } from "./firm";

/** How often "not now" is taken for an answer that is still to come. */
const COMES_BACK = 4;

/**
 * A browser's side of HTTP against the production build, as one signed-in member.
 * @param comesBack asks again when told "not now", after the time it was told, as a device does: a machine that
 *   does other things too may keep the database from answering in time. Not where "not now" is what is looked for.
 */
export function clientOf(address: string, { comesBack = true } = {}) {
  let cookie = "";
  const asked = async (path: string, init: RequestInit): Promise<Response> => {
    for (let left = comesBack ? COMES_BACK : 0; ; left--) {
      const answer = await fetch(`${address}${path}`, { redirect: "manual", ...init });
      if (answer.status !== 503 || left === 0) return answer;
      await delay(Number(answer.headers.get("Retry-After") ?? 1) * 1000);
    }
  };
  const post = (
    path: string,
    body: URLSearchParams | FormData | string,
    headers: Record<string, string> = {},
  ): Promise<Response> =>
    asked(path, { method: "POST", body, headers: { Origin: address, Cookie: cookie, ...headers } });
  const postJson = (path: string, body: unknown, headers: Record<string, string> = {}) =>
    post(path, typeof body === "string" ? body : JSON.stringify(body), {
      "Content-Type": "application/json",
      ...headers,
    });
  const get = (path: string, headers: Record<string, string> = {}) =>
    asked(path, { headers: { Cookie: cookie, ...headers } });
  /** A new session's cookie; the client itself stays who it was. */
  const signedIn = async (email: string, password = PASSWORD): Promise<string> => {
    const answer = await post("/sign-in", new URLSearchParams({ email, password }), { Cookie: "" });
    return (answer.headers.get("set-cookie") ?? "").split(";")[0] ?? "";
  };
  return {
    post,
    postJson,
    get,
    signedIn,
    async as(email: string, password = PASSWORD) {
      cookie = await signedIn(email, password);
    },
  };
}

export type Client = ReturnType<typeof clientOf>;

/** A count of drops, sent as a device sends it. */
export const postCount = (http: Pick<Client, "postJson">, visitId: string, given: object) => {
  const seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
  const at = new Date();
  return http.postJson("/sync", {
    sentAt: at,
    commands: [
      {
        id: uuid(),
        name: "count",
        visitId,
        given: { methodId: "total-alkalinity", sample: 25, ...given },
        made: { device: "a phone", sequence: 1, at, seen },
      },
    ],
  });
};

/** The copy of a count that stands after it was sent. */
export async function countAfter(http: Pick<Client, "postJson">, visitId: string, given: object) {
  const told = parse(await (await postCount(http, visitId, given)).text()) as SyncAnswer;
  return told.counts[0]?.stands;
}

/** The fault out of a data answer, as the page's own sentence. */
export async function faultText(answer: Response): Promise<string> {
  const { data } = await dataOf<{ data: { fault: Parameters<typeof faultSentence>[0] } }>(answer);
  return faultSentence(data.fault);
}

/** What a loader or action answered with, from its `.data` address. */
export async function dataOf<T>(answer: Response): Promise<T> {
  if (!answer.body) throw new Error("no answer");
  return (await decodeViaTurboStream(answer.body, globalThis)).value as T;
}
