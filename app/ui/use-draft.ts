import { useCallback, useEffect, useState } from "react";
import { readStored } from "./use-stored";

/** Text that is being typed, kept on this device until it is forgotten. */
export function useDraft(key: string, otherwise: string): [string, (text: string) => void] {
  const [text, setText] = useState(otherwise);
  useEffect(() => {
    const kept = readStored(key);
    if (typeof kept === "string") setText(kept);
  }, [key]);
  const type = useCallback(
    (next: string) => {
      setText(next);
      try {
        localStorage.setItem(key, JSON.stringify(next));
      } catch {
        // Storage may be full or forbidden; the text then lasts as long as the page.
      }
    },
    [key],
  );
  return [text, type];
}

/** Forgets a draft once what it was for is in the book. */
export function useForgotten(key: string): void {
  useEffect(() => {
    try {
      localStorage.removeItem(key);
    } catch {
      // What cannot be written was not kept either.
    }
  }, [key]);
}

/** Under which the note of a visit waits on this device. */
export const noteKey = (visitId: string): string => `pelagon.note.${visitId}`;
