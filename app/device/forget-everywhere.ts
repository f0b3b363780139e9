import Dexie from "dexie";
import { membersHere, storeName } from "./database";
import { forgetOverdue } from "./forget";
import { memberHere } from "./member";
import { inStoreOf } from "./unsent";

/**
 * At a start: the same in every store of this browser, whoever's it is. What lies here of somebody who has not been
 * here since goes after their firm's days, and their store with it unless something in it was not sent.
 */
export async function forgetEverywhere(now = new Date()): Promise<void> {
  for (const memberId of await membersHere()) {
    if (memberId === memberHere()) continue;
    const empty = await inStoreOf(memberId, async (store) => {
      if (!(await forgetOverdue(store, now))) return false;
      return (await store.waiting.count()) + (await store.refused.count()) === 0;
    }).catch(() => false);
    if (empty) await Dexie.delete(storeName(memberId)).catch(() => {});
  }
}
