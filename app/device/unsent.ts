import {
  DeviceStore,
  isNewer,
  type KeptPhoto,
  membersHere,
  type RefusedCommand,
  type Waiting,
} from "./database";
import { kept } from "./items";
import type { WorkFile } from "./work-file";

/** Work of whoever has used this browser that no server has: it is told of, and can be carried to an owner as a file. */

/** What of one member was not sent from here. */
export interface Unsent {
  memberId: string;
  /** Empty where the server never told. */
  name: string;
  firm: string;
  entries: number;
  /** The first of them. */
  since: Date;
}

/** Works on somebody's store, whoever is here; null where a newer version has made it. */
export async function inStoreOf<T>(
  memberId: string,
  work: (store: DeviceStore) => Promise<T>,
): Promise<T | null> {
  const store = new DeviceStore(memberId);
  try {
    if (await isNewer(store.name)) return null;
    await store.open();
    return await work(store);
  } finally {
    store.close();
  }
}

/** What waits and what was refused, in the order in which it was given. */
async function unsentIn(store: DeviceStore): Promise<(Waiting | RefusedCommand)[]> {
  const all = [...(await store.refused.toArray()), ...(await store.waiting.orderBy("sequence").toArray())];
  return all.sort((a, b) => (a.sequence ?? 0) - (b.sequence ?? 0));
}

interface Home {
  member: string;
  firm: string;
}

/** Everybody's work in this browser that was not sent; of one member only where that is asked for. */
export async function unsentHere(only?: string): Promise<Unsent[]> {
  const found: Unsent[] = [];
  for (const memberId of await membersHere()) {
    if (only !== undefined && memberId !== only) continue;
    const unsent = await inStoreOf(memberId, async (store) => {
      const all = await unsentIn(store);
      const home = await kept<Home>(store, "home");
      const since = new Date(Math.min(...all.map(({ made }) => made.at.getTime())));
      return { memberId, name: home?.member ?? "", firm: home?.firm ?? "", entries: all.length, since };
    }).catch(() => null);
    if (unsent && unsent.entries > 0) found.push(unsent);
  }
  return found;
}

/** Somebody's unsent work as a file that an owner of the firm takes in; nothing of it is removed here. */
export const workFileOf = (memberId: string): Promise<WorkFile | null> =>
  inStoreOf(memberId, async (store) => {
    const home = await kept<Home>(store, "home");
    const photos = await Promise.all((await store.photos.toArray()).map(photoInFile));
    return {
      format: "pelagon.work",
      version: 1,
      member: { id: memberId, name: home?.member ?? "" },
      firm: home?.firm ?? "",
      savedAt: new Date().toISOString(),
      commands: (await unsentIn(store)).map(({ id, name, visitId, given, made, sequence }) => ({
        id,
        name,
        visitId,
        given,
        made: { ...made, at: made.at.toISOString(), sequence: sequence ?? 0 },
      })),
      photos: Object.fromEntries(photos),
    };
  });

async function photoInFile({ id, blob }: KeptPhoto): Promise<[string, string]> {
  const bytes = new Uint8Array(await blob.arrayBuffer());
  return [id, btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(""))];
}
