import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";

/**
 * A key for one write, made on this device. The same write sent twice carries the same key, so it
 * counts once; when `after` changes (the write has landed) a new key is made.
 */
export function useClientId(after: unknown): string {
  const [id, setId] = useState("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: `after` is what asks for a new key
  useEffect(() => setId(uuid()), [after]);
  return id;
}
