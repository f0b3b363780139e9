import { useFetcher } from "react-router";
import type { SaveAnswer } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useClientId } from "../../ui/use-client-id";

/** Sends JSON to an address of the visit under a key of its own; one thing at a time. */
export function useSend(action: string) {
  const fetcher = useFetcher<SaveAnswer & { saved?: string }>();
  const busy = fetcher.state !== "idle";
  const id = useClientId(fetcher.data?.saved);
  return {
    busy,
    answer: fetcher.data,
    send(body: object) {
      if (busy) return;
      void submitJson(fetcher, { id: id(body), ...body }, action);
    },
  };
}
