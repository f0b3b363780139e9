import { millisecondsInDay } from "date-fns/constants";
import type { DeviceStore } from "./database";

/** When this device last heard from the server, and after how many days without it the firm's bundle goes. */
export interface Contact {
  at: Date;
  /** Null where the firm says nothing of it. */
  forgetDays: number | null;
}

const CONTACT = "contact";

export const noteContact = (store: DeviceStore, contact: Contact): Promise<unknown> =>
  store.settings.put({ key: CONTACT, value: contact });

/**
 * Forgets what lies here of the firm once the days that it gives have passed without contact. What was not
 * sent stays, and so does the visit that it belongs to.
 * @returns whether it was so
 */
export async function forgetOverdue(store: DeviceStore, now = new Date()): Promise<boolean> {
  const kept = await store.settings.get(CONTACT);
  const { at, forgetDays } = (kept?.value ?? { forgetDays: null }) as Contact;
  if (forgetDays === null || now.getTime() - at.getTime() <= forgetDays * millisecondsInDay) return false;
  const { visits, waiting, refused, items, settings } = store;
  await store.transaction("rw", [visits, waiting, refused, items, settings], async () => {
    const unsent = new Set(
      [...(await waiting.toArray()), ...(await refused.toArray())].map(({ visitId }) => visitId),
    );
    await visits.filter(({ id }) => !unsent.has(id)).delete();
    await items.clear();
    await settings.bulkDelete(["bundle", "opened", CONTACT]);
  });
  return true;
}
