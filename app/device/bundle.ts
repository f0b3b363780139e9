import { millisecondsInDay } from "date-fns/constants";
import { parse } from "devalue";
import type { Brought, Written } from "#core";
import type { Bundle, BundleItem } from "./bundle.server";
import type { DeviceStore, KeptItem } from "./database";
import { noteContact } from "./forget";
import { memberBy, type PackedBrought, unpacked } from "./outbox";
import { deviceStore } from "./store";
import { putVisit } from "./sync";

/** The day's bundle: fetched when there is reach, taken in whole or not at all. */

export interface BundleState {
  at: Date;
  today: string;
}

const STATE = "bundle";
const OPENED = "opened";
/** A bundle younger than this is fetched again only when it is asked for. */
const FRESH_MS = 5 * 60_000;
const SILENT_MS = 60_000;
/** Basins opened recently that are taken along besides the round's. */
const MOST_OPENED = 12;
/** What no bundle names any more lies here this long. */
const KEPT_DAYS = 14;

export async function bundleState(store: DeviceStore): Promise<BundleState | null> {
  const kept = await store.settings.get(STATE);
  return kept ? (kept.value as BundleState) : null;
}

/** A basin that was opened is taken along from now on. */
export async function rememberBasin(store: DeviceStore, id: string): Promise<void> {
  const kept = await store.settings.get(OPENED);
  const before = Array.isArray(kept?.value) ? (kept.value as string[]) : [];
  const value = [id, ...before.filter((one) => one !== id)].slice(0, MOST_OPENED);
  await store.settings.put({ key: OPENED, value });
}

/** Fetches what changed since, unless that was just done. @returns whether it lies here fresh */
export async function takeBundle(force = false): Promise<boolean> {
  const store = await deviceStore();
  if (!store) return false;
  const state = await bundleState(store);
  if (!force && state && Date.now() - state.at.getTime() < FRESH_MS) return true;
  try {
    const have: Record<string, string> = {};
    await store.items.each(({ key, digest }) => {
      if (digest) have[key] = digest;
    });
    const opened = await store.settings.get(OPENED);
    const answer = await fetch("/bundle", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ have, basins: opened?.value ?? [] }),
      redirect: "manual",
      signal: AbortSignal.timeout(SILENT_MS),
    });
    if (!answer.ok) return false;
    const bundle = parse(await answer.text()) as Bundle;
    await takeIn(store, bundle);
    await noteContact(store, { at: new Date(), forgetDays: bundle.forgetDays });
    return true;
  } catch {
    // Cut short, or nobody there: what lies here stays as it is.
    return false;
  }
}

/** Takes a bundle in: every piece is read before any is written, and all are written together. */
async function takeIn(store: DeviceStore, bundle: Bundle): Promise<void> {
  const at = new Date();
  const fresh = bundle.items.flatMap((item) => (item.text === undefined ? [] : [pieceOf(item, at)]));
  await store.transaction("rw", [store.items, store.visits, store.waiting, store.settings], async () => {
    await store.items.bulkPut(fresh);
    for (const { key, value } of fresh) {
      if (!key.startsWith("visit ")) continue;
      const { brought: packed, written } = value as { brought: PackedBrought; written: Written };
      const brought: Brought | null = await unpacked(store, packed);
      if (brought) await putVisit(store, brought, written, await memberBy(store));
    }
    const named = new Set(bundle.items.map(({ key }) => key));
    const old = at.getTime() - KEPT_DAYS * millisecondsInDay;
    await store.items.filter((item) => !named.has(item.key) && item.at.getTime() < old).delete();
    await store.settings.put({ key: STATE, value: { at, today: bundle.today } satisfies BundleState });
  });
}

const pieceOf = ({ key, digest, text }: BundleItem, at: Date): KeptItem => ({
  key,
  digest,
  value: parse(text ?? "null"),
  at,
});
