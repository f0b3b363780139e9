import { useEffect, useState } from "react";

/** The service worker, and the build that waits to take over. */

/** Registers the worker after the page stands; tells of a newer build that waits. */
export function useNewBuild(): (() => void) | null {
  const [waiting, setWaiting] = useState<ServiceWorker | null>(null);
  useEffect(() => {
    if (!("serviceWorker" in navigator) || import.meta.env.DEV) return;
    let gone = false;
    const watch = (registration: ServiceWorkerRegistration) => {
      if (gone) return;
      if (registration.waiting && navigator.serviceWorker.controller) setWaiting(registration.waiting);
      registration.addEventListener("updatefound", () => {
        const { installing } = registration;
        installing?.addEventListener("statechange", () => {
          if (installing.state === "installed" && navigator.serviceWorker.controller) setWaiting(installing);
        });
      });
    };
    navigator.serviceWorker.register("/worker.js").then(watch, () => {
      // Refused, or out of reach: everything works as long as there is reach.
    });
    return () => {
      gone = true;
    };
  }, []);
  return waiting
    ? () => {
        navigator.serviceWorker.addEventListener("controllerchange", () => window.location.reload());
        waiting.postMessage("take over");
      }
    : null;
}
