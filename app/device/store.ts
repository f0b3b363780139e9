import Dexie from "dexie";
import { DeviceStore, isNewer, storeName } from "./database";
import { forgetDrafts } from "./drafts";
import { forgetOverdue } from "./forget";
import { removeCode } from "./lock";
import { memberHere, memberOfDevice, setMemberHere } from "./member";

/** The store of whoever is signed in here: opened once, and forgotten whole. */

let opened: { memberId: string; store: Promise<DeviceStore | null> } | null = null;

/** Why this device keeps nothing, where it does not. */
export type NoStore = "denied" | "newer" | null;
let why: NoStore = null;
export const whyNoStore = (): NoStore => why;

/**
 * The store of whoever is signed in here; null where there is none to be had: nobody signed in, a private
 * window, storage denied or full, or a store that a newer version has made.
 */
export function deviceStore(memberId = memberHere()): Promise<DeviceStore | null> {
  if (memberId === null || typeof indexedDB === "undefined") return Promise.resolve(null);
  if (opened?.memberId === memberId) return opened.store;
  opened = { memberId, store: openStore(memberId) };
  return opened.store;
}

async function openStore(memberId: string): Promise<DeviceStore | null> {
  try {
    const store = new DeviceStore(memberId);
    if (await isNewer(store.name)) {
      why = "newer";
      return null;
    }
    await store.open();
    await forgetOverdue(store);
    why = null;
    return store;
  } catch {
    why = "denied";
    return null;
  }
}

/** Forgets everything that lies here for a member. */
export async function wipe(memberId: string): Promise<void> {
  const store = await deviceStore(memberId);
  opened = null;
  store?.close();
  await Dexie.delete(storeName(memberId)).catch(() => {});
  if (memberOfDevice() !== memberId) return;
  setMemberHere(null);
  removeCode();
  forgetDrafts();
}

const DEVICE = "pelagon.device";

/** The name of this device, made once; commands say where they were given. */
export async function deviceName(store: DeviceStore): Promise<string> {
  const kept = await store.settings.get(DEVICE);
  if (typeof kept?.value === "string") return kept.value;
  const value = crypto.randomUUID();
  await store.settings.put({ key: DEVICE, value });
  return value;
}
