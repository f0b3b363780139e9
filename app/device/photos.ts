import { deviceStore } from "./store";

/** A photo that waits here to be sent; null when it does not. */
export async function photoHere(id: string): Promise<Blob | null> {
  const store = await deviceStore();
  return (await store?.photos.get(id))?.blob ?? null;
}
