import { useCallback, useEffect, useState } from "react";

/** A setting of this device. Read after the first paint, so that the server's page and the first one here agree. */
export function useStored<T>(
  key: string,
  otherwise: T,
  is: (value: unknown) => value is T,
): [T, (value: T) => void] {
  const [value, setValue] = useState(otherwise);
  useEffect(() => {
    const stored = readStored(key);
    if (is(stored)) setValue(stored);
  }, [key, is]);
  const set = useCallback(
    (next: T) => {
      setValue(next);
      try {
        localStorage.setItem(key, JSON.stringify(next));
      } catch {
        // Storage may be full or forbidden; the setting then lasts as long as the page.
      }
    },
    [key],
  );
  return [value, set];
}

export function readStored(key: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null");
  } catch {
    return null;
  }
}

/** Forgets what was kept on this device, once what it was for is in the book. */
export function useForgotten(key: string): void {
  useEffect(() => {
    try {
      localStorage.removeItem(key);
    } catch {
      // What cannot be written was not kept either.
    }
  }, [key]);
}
