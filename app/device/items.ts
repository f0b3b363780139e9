import type { DeviceStore } from "./database";

/** Pieces of the bundle, and pages as they were last seen. */

/** What lies here under a key; null when nothing does. */
export async function kept<T>(store: DeviceStore, key: string): Promise<T | null> {
  const item = await store.items.get(key);
  return item ? (item.value as T) : null;
}

/** Keeps a page as it was just told by the server; the bundle's next digest will differ. */
export const keep = (store: DeviceStore, key: string, value: unknown): Promise<unknown> =>
  store.items.put({ key, digest: "", value, at: new Date() }).catch(() => null);
