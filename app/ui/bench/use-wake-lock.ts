import { useEffect } from "react";

/** Keeps the screen lit while a count runs, where the device can. */
export function useWakeLock(active: boolean): void {
  useEffect(() => {
    if (!active || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let ended = false;
    const take = async () => {
      if (document.visibilityState !== "visible") return;
      try {
        lock = await navigator.wakeLock.request("screen");
        if (ended) await lock.release();
      } catch {
        // A low battery may refuse it; the count is safe either way.
      }
    };
    void take();
    // The lock falls when the page is hidden.
    document.addEventListener("visibilitychange", take);
    return () => {
      ended = true;
      document.removeEventListener("visibilitychange", take);
      void lock?.release();
    };
  }, [active]);
}
