import { useCallback, useRef } from "react";
import { v7 as uuid } from "uuid";

/**
 * A key for one write, made on this device when it is first asked for. The same write sent twice
 * carries the same key, so it counts once; when `after` changes (the write has landed) the next one
 * gets a new key.
 */
export function useClientId(after: unknown): () => string {
  const kept = useRef<{ after: unknown; id: string } | null>(null);
  return useCallback(() => {
    if (kept.current === null || kept.current.after !== after) kept.current = { after, id: uuid() };
    return kept.current.id;
  }, [after]);
}
