import { useCallback, useRef } from "react";
import { v7 as uuid } from "uuid";

/**
 * A key for one write, made on this device when it is first asked for. The same content sent twice carries
 * the same key, so it counts once; other content is another write. When `after` changes (the write has
 * landed) the next one gets a new key, whatever it holds.
 * @example const id = useClientId(saved?.id); send({ id: id(sent), ...sent });
 */
export function useClientId(after: unknown): (content?: unknown) => string {
  const kept = useRef<{ after: unknown; content: string; id: string } | null>(null);
  return useCallback(
    (content) => {
      const text = JSON.stringify(content ?? null);
      if (kept.current === null || kept.current.after !== after || kept.current.content !== text)
        kept.current = { after, content: text, id: uuid() };
      return kept.current.id;
    },
    [after],
  );
}
