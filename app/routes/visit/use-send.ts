import { useFetcher } from "react-router";
import type { SaveAnswer } from "../../ui/refused";

/** Sends JSON to an address of the visit; one thing at a time. */
export function useSend(action: string) {
  const fetcher = useFetcher<SaveAnswer & { saved?: string }>();
  const busy = fetcher.state !== "idle";
  return {
    busy,
    answer: fetcher.data,
    send(body: unknown) {
      if (busy) return;
      fetcher.submit(body as Parameters<typeof fetcher.submit>[0], {
        method: "post",
        action,
        encType: "application/json",
      });
    },
  };
}
