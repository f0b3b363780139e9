import { useEffect, useState } from "react";
import { spoken } from "../words";

/** The service worker, and the build that waits to take over. */

const languageOf = ({ scriptURL }: ServiceWorker): string | null =>
  new URL(scriptURL).searchParams.get("language");

/** Registers the worker after the page stands; tells of a newer build that waits. */
export function useNewBuild(): (() => void) | null {
  const [waiting, setWaiting] = useState<ServiceWorker | null>(null);
  useEffect(() => {
    if (!("serviceWorker" in navigator) || import.meta.env.DEV) return;
    let gone = false;
    // The member chose another language, and this page is in it already: nobody has to be asked.
    const ready = (worker: ServiceWorker) => {
      const { controller } = navigator.serviceWorker;
      if (controller && languageOf(controller) !== languageOf(worker)) worker.postMessage("take over");
      else setWaiting(worker);
    };
    const watch = (registration: ServiceWorkerRegistration) => {
      if (gone) return;
      if (registration.waiting && navigator.serviceWorker.controller) ready(registration.waiting);
      registration.addEventListener("updatefound", () => {
        const { installing } = registration;
        installing?.addEventListener("statechange", () => {
          if (installing.state === "installed" && navigator.serviceWorker.controller) ready(installing);
        });
      });
    };
    navigator.serviceWorker.register(`/worker.js?language=${spoken().language}`).then(watch, () => {
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
