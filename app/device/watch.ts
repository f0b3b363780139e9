import { liveQuery } from "dexie";
import type { KeptVisit } from "./database";
import { deviceStore } from "./store";

/** Tells of a visit whenever what lies here of it changes: by this page, by another, or by what the server told. */
export function watchVisit(id: string, tell: (visit: KeptVisit) => void): () => void {
  let stop = () => {};
  let gone = false;
  void deviceStore().then((store) => {
    if (!store || gone) return;
    const seen = liveQuery(() => store.visits.get(id)).subscribe({
      next: (visit) => visit && tell(visit),
      error: () => {},
    });
    stop = () => seen.unsubscribe();
  });
  return () => {
    gone = true;
    stop();
  };
}
