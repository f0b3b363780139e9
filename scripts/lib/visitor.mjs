// Somebody who is signed in and asks a web server as pages and devices do.
import { randomUUID } from "node:crypto";

/** Who works in the demo. */
export const TECHNICIANS = ["jory", "tamsin", "wren", "ines"].map((name) => `${name}@fennmoor.example`);
const DEMO_PASSWORD = "orrin-vale-demo";
/** An answer that takes longer is given up. Milliseconds */
const PATIENCE_MS = 12_000;
const NOTHING_SEEN = { version: 0, plans: 0, readings: [], looked: false, sampled: false };

/**
 * Signs in, and asks as a page does: `ask(path)` reads, `ask(path, body)` sends JSON.
 * @returns the way to ask, with the headers that let in as `ask.headers`
 */
export async function signedIn(address, email = "jory@fennmoor.example", password = DEMO_PASSWORD) {
  const answer = await fetch(`${address}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers: { Origin: address },
    body: new URLSearchParams({ email, password }),
  });
  const cookie = (answer.headers.get("set-cookie") ?? "").split(";")[0];
  if (!cookie) throw new Error(`${email} cannot sign in: ${answer.status}`);
  const headers = { Origin: address, Cookie: cookie };
  const ask = (path, body) =>
    fetch(`${address}${path}`, {
      method: body === undefined ? "GET" : "POST",
      redirect: "manual",
      headers: body === undefined ? headers : { ...headers, "Content-Type": "application/json" },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
  return Object.assign(ask, { headers, address });
}

/** Reads an answer to its end. @throws Error unless it is 200 */
export async function page(ask, path) {
  const answer = await ask(path);
  const text = await answer.text();
  if (answer.status !== 200) throw new Error(`${path}: ${answer.status}`);
  return text;
}

/** The basins that this person may call at. */
export const basinsOf = async (ask) => JSON.parse(await page(ask, "/places"));

/** Begins a visit at a basin, or finds the one under way. @returns its id */
export async function startVisit(ask, basinId) {
  const answer = await fetch(`${ask.address}/basins/${basinId}`, {
    method: "POST",
    redirect: "manual",
    headers: ask.headers,
    body: new URLSearchParams({ id: randomUUID() }),
  });
  return answer.headers.get("location")?.split("/")[2];
}

let sequence = 0;
/** What a device sends for a drop that was counted at a visit. */
export function countOf(visitId) {
  sequence = (sequence + 1) % 1_000_000;
  const drops = { drops: sequence % 500, sample: 25, holder: "a", term: 0, sequence };
  const at = new Date();
  return {
    sentAt: at,
    commands: [
      {
        id: randomUUID(),
        name: "count",
        visitId,
        given: { methodId: "total-alkalinity", ...drops },
        made: { device: "a phone", sequence, at, seen: NOTHING_SEEN },
      },
    ],
  };
}

/** Saves a drop. @throws Error unless it was taken */
export async function saveCount(ask, visitId) {
  const answer = await ask("/sync", countOf(visitId));
  const text = await answer.text();
  if (answer.status !== 200) throw new Error(`a count: ${answer.status} ${text.slice(0, 200)}`);
}

/** The Round, and a drop that is counted, as a load of many at once has them. */
export const roundRequest = ({ headers }) => ({ method: "GET", path: "/", headers });
export const countRequest = ({ headers }, visitId) => ({
  method: "POST",
  path: "/sync",
  headers: { ...headers, "Content-Type": "application/json" },
  setupRequest: (request) => ({ ...request, body: JSON.stringify(countOf(visitId)) }),
});
