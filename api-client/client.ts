import { randomUUID } from "node:crypto";
import createClient, { type Client } from "openapi-fetch";
import type { components, paths } from "./schema";

/** A small typed client of Pelagon's HTTP interface: `npm run api-client` makes the types. */

export type Problem = components["schemas"]["Problem"];
export type Api = Client<paths>;

/** Tries before "not now" is taken for an answer. */
const TRIES = 5;

/**
 * @param address of the server: "https://pelagon.example"
 * @example const { data } = await connect(address, token).GET("/basins")
 */
export function connect(address: string, token: string): Api {
  const client = createClient<paths>({ baseUrl: `${address}/api/v1`, fetch: patient });
  client.use({
    onRequest({ request }) {
      request.headers.set("Authorization", `Bearer ${token}`);
      // Sent again after a fault on the way, it counts once.
      if (request.method === "POST" && !request.headers.has("Idempotency-Key"))
        request.headers.set("Idempotency-Key", randomUUID());
      return request;
    },
  });
  return client;
}

/** Waits as long as it is told to, and asks again. */
async function patient(request: Request): Promise<Response> {
  for (let left = TRIES - 1; ; left--) {
    const answer = await fetch(request.clone());
    const wait = Number(answer.headers.get("Retry-After") ?? Number.NaN);
    if ((answer.status !== 429 && answer.status !== 503) || !Number.isFinite(wait) || left === 0)
      return answer;
    await new Promise((resolve) => setTimeout(resolve, 1000 * wait));
  }
}

interface Page<Item> {
  items: Item[];
  next: string | null;
}

/** Every item of a list, page after page. @param read asks for the page at a cursor */
export async function* everyItem<Item>(
  read: (cursor: string | undefined) => Promise<{ data?: Page<Item>; error?: Problem }>,
): AsyncGenerator<Item, void> {
  for (let cursor: string | undefined; ; ) {
    const { data, error } = await read(cursor);
    if (!data) throw new Error(error ? `${error.title} ${error.detail ?? ""}` : "no answer");
    yield* data.items;
    if (data.next === null) return;
    cursor = data.next;
  }
}
